"""Statements, macros and stored procedures of Teradata."""

from typing import ClassVar, Final

from hullsound.sql.lexer import END, STRING, WORD
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.psm import PsmParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Block,
    CreateRoutine,
    CreateTrigger,
    Execute,
    Node,
    Parameter,
    Query,
    Routine,
    Statement,
)

_ATTRIBUTES: Final = frozenset(("FORMAT", "TITLE", "NAMED", "CASESPECIFIC", "CS", "UPPERCASE", "UC", "NOT"))
_CAST_TYPES: Final = frozenset(
    """CHAR CHARACTER VARCHAR INTEGER INT SMALLINT BYTEINT BIGINT DECIMAL DEC NUMERIC NUMBER FLOAT REAL DATE TIME TIMESTAMP BYTE
    VARBYTE INTERVAL CLOB BLOB PERIOD GRAPHIC""".split()
)
_LOCK_KINDS: Final = frozenset(("ROW", "TABLE", "VIEW", "DATABASE"))
_OPTION_WORDS: Final = frozenset(("DYNAMIC", "SQL", "CONTAINS", "MODIFIES", "READS", "NO", "RESULT", "LANGUAGE", "DETERMINISTIC",
                                  "NOT", "CALLED", "RETURNS", "SPECIFIC", "PARAMETER", "EXTERNAL", "COLLATION", "INLINE",
                                  "GLOBAL", "SECURITY"))  # fmt: skip


