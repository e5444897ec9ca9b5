"""Statements and SQL PL of Db2."""

from collections.abc import Callable, Mapping
from typing import ClassVar, Final

from hullsound.sql.lexer import END, STRING, WORD
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.psm import PsmParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    CreateRoutine,
    CreateTrigger,
    Execute,
    Name,
    Node,
    Parts,
    Routine,
    Statement,
    TypeName,
)

_BODY_STARTS: Final = frozenset(
    """BEGIN RETURN SET IF CASE CALL INSERT UPDATE DELETE MERGE SELECT WITH VALUES SIGNAL FOR WHILE LOOP REPEAT DECLARE
    EXECUTE TRUNCATE""".split()
)


class Db2Parser(PsmParser):
    """Reads one statement of a script."""

    openers: ClassVar[Mapping[str, Callable[..., Node | None]]] = {
        **{word: ExpressionParser.openers[word] for word in ("CASE", "CAST", "EXISTS", "NOT", "NULL", "TRUE", "FALSE", "EXTRACT",
                                                             "DATE", "TIMESTAMP", "INTERVAL")},
        "TIME": SpecialFormParser._typed_literal,
        "CURRENT": SpecialFormParser._special_register,
        "NEXT": SpecialFormParser._next_value,
        "PREVIOUS": SpecialFormParser._next_value,
        "ROW": SpecialFormParser._row_change,
        "ARRAY": SpecialFormParser._array,
        **dict.fromkeys(("ANY", "SOME", "ALL"), SpecialFormParser._quantified),
    }  # fmt: skip
    code_kinds: ClassVar = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER"))

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        first = self.pos
        word = self.words[first]
        if word in _COMMANDS or (word == "UPDATE" and self.words[first + 1] in _CONFIGURATIONS):
            self.pos += 1
            following = self.words[self.pos].lower() if self.kinds[self.pos] == WORD else ""
            return self.whole_statement(first, f"{word.lower()} {following}".strip())
        if word == "SET" and self.words[first + 1] in _SET_OPTIONS:
            self.pos += 2
            return self.whole_statement(first, f"set {self.words[first + 1].lower()}")
        if word in ("BEGIN", "IF", "CASE", "LOOP", "WHILE", "REPEAT", "FOR") or self.words[first + 1] == ":":
            return self.anonymous_block()
        node = self.one_statement()
        if isinstance(node, Statement):
            return node
        name = node.routine if isinstance(node, Execute) else ()
        return self.other_statement(first, word.lower(), name)

    def _sequence_value(self) -> Node | None:
        """Read NEXTVAL FOR sequence and PREVVAL FOR sequence."""
        first = self.pos
        if self.words[first + 1] != "FOR":
            return None
        self.pos += 2
        word = "NEXTVAL" if self.words[first] == "NEXTVAL" else "CURRVAL"
        start = self.pos
        node = Name(start, start, (*self.qualified_name(), word))
        node.last = self.pos
        self.nodes.append(node)
        return node

    # --- code ---

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        if self.words[first] == "ALTER":
            return self._named_rest(first, f"ALTER {self._kind()}")
        if self.at("TRIGGER"):
            return self._trigger(first)
        return self._routine(first)

    def _routine(self, first: int) -> Statement:
        node = self.routine_head(self.words[self.pos].lower())
        if self.at("RETURNS"):
            self._returns(node)
        is_external = self._routine_options(node)
        if not is_external and self.kinds[self.pos] != END and not self.at(";"):
            self.routine_body(node)
        else:
            node.last = self.pos
            self.nodes.append(node)
            if is_external:
                self.clause("external-routine", first)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _returns(self, node: Routine) -> None:
        node.return_at = self.expect("RETURNS")
        start = self.pos
        if self.words[start] in ("TABLE", "ROW", "GENERIC") and self.words[start + 1] in ("(", "TABLE"):
            while not self.at("("):
                self.pos += 1
            self.table_elements([], [], [])
            node.returns = TypeName(start, self.pos, "TABLE")
            self.nodes.append(node.returns)
            self.clause("table-function", start)
            return
        node.returns = self.routine_type()
        if self.accept("CAST"):
            self.expect("FROM")
            self.type_name()

    def _routine_options(self, node: Routine) -> bool:
        """Read the options of a routine; return whether its body lies outside the database."""
        is_external = False
        while self.kinds[self.pos] != END and not self.at(";"):
            word, following = self.words[self.pos], self.words[self.pos + 1]
            if self.accept("COMMIT", "ON", "RETURN"):
                self.any_word()
                continue
            if word in _BODY_STARTS or following == ":":
                return False
            self.pos += 1
            if word == "SPECIFIC":
                self.qualified_name()
            elif word == "EXTERNAL" and following != "ACTION":
                is_external = True
                if self.accept("NAME"):
                    self.pos += 1
            elif word == "LANGUAGE":
                node.options.append(f"LANGUAGE {self.any_word()}")
                is_external = is_external or self.words[self.pos - 1] != "SQL"
            elif word == "PREDICATES" or (word == "TRANSFORM" and following == "GROUP"):
                if self.at("("):
                    self.skip_parenthesized()
            elif word == "SOURCE":
                self.qualified_name()
                if self.at("("):
                    self.skip_parenthesized()
            elif word == "RESULT" and following == "SETS":
                self.clause("dynamic-result-sets", self.pos - 1)
                self.pos += 1
            elif word == "AUTONOMOUS":
                self.clause("autonomous", self.pos - 1)
            elif self.kinds[self.pos - 1] not in (WORD, STRING) and not word.isdigit():
                self.pos -= 1
                self.fail("an option")
        return is_external

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        name = self.qualified_name()
        self.accept("NO", "CASCADE")
        timing = self.trigger_timing()
        events, columns = self.trigger_events()
        self.expect("ON")
        table: Parts = self.qualified_name()
        node = CreateTrigger(first, first, name, timing, events, columns, table, "statement", {}, None, None, 0, False)
        while True:
            start = self.pos
            if self.accept("REFERENCING"):
                while self.words[self.pos] in ("NEW", "OLD", "NEW_TABLE", "OLD_TABLE"):
                    which = self.any_word()
                    self.accept("TABLE")
                    self.accept("AS")
                    node.referencing[self.any_word()] = which
            elif self.accept("FOR", "EACH"):
                node.level = self.any_word().lower()
            elif self.accept("MODE"):
                self.any_word()
            elif self.accept("NOT", "SECURED") or self.accept("SECURED"):
                pass
            elif self.accept("WHEN"):
                self.expect("(")
                node.condition = self.expression()
                self.expect(")")
            else:
                node.body_at = start
                break
        node.block = self.one_statement()
        node.last = self.pos
        self.nodes.append(node)
        return node

    # --- other definitions ---

    def create(self) -> Statement:
        first = self.pos
        at = first + (3 if self.words[first + 1] == "OR" else 1)
        if self.words[at] == "VARIABLE":
            self.pos = at + 1
            name = self.qualified_name()
            self.routine_type()
            self.accept("CONSTANT")
            if self.accept("DEFAULT"):
                self.expression()
            if not self.at(";") and self.kinds[self.pos] != END:
                self.expression()
            return self.other_statement(first, "create variable", name)
        return super().create()

    def alter(self) -> Statement:
        first = self.pos
        if self.words[first + 1] != "MODULE":
            return super().alter()
        self.pos += 2
        name = self.qualified_name()
        self.accept_any(("ADD", "PUBLISH"))
        self.accept("OR", "REPLACE")
        word = self.words[self.pos]
        if word in ("PROCEDURE", "FUNCTION") and self.words[self.pos - 1] in ("ADD", "PUBLISH", "REPLACE"):
            inner = self._routine(self.pos)
            assert isinstance(inner, CreateRoutine)
            inner.first = first
            inner.routine.name = (*name, inner.routine.name[-1])
            self.clause("module-routine", first)
            return inner
        return self.whole_statement(first, "alter module", name)


_SET_OPTIONS: Final = frozenset(
    "SCHEMA CURRENT PATH INTEGRITY ENCRYPTION ROLE SESSION CONSTRAINTS SERVER PASSTHRU USAGE TRANSACTION".split()
)
_CONFIGURATIONS: Final = frozenset(
    ("COMMAND", "DB", "DATABASE", "DBM", "HISTORY", "ALERT", "CONTACT", "MONITOR", "ADMIN")
)
_COMMANDS: Final = frozenset(
    """CONNECT DISCONNECT TERMINATE REORG RUNSTATS REORGCHK ECHO LOAD IMPORT EXPORT QUIESCE UNQUIESCE LABEL FLUSH REFRESH RENAME
    TRANSFER LOCK EXPLAIN AUDIT DESCRIBE CATALOG UNCATALOG LIST ACTIVATE DEACTIVATE BIND REBIND BACKUP RESTORE FORCE ATTACH
    DETACH CHANGE RESET INGEST GETTING ROLLFORWARD MIGRATE DB2START DB2STOP TRANSFERS QUIT""".split()
)
Db2Parser.openers = {**Db2Parser.openers, **dict.fromkeys(("NEXTVAL", "PREVVAL"), Db2Parser._sequence_value)}
