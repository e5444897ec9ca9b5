"""The PL/SQL family: routines, packages, triggers and their declarations."""

from collections.abc import Callable
from typing import ClassVar, Final

from hullsound.sql.lexer import WORD
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.ddl import DdlParser
from hullsound.sql.parser.plsql_declarations import DeclarationParser
from hullsound.sql.tree import (
    AnonymousBlock,
    CallStatement,
    CompoundBody,
    CompoundSection,
    CreatePackage,
    CreateRoutine,
    CreateTrigger,
    Node,
    Parameter,
    Parts,
    Routine,
    Statement,
    TypeName,
)

_ROUTINE_OPTIONS: Final = frozenset(
    ("DETERMINISTIC", "PIPELINED", "PARALLEL_ENABLE", "RESULT_CACHE", "AUTHID", "ACCESSIBLE", "AGGREGATE", "SQL_MACRO",
     "DEFAULT", "POLYMORPHIC")
)  # fmt: skip
_DECLARATION_STOPS: Final = frozenset(("BEGIN", "END", "BEFORE", "AFTER", "INSTEAD"))
_METHOD_WORDS: Final = frozenset(
    ("MEMBER", "STATIC", "CONSTRUCTOR", "MAP", "ORDER", "OVERRIDING", "FINAL", "INSTANTIABLE", "NOT")
)
_SYSTEM_EVENTS: Final = frozenset(
    ("ALTER", "ANALYZE", "AUDIT", "COMMENT", "CREATE", "DDL", "DROP", "GRANT", "NOAUDIT", "RENAME", "REVOKE", "TRUNCATE",
     "STARTUP", "SHUTDOWN", "LOGON", "LOGOFF", "SERVERERROR", "SUSPEND")
)  # fmt: skip


