"""Functions, procedures and triggers of PostgreSQL, with bodies as texts or as SQL."""

from typing import Final

from hullsound.sql.lexer import END, FENCE, QUOTED, STRING, WORD
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.definitions import DefinitionParser
from hullsound.sql.tree import (
    AnonymousBlock,
    Block,
    CreateRoutine,
    CreateTrigger,
    Node,
    Parameter,
    Routine,
    Statement,
    TypeName,
)

_MODES: Final = frozenset(("IN", "OUT", "INOUT", "VARIADIC"))
_OPTION_WORDS: Final = frozenset(
    """IMMUTABLE STABLE VOLATILE STRICT LEAKPROOF SECURITY EXTERNAL DEFINER INVOKER PARALLEL UNSAFE RESTRICTED SAFE WINDOW
    CALLED RETURNS NULL ON INPUT NOT""".split()
)
_OF_ANY_LENGTH: Final = {"CHAR": "BPCHAR", "CHARACTER": "BPCHAR", "BIT": "VARBIT"}
"""Types that have one character or bit where no length is written, and any number where it is thrown away."""


class PostgresqlRoutineParser(DefinitionParser):
    """Reads definitions of code."""

    _positions: tuple[Parameter, ...] = ()
    """Parameters that $1 and its like stand for in the body that is read."""

    def plpgsql_body(self) -> Node:
        """Read the inside of a PL/pgSQL text; the parser built on this one does it."""
        raise NotImplementedError

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        if self.words[first] == "ALTER":
            return self._named_rest(first, f"ALTER {self._kind()}")
        if self.at("TRIGGER"):
            return self._trigger(first)
        return self._routine(first)

    def _routine(self, first: int) -> Statement:
        start = self.pos
        form = self.words[start].lower()
        self.pos += 1
        name_at = self.pos
        name = self.qualified_name()
        node = Routine(start, start, form, name, [], None, None, -1, [], -1, None, (name_at, self.pos), False)
        name_at = self.pos
        node.parameters = self._parameters()
        node.parameters_span = (name_at, self.pos)
        if self.accept("RETURNS"):
            node.return_at = self.pos - 1
            node.returns = self._returned()
        language, body_at, fence_at = self._routine_options(node)
        if fence_at >= 0:
            self._positions = tuple(each for each in node.parameters if each.mode != "out")
            node.block = self._fenced_body(fence_at, language)
            self._positions = ()
        elif body_at >= 0:
            node.is_at = body_at
        if language and language not in ("SQL", "PLPGSQL"):
            self.clause("external-language", first)
        node.options.append(f"LANGUAGE {language or 'SQL'}")
        node.last = self.pos
        self.nodes.append(node)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def parameter_at(self, place: str) -> str:
        parameter = self.positional_parameter(place)
        return parameter.name if parameter is not None else ""

    def positional_parameter(self, place: str) -> Parameter | None:
        """Return the parameter that $1 and its like stand for inside of a body; None elsewhere."""
        known = self._positions
        return known[int(place) - 1] if place.isdigit() and 0 < int(place) <= len(known) else None

    def _parameters(self) -> list[Parameter]:
        self.expect("(")
        parameters: list[Parameter] = []
        while not self.accept(")"):
            parameters.append(self._parameter())
            if not parameters[-1].name and parameters[-1].mode != "out":
                parameters[-1].name = f"${sum(each.mode != 'out' for each in parameters)}"
            if not self.accept(",") and not self.at(")"):
                self.fail("')'")
        return parameters

    def _parameter(self) -> Parameter:
        first = self.pos
        mode = self.accept_any(_MODES)
        if mode == "IN" and self.accept("OUT"):
            mode = "INOUT"
        name = ""
        if not self._is_only_type():
            name = self.any_word()
            mode = mode or self.accept_any(_MODES)
        kind = self._type_of_any_length()
        default = self.expression() if self.accept_any(("DEFAULT", "=", ":=")) else None
        form = {"OUT": "out", "INOUT": "in out"}.get(mode, "in")
        node = Parameter(first, self.pos, name, form, kind, default, False)
        self.nodes.append(node)
        return node

    def _is_only_type(self) -> bool:
        """Whether a parameter has a type and no name."""
        words, kinds = self.words, self.kinds
        pos = self.pos
        if kinds[pos + 1] not in (WORD, QUOTED):
            return True
        word, following = words[pos], words[pos + 1]
        return following in ("DEFAULT", "VARYING", "PRECISION", "WITH", "WITHOUT", "ARRAY") or (
            following == "VARYING" and word in ("CHARACTER", "BIT")
        )

    def _returned(self) -> TypeName:
        first = self.pos
        if self.accept("TABLE"):
            self._column_list()
            node = TypeName(first, self.pos, "TABLE")
            self.nodes.append(node)
            self.clause("returns-table", first)
            return node
        if self.at("SETOF"):
            self.clause("returns-setof", first)
        return self._type_of_any_length()

    def _type_of_any_length(self) -> TypeName:
        """Read the type of a parameter or result, whose length, precision and scale PostgreSQL throws away.

        PostgreSQL 18, "CREATE FUNCTION", Notes.
        """
        kind = self.type_name()
        kind.arguments = ()
        kind.name = _OF_ANY_LENGTH.get(kind.name, kind.name)
        return kind

    def _routine_options(self, node: Routine) -> tuple[str, int, int]:
        """Read the options of a routine; return its language, and where its body and the body's fence begin."""
        language, body_at, fence_at = "", -1, -1
        while self.kinds[self.pos] != END and self.words[self.pos] != ";":
            first = self.pos
            word = self.words[first]
            self.pos += 1
            if word == "LANGUAGE":
                language = self.words[self.pos].strip("'\"")
                self.pos += 1
            elif word == "AS":
                body_at = self.pos
                if self.kinds[self.pos] == FENCE:
                    fence_at = self.pos
                    self.skip_fence()
                else:
                    while self.kinds[self.pos] == STRING or self.at(","):
                        self.pos += 1
            elif word == "BEGIN":
                self.pos = first
                node.block = self._atomic_body()
                body_at = first
                language = language or "SQL"
            elif word == "RETURN":
                start = self.pos
                value = self.query() if self.opens_query() else self.expression()
                node.block = Block(start, self.pos, [], [value], [], start, -1, self.pos)
                language = language or "SQL"
            elif word == "SET":
                self.qualified_name()
                if not self.accept("FROM", "CURRENT"):
                    self.accept_any(("TO", "="))
                    self._setting_values()
            elif word in ("COST", "ROWS", "SUPPORT"):
                self.qualified_name() if word == "SUPPORT" else self._step()
            elif word == "TRANSFORM":
                while self.accept_any(("FOR", "TYPE", ",")):
                    pass
                self.qualified_name()
            elif word == "WITH":
                self.skip_parenthesized()
            elif word in _OPTION_WORDS:
                node.options.append(word)
                if word == "DEFINER":
                    self.clause("definer-rights", first)
            else:
                self.pos = first
                self.fail("an option")
        return language, body_at, fence_at

    def _setting_values(self) -> None:
        while True:
            self._step()
            while self.accept("."):
                self._step()
            if not self.accept(","):
                return

    def _atomic_body(self) -> Block:
        first = self.expect("BEGIN")
        self.expect("ATOMIC")
        body: list[Node] = []
        while not self.at("END"):
            if self.accept(";"):
                continue
            if self.accept("RETURN"):
                body.append(self.query() if self.opens_query() else self.expression())
                continue
            statement = self.statement()
            if statement is None:
                self.fail("a statement")
            body.append(statement)
        end_at = self.expect("END")
        self.clause("standard-body", first)
        return Block(first, self.pos, [], body, [], first, -1, end_at)

    def _fenced_body(self, fence_at: int, language: str) -> Block | None:
        """Read the inside of a dollar quote where its language is known; elsewhere it stays text."""
        if language not in ("SQL", "PLPGSQL"):
            return None
        behind, self.pos = self.pos, fence_at + 1
        closing = self.tokens.fences[fence_at]
        depth = self.depth
        node: Node | None = None
        try:
            node = self.plpgsql_body() if language == "PLPGSQL" else self._sql_body(closing)
            if self.pos < closing:
                self.unread(self.pos, closing, "text behind the end of the body")
            elif self.pos > closing:
                self.unread(fence_at + 1, closing, "a statement runs over the end of the body")
        except Unreadable as error:
            self.depth = depth
            node = None
            self.unread(min(error.at, closing - 1) if error.at > fence_at else fence_at + 1, closing, error.reason)
        self.pos = behind
        return node if isinstance(node, Block) else None

    def _sql_body(self, closing: int) -> Block:
        first = self.pos
        body: list[Node] = []
        while self.pos < closing:
            if self.accept(";"):
                continue
            start, depth = self.pos, self.depth
            try:
                statement = self.statement()
                if statement is None:
                    self.fail("a statement")
                body.append(statement)
            except Unreadable as error:
                self.depth = depth
                while self.pos < closing and self.words[self.pos] != ";":
                    self.pos += 1
                body.append(self.unread(start, self.pos, error.reason))
        node = Block(first, self.pos, [], body, [], first, -1, closing)
        self.nodes.append(node)
        return node

    def do_block(self) -> Statement:
        first = self.expect("DO")
        language = "PLPGSQL"
        fence_at = -1
        while self.kinds[self.pos] != END and not self.at(";"):
            if self.accept("LANGUAGE"):
                language = self.words[self.pos].strip("'\"")
                self.pos += 1
            elif self.kinds[self.pos] == FENCE:
                fence_at = self.pos
                self.skip_fence()
            elif self.is_string():
                self.pos += 1
            else:
                self.fail("a body")
        block = self._fenced_body(fence_at, language) if fence_at >= 0 else None
        if block is None:
            return self.other_statement(first, "do")
        node = AnonymousBlock(first, self.pos, block)
        self.nodes.append(node)
        return node

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        name = self.qualified_name()
        timing = self.trigger_timing()
        events, columns = self.trigger_events()
        self.expect("ON")
        table = self.qualified_name()
        node = CreateTrigger(first, first, name, timing, events, columns, table, "statement", {}, None, None, 0, False)
        if self.accept("FROM"):
            self.qualified_name()
        while True:
            start = self.pos
            if self.accept("REFERENCING"):
                while self.words[self.pos] in ("NEW", "OLD"):
                    which = self.any_word()
                    self.accept("TABLE")
                    self.accept("AS")
                    node.referencing[self.any_word()] = which
                self.clause("transition-tables", start)
            elif self.accept("FOR"):
                self.accept("EACH")
                node.level = self.any_word().lower()
            elif self.accept("WHEN"):
                self.expect("(")
                node.condition = self.expression()
                self.expect(")")
            elif self.words[start] in ("NOT", "DEFERRABLE", "INITIALLY", "DEFERRED", "IMMEDIATE"):
                self.pos += 1
                if self.words[start] == "INITIALLY":
                    self.clause("constraint-trigger", start)
            else:
                break
        node.body_at = self.expect("EXECUTE")
        if not self.accept_any(("FUNCTION", "PROCEDURE")):
            self.fail("FUNCTION")
        node.block = self.operand()
        node.last = self.pos
        self.nodes.append(node)
        return node
