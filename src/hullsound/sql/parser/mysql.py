"""Statements of MySQL and MariaDB."""

from typing import ClassVar, Final

from hullsound.sql.lexer import END, STRING
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.psm import PsmParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Assign,
    CreateRoutine,
    CreateTrigger,
    Execute,
    Name,
    Node,
    OtherStatement,
    Parts,
    Routine,
    Statement,
)

_CHARACTERISTICS: Final = frozenset(
    ("COMMENT", "LANGUAGE", "NOT", "DETERMINISTIC", "CONTAINS", "NO", "READS", "MODIFIES", "SQL", "AGGREGATE", "USING")
)
_SET_SCOPES: Final = frozenset(("GLOBAL", "SESSION", "LOCAL", "PERSIST", "PERSIST_ONLY"))
_SET_OTHERS: Final = frozenset(
    ("PASSWORD", "ROLE", "NAMES", "CHARACTER", "CHARSET", "TRANSACTION", "RESOURCE", "DEFAULT", "STATEMENT")
)
_EVENT_WORDS: Final = frozenset(("ENABLE", "DISABLE", "ON", "COMMENT", "PRESERVE", "NOT"))


class MysqlParser(PsmParser):
    """Reads one statement of a script."""

    cross_takes_condition = True
    values_open_query = False
    openers: ClassVar = {
        **{word: ExpressionParser.openers[word] for word in ("CASE", "CAST", "EXISTS", "NOT", "NULL", "TRUE", "FALSE", "EXTRACT",
                                                             "DATE", "TIMESTAMP")},
        "TIME": SpecialFormParser._typed_literal,
        "INTERVAL": SpecialFormParser._value_interval,
        "CONVERT": SpecialFormParser._convert,
        "BINARY": SpecialFormParser._binary,
        "MATCH": SpecialFormParser._full_text,
        "NEXT": SpecialFormParser._next_value,
        "PREVIOUS": SpecialFormParser._next_value,
        **dict.fromkeys(("ANY", "SOME", "ALL"), SpecialFormParser._quantified),
    }  # fmt: skip
    code_kinds: ClassVar = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER", "EVENT"))

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        first = self.pos
        if self.words[first] in _SCRIPT_ONLY:
            self.pos += 1
            return self.whole_statement(first, self._words(first))
        if (
            self.words[first] in ("BEGIN", "IF", "CASE", "LOOP", "WHILE", "REPEAT", "FOR")
            or self.words[first + 1] == ":"
        ):
            return self.anonymous_block()
        node = self.one_statement()
        if isinstance(node, Statement):
            return node
        return self.other_statement(first, self._words(first), node.routine if isinstance(node, Execute) else ())

    def _words(self, first: int) -> str:
        word = self.words[first].lower()
        following = self.words[first + 1].lower()
        return (
            f"{word} {following}"
            if word in ("set", "lock", "unlock", "load", "start") and following.isalpha()
            else word
        )

    def set_option(self) -> Node:
        """Read SET of variables, of system variables by scope, and of names, roles and passwords."""
        first = self.expect("SET")
        word = self.words[self.pos]
        if (word in _SET_OTHERS and self.words[self.pos + 1] not in ("=", ":=")) or (
            word in _SET_SCOPES and self.words[self.pos + 1] == "TRANSACTION"
        ):  # fmt: skip
            if word == "STATEMENT":
                self.step_to(frozenset(("FOR",)))
                self.expect("FOR")
                self.clause("set-statement", first)
                return self.one_statement()
            return self.whole_statement(first, f"set {word}")
        while True:
            if self.words[self.pos] in _SET_SCOPES and self.words[self.pos + 1] not in ("=", ":="):
                self.clause(f"set-{self.words[self.pos].lower().replace('_', '-')}", self.pos)
                self.pos += 1
            elif self.words[self.pos] in _SET_OTHERS and self.words[self.pos + 1] not in ("=", ":="):
                self.pos += 1
                self.expression()
                if not self.accept(","):
                    return self.other_statement(first, "set names")
                continue
            elif (scope := self.words[self.pos].partition(".")[0].removeprefix("@@")) in _SET_SCOPES:
                self.clause(f"set-{scope.lower().replace('_', '-')}", self.pos)
            target = self._setting() if self.words[self.pos + 1] in ("=", ":=", ".") else self.operand()
            if not self.accept_any(("=", ":=")):
                self.fail("'='")
            if self.words[self.pos] in ("ON", "ALL", "DEFAULT", "BINARY", "ROW", "SYSTEM") and self.words[self.pos + 1] in (
                ",", ";", "",
            ):  # fmt: skip
                self.pos += 1
                value: Node = target
            else:
                value = self.expression()
            node = self._noted_assignment(first, target, value)
            if not self.accept(","):
                return node

    def _setting(self) -> Node:
        first = self.pos
        node = Name(
            first, first, self.qualified_name() if self.words[first] not in self.reserved else (self.any_word(),)
        )
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _noted_assignment(self, first: int, target: Node, value: Node) -> Node:
        node = Assign(first, self.pos, target, value)
        self.nodes.append(node)
        return node

    # --- code ---

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        word = self.words[self.pos]
        if "ALTER" in modifiers or self.words[first] == "ALTER":
            return self._named_rest(first, f"ALTER {self._kind()}") if word != "EVENT" else self._event(first)
        if word == "TRIGGER":
            return self._trigger(first)
        if word == "EVENT":
            return self._event(first)
        return self._routine(first, word.lower())

    def _routine(self, first: int, form: str) -> Statement:
        node = self.routine_head(form)
        if self.accept("RETURNS"):
            node.return_at = self.pos - 1
            node.returns = self.routine_type()
        if self.accept("SONAME"):
            self.pos += 1
            return self.other_statement(first, "create function soname", node.name)
        self._characteristics(node)
        if self.kinds[self.pos] == STRING:
            return self._external_body(first, node)
        self.routine_body(node)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _external_body(self, first: int, node: Routine) -> Statement:
        self.pos += 1
        self.clause("external-language", first)
        node.last = self.pos
        self.nodes.append(node)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _characteristics(self, node: Routine) -> None:
        while self.words[self.pos] in _CHARACTERISTICS or self.at("SQL", "SECURITY"):
            first = self.pos
            word = self.words[first]
            self.pos += 1
            if word == "COMMENT":
                self.pos += 1
            elif word == "LANGUAGE":
                language = self.any_word()
                node.options.append(f"LANGUAGE {language}")
                if language != "SQL" and self.accept("AS"):
                    return
            elif word == "SQL":
                self.expect("SECURITY")
                if self.any_word() == "INVOKER":
                    self.clause("invoker-rights", first)
            elif word in ("NO", "CONTAINS", "READS", "MODIFIES"):
                self.accept("SQL")
                self.accept("DATA")
            elif word == "USING":
                self.skip_parenthesized()
            node.options.append(word)

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        timing = self.trigger_timing()
        events, columns = self.trigger_events()
        self.expect("ON")
        table = self.qualified_name()
        self.accept("FOR", "EACH", "ROW")
        node = CreateTrigger(first, first, name, timing, events, columns, table, "row", {}, None, None, 0, False)
        if self.words[self.pos] in ("FOLLOWS", "PRECEDES"):
            self.pos += 1
            self.identifier()
            self.clause("trigger-order", self.pos - 2)
        node.body_at = self.pos
        node.block = self.one_statement()
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _event(self, first: int) -> OtherStatement:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        while self.words[self.pos] != "DO" and self.kinds[self.pos] != END:
            if self.accept("RENAME", "TO"):
                self.qualified_name()
            elif self.accept("SCHEDULE") or self.accept_any(("AT", "EVERY", "STARTS", "ENDS")):
                if self.words[self.pos - 1] in ("AT", "STARTS", "ENDS"):
                    self.expression()
                elif self.words[self.pos - 1] == "EVERY":
                    self.expression()
                    self.any_word()
            elif self.accept("COMMENT"):
                self.pos += 1
            else:
                self.any_word()
        if self.accept("DO"):
            self.one_statement()
        return self.other_statement(first, f"{self.words[first].lower()} event", name)

    # --- other statements ---

    def load_data(self) -> Node:
        first = self.pos
        self.pos += 1
        if not self.accept_any(("DATA", "XML")):
            if self.accept("INDEX", "INTO"):
                return self.whole_statement(first, "load index")
            self.fail("DATA")
        self.step_to(frozenset(("TABLE",)))
        self.expect("TABLE")
        table = self._insert_table()
        self.nodes.append(table)
        self.clause("load-data", first)
        return self.whole_statement(first, "load data", table.parts)

    def handler_statement(self) -> Node:
        first = self.pos
        self.pos += 1
        name: Parts = self.qualified_name()
        self.clause("handler", first)
        return self.whole_statement(first, "handler", name)

    def explain(self) -> Node:
        first = self.pos
        self.pos += 1
        while self.words[self.pos] in ("EXTENDED", "PARTITIONS", "ANALYZE") or self.at("FORMAT", "="):
            self.pos += 3 if self.at("FORMAT", "=") else 1
        if self.words[self.pos] in ("SELECT", "INSERT", "UPDATE", "DELETE", "REPLACE", "WITH", "(", "TABLE"):
            self.change_statement()
            return self.other_statement(first, "explain")
        return self.whole_statement(first, "explain")

    def do_expressions(self) -> Node:
        first = self.pos
        self.pos += 1
        self.expressions()
        return self.plain(first, "do")

    def kill(self) -> Node:
        first = self.pos
        self.pos += 1
        return self.whole_statement(first, "kill")


_SCRIPT_ONLY: Final = frozenset(
    """USE SHOW FLUSH RESET CHANGE STOP PURGE BINLOG CACHE CHECKSUM OPTIMIZE REPAIR CHECK INSTALL UNINSTALL HELP DESCRIBE
    DESC RENAME LOCK UNLOCK XA ANALYZE BACKUP SHUTDOWN RESTART CLONE IMPORT GRANT_PROXY""".split()
)
MysqlParser.own_statements = {
    "SET": MysqlParser.set_option,
    "LOAD": MysqlParser.load_data,
    "HANDLER": MysqlParser.handler_statement,
    "EXPLAIN": MysqlParser.explain,
    "EXECUTE": MysqlParser.execute,
    "DO": MysqlParser.do_expressions,
    "KILL": MysqlParser.kill,
    **dict.fromkeys(_SCRIPT_ONLY, PsmParser.rest),
}