class UnitParser(DeclarationParser):
    """Reads units of code: routines, packages, triggers and what they declare."""

    routine_options: ClassVar = _ROUTINE_OPTIONS

    def with_routines(self) -> None:
        while self.words[self.pos] in ("FUNCTION", "PROCEDURE"):
            self.routine(nested=True)
            self.accept(";")

    def code_unit(self, first: int) -> Statement:
        """Read the rest of CREATE for a unit of code."""
        if "WRAPPED" in self.words[self.pos : self.pos + 6]:
            raise Unreadable(self.pos, "wrapped code, which only the engine itself can read")
        word = self.words[self.pos]
        if word in ("PROCEDURE", "FUNCTION"):
            routine = self.routine(nested=False)
            created = CreateRoutine(first, self.pos, routine)
            self.nodes.append(created)
            return created
        if word == "TRIGGER":
            return self._trigger(first)
        return self._package(first)

    def _package(self, first: int) -> CreatePackage:
        self.pos += 1
        is_body = self.accept("BODY")
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        while self.words[self.pos] in ("AUTHID", "ACCESSIBLE", "SHARING"):
            self._routine_option()
        is_at = self.pos
        if not self.accept_any(("IS", "AS")):
            self.fail("IS")
        declarations = self.declarations()
        initialization = None
        if self.at("BEGIN"):
            initialization = self._block_body(self.pos, [])
        else:
            self.expect("END")
            if self.is_name():
                self.identifier()
        node = CreatePackage(first, self.pos, name, is_body, declarations, initialization, is_at)
        self.nodes.append(node)
        return node

    def routine(self, *, nested: bool) -> Routine:
        first = self.pos
        form = self.words[first].lower()
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        start = self.pos
        name = self.qualified_name()
        name_span = (start, self.pos)
        parameters: list[Parameter] = []
        span: tuple[int, int] | None = None
        if self.at("("):
            start = self.pos
            parameters = self._parameters()
            span = (start, self.pos)
        returns: TypeName | None = None
        return_at = -1
        if self.at("RETURN"):
            return_at = self.pos
            self.pos += 1
            if self.accept("SELF", "AS", "RESULT"):
                returns = None
            else:
                returns = self.type_name()
        options: list[str] = []
        while self.words[self.pos] in self.routine_options:
            options.append(self._routine_option())
        node = Routine(
            first, self.pos, form, name, parameters, span, returns, return_at, options, -1, None, name_span, nested
        )
        if self.words[self.pos] in ("IS", "AS"):
            node.is_at = self.pos
            self.pos += 1
            self._routine_body(node)
        elif self.at("USING") or self.at("AGGREGATE"):
            self.skip_rest()
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _routine_body(self, node: Routine) -> None:
        first = self.pos
        if self.words[first] in ("LANGUAGE", "EXTERNAL"):
            while self.words[self.pos] not in (";", ""):
                self.pos += 1
            self.clause("call-specification", first)
            return
        node.block = self._block_body(first, self.declarations())

    def _routine_option(self) -> str:
        first = self.pos
        word = self.words[first]
        self.pos += 1
        if word in ("AUTHID", "SHARING", "DEFAULT"):
            self.accept("=")
            value = self.any_word()
            if word == "AUTHID" and value == "CURRENT_USER":
                self.clause("invoker-rights", first)
            if word == "DEFAULT":
                self.any_word()
            return f"{word} {value}"
        if word == "ACCESSIBLE":
            self.expect("BY")
            self.skip_parenthesized()
        elif word in ("PARALLEL_ENABLE", "RESULT_CACHE", "SQL_MACRO"):
            if self.at("("):
                self.skip_parenthesized()
            if self.accept("RELIES_ON"):
                self.skip_parenthesized()
        elif word in ("PIPELINED", "AGGREGATE", "POLYMORPHIC"):
            while self.words[self.pos] in ("USING", "ROW", "TABLE"):
                self.pos += 1
                if self.words[self.pos - 1] == "USING":
                    self.qualified_name()
        if word not in ("ACCESSIBLE", "DETERMINISTIC"):
            self.clause(word.lower().replace("_", "-"), first)
        return word

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        timing = self._trigger_timing()
        events: list[str] = []
        columns: list[str] = []
        while True:
            word = self.words[self.pos]
            if word not in ("INSERT", "UPDATE", "DELETE") and word not in _SYSTEM_EVENTS:
                self.fail("a trigger event")
            self.pos += 1
            events.append(word.lower())
            if word == "UPDATE" and self.accept("OF"):
                columns.append(self.identifier())
                while self.accept(","):
                    columns.append(self.identifier())
            if not self.accept("OR"):
                break
        self.expect("ON")
        level = "statement"
        table: Parts = ()
        if self.at("NESTED", "TABLE"):
            self.pos += 2
            self.identifier()
            self.expect("OF")
        if self.accept("DATABASE"):
            level = "database"
        else:
            table = self.qualified_name()
            if table[-1] == "SCHEMA" and events[0].upper() in _SYSTEM_EVENTS:
                level = "schema"
        node = CreateTrigger(first, first, name, timing, events, columns, table, level, {}, None, None, 0, False)
        self._trigger_options(node)
        node.body_at = self.pos
        if timing == "compound":
            node.block = self._compound_body()
        elif self.at("CALL"):
            self.pos += 1
            node.block = CallStatement(self.pos, self.pos, self.expression())
        elif self.words[self.pos] in ("DECLARE", "BEGIN", "<<"):
            while self.at("<<"):
                self._label()
            node.block = self.block()
        else:
            self.fail("BEGIN, DECLARE or CALL")
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _trigger_timing(self) -> str:
        word = self.accept_any(("BEFORE", "AFTER", "INSTEAD", "FOR"))
        if not word:
            self.fail("BEFORE, AFTER, INSTEAD OF or FOR")
        if word == "INSTEAD":
            self.expect("OF")
            return "instead of"
        return "compound" if word == "FOR" else word.lower()

    def _trigger_options(self, node: CreateTrigger) -> None:
        while True:
            first = self.pos
            if self.accept("REFERENCING"):
                while self.words[self.pos] in ("NEW", "OLD", "PARENT"):
                    which = self.any_word()
                    self.accept("AS")
                    node.referencing[self.any_word()] = which
            elif self.accept("FOR", "EACH", "ROW"):
                node.level = "row"
            elif self.accept("FOLLOWS") or self.accept("PRECEDES"):
                self.qualified_name()
                while self.accept(","):
                    self.qualified_name()
                self.clause("trigger-order", first)
            elif self.accept_any(("ENABLE", "DISABLE")) or self.accept_any(("FORWARD", "REVERSE")):
                node.disabled = node.disabled or self.words[first] == "DISABLE"
                self.accept("CROSSEDITION")
            elif self.accept("WHEN"):
                self.expect("(")
                node.condition = self.expression()
                self.expect(")")
            else:
                return

    def _compound_body(self) -> CompoundBody:
        first = self.expect("COMPOUND", "TRIGGER")
        self.clause("compound-trigger", first)
        body = CompoundBody(first, first, self.declarations(), [])
        while self.words[self.pos] in ("BEFORE", "AFTER", "INSTEAD"):
            start = self.pos
            while self.words[self.pos] not in ("IS", ""):
                self.pos += 1
            words = self.words[start : self.pos]
            timing = "instead of" if words[0] == "INSTEAD" else words[0].lower()
            self.expect("IS")
            block = self._block_body(self.pos, self.declarations())
            self._skip_over_end_words()
            body.sections.append(
                CompoundSection(start, self.pos, timing, "statement" if "STATEMENT" in words else "row", block)
            )
            self.expect(";")
        self.expect("END")
        if self.is_name():
            self.identifier()
        body.last = self.pos
        return body

    def _skip_over_end_words(self) -> None:
        while self.words[self.pos] in ("BEFORE", "AFTER", "INSTEAD", "OF", "EACH", "ROW", "STATEMENT"):
            self.pos += 1

    def declarations(self) -> list[Node]:
        """Read declarations up to BEGIN, END or a section of a compound trigger."""
        return self.declaration_list(_DECLARATION_STOPS)

    def _declaration(self) -> Node:
        word = self.words[self.pos]
        if word in _METHOD_WORDS:
            first = self.pos
            while self.words[self.pos] in _METHOD_WORDS:
                self.pos += 1
            self.clause("object-method", first)
            word = self.words[self.pos]
        if word in ("PROCEDURE", "FUNCTION"):
            return self.routine(nested=True)
        if word == "CURSOR":
            return self._cursor()
        if word == "PRAGMA":
            return self._pragma()
        if word == "TYPE" and self.words[self.pos + 2] == "IS":
            return self._type_declaration()
        if word == "SUBTYPE":
            return self._subtype()
        return self._variable()

    def anonymous_block(self) -> AnonymousBlock:
        first = self.pos
        block = self.block()
        node = AnonymousBlock(first, self.pos, block)
        self.nodes.append(node)
        return node