class TeradataParser(PsmParser):
    """Reads one statement of a script."""

    openers: ClassVar = {
        **ExpressionParser.openers,
        "TIME": SpecialFormParser._typed_literal,
        "TRYCAST": SpecialFormParser._cast,
        **dict.fromkeys(("ANY", "SOME", "ALL"), SpecialFormParser._quantified),
    }
    code_kinds: ClassVar = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER", "MACRO"))

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        first = self.pos
        word = self.words[first]
        if word in _COMMANDS:
            self.pos += 1
            return self.whole_statement(first, word)
        if word == "BEGIN" and self.words[first + 1] == "TRANSACTION":
            return self.whole_statement(first, "begin transaction")
        if word == "SET" and (self.words[first + 2] != "=" or self.words[first + 1] == "QUERY_BAND"):
            return self.whole_statement(first, f"set {self.words[first + 1].lower()}")
        if word in ("DELETE", "DEL") and self.words[first + 1] in ("DATABASE", "USER"):
            return self.whole_statement(first, "delete database")
        node = self.one_statement()
        if isinstance(node, Statement):
            return node
        return self.other_statement(first, word.lower(), node.routine if isinstance(node, Execute) else ())

    def one_statement(self) -> Node:
        first = self.pos
        word = self.words[first]
        if word in ("LOCKING", "LOCK"):
            self.locking_modifiers()
            return self.one_statement()
        if word == "USING":
            self.pos += 1
            self.skip_parenthesized()
            self.clause("using-request", first)
            return self.one_statement()
        if word == "REPLACE" and self.words[first + 1] in ("VIEW", "MACRO", "PROCEDURE", "FUNCTION", "TRIGGER", "RECURSIVE",
                                                           "SPECIFIC", "QUERY"):  # fmt: skip
            return self.create()
        if word in ("EXEC", "EXECUTE") and self.words[first + 1] != "IMMEDIATE":
            return self._execute_macro()
        if word in ("COLLECT", "PRINT", "DIAGNOSTIC", "DATABASE", "BT", "ET", "END"):
            self.pos += 1
            return self.whole_statement(first, word)
        return super().one_statement()

    def locking_modifiers(self) -> None:
        """Read LOCKING object FOR mode, as often as it stands there."""
        while self.words[self.pos] in ("LOCKING", "LOCK"):
            first = self.pos
            self.pos += 1
            if self.words[self.pos] in _LOCK_KINDS:
                self.pos += 1
            if not self.at("FOR") and not self.at("IN"):
                self.qualified_name()
            self.accept_any(("FOR", "IN"))
            self.any_word()
            self.accept("OVERRIDE")
            self.accept("MODE")
            self.accept("NOWAIT")
            self.clause("locking-modifier", first)

    def query(self) -> Query:
        self.locking_modifiers()
        return super().query()

    # --- expressions ---

    def is_attribute(self) -> bool:
        word, following = self.words[self.pos + 1], self.words[self.pos + 2]
        if word in _ATTRIBUTES:
            return self.kinds[self.pos + 2] in (STRING, WORD) or following in (")", ",")
        return word in _CAST_TYPES and (
            following in (")", ",") or (following == "(" and word not in ("DATE", "PERIOD"))
        )

    def _suffix(self, first: int, left: Node, word: str) -> Node | None:
        if word != "(":
            return super()._suffix(first, left, word)
        if not self.is_attribute():
            return None
        start = self.pos
        self.skip_parenthesized()
        is_cast = self.words[start + 1] in _CAST_TYPES
        self.clause("attribute-cast" if is_cast else "attribute-phrase", start)
        return left

    # --- code ---

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        word = self.words[self.pos]
        if self.words[first] == "ALTER":
            return self._named_rest(first, f"ALTER {self._kind()}")
        if word == "TRIGGER":
            return self._trigger(first)
        if word == "MACRO":
            return self._macro(first)
        return self._routine(first)

    def _routine(self, first: int) -> Statement:
        node = self.routine_head(self.words[self.pos].lower())
        if self.accept("RETURNS"):
            node.return_at = self.pos - 1
            node.returns = self.routine_type()
            if self.accept("CAST"):
                self.expect("FROM")
                self.type_name()
        is_external = False
        while self.words[self.pos] in _OPTION_WORDS:
            word = self.words[self.pos]
            self.pos += 1
            if word == "EXTERNAL":
                is_external = True
                if self.accept("NAME"):
                    self._step()
            elif word == "LANGUAGE":
                is_external = self.any_word() != "SQL" or is_external
            elif word == "RESULT":
                self.expect("SETS")
                self.clause("dynamic-result-sets", self.pos - 2)
                self._step()
            elif word == "SPECIFIC":
                self.qualified_name()
            elif word == "INLINE":
                self.expect("TYPE")
                self._step()
            while self.kinds[self.pos] == WORD and self.words[self.pos] in (
                "SECURITY", "DEFINER", "INVOKER", "CREATOR", "OWNER", "SQL", "DATA", "NULL", "ON", "INPUT", "TYPE", "STYLE",
                "TD_GENERAL", "JAVA", "ACTION",
            ):  # fmt: skip
                self.pos += 1
        if is_external or self.kinds[self.pos] == END or self.at(";"):
            self.clause("external-routine", first)
            node.last = self.pos
            self.nodes.append(node)
        else:
            self.routine_body(node)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _macro(self, first: int) -> Statement:
        """Read a macro, whose statements stand in parentheses."""
        start = self.pos
        self.pos += 1
        name_at = self.pos
        name = self.qualified_name()
        span = (name_at, self.pos)
        parameters: list[Parameter] = []
        if self.at("("):
            parameters = self.parameters()
        self.expect("AS")
        body_at = self.expect("(")
        body: list[Node] = []
        while not self.accept(")"):
            if self.accept(";"):
                continue
            body.append(self.one_statement())
            if not self.accept(";") and not self.at(")"):
                self.fail("';'")
        block = Block(body_at, self.pos, [], body, [], body_at, -1, self.pos - 1)
        node = Routine(start, self.pos, "macro", name, parameters, None, None, -1, [], body_at, block, span, False)
        self.nodes += (block, node)
        self.clause("macro", first)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _parameter(self) -> Parameter:
        first = self.pos
        parameter = super()._parameter()
        while self.words[self.pos] not in (",", ")", ""):
            self.skip_parenthesized() if self.at("(") else self._step()
        parameter.first, parameter.last = first, self.pos
        return parameter

    def _execute_macro(self) -> Node:
        first = self.pos
        self.pos += 1
        routine = self.qualified_name()
        arguments: list[Node] = []
        if self.accept("("):
            while not self.accept(")"):
                if self.at(","):
                    self.pos += 1
                    continue
                start = self.pos
                if self.words[start + 1] == "=":
                    self.pos += 2
                arguments.append(self.expression())
                if not self.accept(",") and not self.at(")"):
                    self.fail("')'")
        node = Execute(first, self.pos, routine, arguments, None)
        self.nodes.append(node)
        return node

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        name = self.qualified_name()
        disabled = self.accept_any(("ENABLED", "DISABLED")) == "DISABLED"
        timing = self.trigger_timing()
        events, columns = self.trigger_events()
        self.expect("ON")
        table = self.qualified_name()
        if self.accept("ORDER"):
            self._step()
        node = CreateTrigger(
            first, first, name, timing, events, columns, table, "statement", {}, None, None, 0, disabled
        )
        if self.accept("REFERENCING"):
            while self.words[self.pos] in ("NEW", "OLD", "NEW_TABLE", "OLD_TABLE", "NEW_ROW", "OLD_ROW"):
                which = self.any_word()
                self.accept_any(("TABLE", "ROW"))
                self.accept("AS")
                node.referencing[self.any_word()] = which
        if self.accept("FOR", "EACH"):
            node.level = self.any_word().lower()
        if self.accept("WHEN"):
            self.expect("(")
            node.condition = self.expression()
            self.expect(")")
        node.body_at = self.pos
        self.accept("BEGIN", "ATOMIC")
        is_listed = self.accept("(")
        body: list[Node] = []
        while self.words[self.pos] not in (")", "END", "") or (not is_listed and not body):
            if self.accept(";"):
                if self.kinds[self.pos] == END:
                    break
                continue
            body.append(self.one_statement())
            if not is_listed:
                break
        if is_listed:
            self.expect(")")
            self.accept(";")
        self.accept("END")
        node.block = Block(node.body_at, self.pos, [], body, [], node.body_at, -1, self.pos)
        self.nodes.append(node.block)
        node.last = self.pos
        self.nodes.append(node)
        return node

    # --- other definitions ---

    def create(self) -> Statement:
        first = self.pos
        words = self.words
        if words[first] == "CREATE" and words[first + 1] in ("JOIN", "HASH") and words[first + 2] == "INDEX":
            return self._join_index(first)
        return super().create()

    def _join_index(self, first: int) -> Statement:
        self.pos += 3
        kind = f"create {self.words[first + 1].lower()} index"
        name = self.qualified_name()
        while not self.at("AS") and self.kinds[self.pos] != END and kind == "create join index":
            self.skip_parenthesized() if self.at("(") else self._step()
        if self.accept("AS"):
            self.query()
        return self.whole_statement(first, kind, name)


_COMMANDS: Final = frozenset(
    """COLLECT DATABASE BT ET HELP SHOW MODIFY GIVE DIAGNOSTIC RENAME ABORT ECHO CHECKPOINT LOGGING RESTART EXPLAIN DUMP RESTORE
    INITIATE TERMINATE FLUSH END""".split()
)
