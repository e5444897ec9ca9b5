"""Errors, messages and diagnostics of PL/pgSQL."""

from typing import Final

from hullsound.sql.lexer import FENCE, STRING
from hullsound.sql.parser.blocks import BlockParser
from hullsound.sql.parser.postgresql import PostgresqlParser
from hullsound.sql.tree import (
    Node,
    Raise,
)

_LEVELS: Final = frozenset(("DEBUG", "LOG", "INFO", "NOTICE", "WARNING", "EXCEPTION"))


class PlpgsqlErrorParser(BlockParser, PostgresqlParser):
    """Reads statements about errors."""

    def _condition(self) -> tuple[str, ...]:
        if self.accept("SQLSTATE"):
            self._step()
            return ("SQLSTATE", self.words[self.pos - 1].strip("'"))
        return self.qualified_name()

    def _raise(self) -> Node:
        first = self.expect("RAISE")
        level = self.accept_any(_LEVELS)
        name: tuple[str, ...] = ()
        if self.accept("SQLSTATE"):
            self._step()
        elif self.kinds[self.pos] in (STRING, FENCE):
            self.operand()
            while self.accept(","):
                self.expression()
        elif self.is_name() and self.words[self.pos] != "USING":
            name = self.qualified_name()
        if self.accept("USING"):
            while True:
                self.any_word()
                if not self.accept_any(("=", ":=")):
                    self.fail("'='")
                self.expression()
                if not self.accept(","):
                    break
        if level:
            self.clause(f"raise-{level.lower()}", first)
        node = Raise(first, self.pos, name)
        self.nodes.append(node)
        return node

    def _diagnostics(self) -> Node:
        first = self.expect("GET")
        while self.words[self.pos] in ("CURRENT", "STACKED"):
            self.pos += 1
        self.expect("DIAGNOSTICS")
        while True:
            self._assigned()
            if not self.accept_any((":=", "=")):
                self.fail("'='")
            self.any_word()
            if not self.accept(","):
                break
        self.clause("get-diagnostics", first)
        return self._plain(first, "get diagnostics")

    def _assert(self) -> Node:
        first = self.expect("ASSERT")
        value = self.expression()
        if self.accept(","):
            self.expression()
        return self._plain(first, "assert", value)