class PlsqlParser(UnitParser, DdlParser):
    """Reads one statement of an Oracle script, whatever its kind."""

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        reader = _STATEMENTS.get(self.words[self.pos])
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        if isinstance(node, Statement):
            return node
        if self.at("<<"):
            self._label()
            return self.statement()
        return None

    def create_code(self, first: int) -> Statement:
        return self.code_unit(first)

    def _control(self) -> Statement:
        first = self.pos
        words = self.words[first]
        if words in ("SET", "LOCK") and self.kinds[first + 1] == WORD:
            words += " " + self.words[first + 1]
        return self.other_statement(first, words)

    def _call_routine(self) -> Statement:
        first = self.expect("CALL")
        call = self.expression()
        if self.accept("INTO"):
            self.expression()
        return self.other_statement(first, "call", getattr(call, "parts", ()))

    def _run_line(self) -> Statement:
        """Read EXECUTE of SQL*Plus: a call or an assignment."""
        first = self.pos
        self.pos += 1
        node = self._assignment_or_call()
        call = node.call if isinstance(node, CallStatement) else node
        return self.other_statement(first, "execute", getattr(call, "parts", ()))

    def _truncate(self) -> Statement:
        first = self.expect("TRUNCATE")
        self.any_word()
        return self._named_rest(first, "TRUNCATE")

    def _rest_of(self) -> Statement:
        first = self.pos
        self.pos += 1
        return self.other_statement(first, self.words[first])


_STATEMENTS: Final[dict[str, Callable[[PlsqlParser], Statement]]] = {
    "CREATE": PlsqlParser.create,
    "ALTER": PlsqlParser.alter,
    "DROP": PlsqlParser.drop,
    "GRANT": PlsqlParser.grant,
    "REVOKE": PlsqlParser.grant,
    "COMMENT": PlsqlParser.comment,
    "DECLARE": PlsqlParser.anonymous_block,
    "BEGIN": PlsqlParser.anonymous_block,
    "TRUNCATE": PlsqlParser._truncate,
    "CALL": PlsqlParser._call_routine,
    **dict.fromkeys(("EXEC", "EXECUTE"), PlsqlParser._run_line),
    **dict.fromkeys(("COMMIT", "ROLLBACK", "SAVEPOINT", "SET", "LOCK"), PlsqlParser._control),
    **dict.fromkeys(
        ("ANALYZE", "AUDIT", "NOAUDIT", "RENAME", "PURGE", "FLASHBACK", "EXPLAIN", "ASSOCIATE", "DISASSOCIATE",
         "ADMINISTER"),
        PlsqlParser._rest_of,
    ),
}  # fmt: skip
