"""Data types, as columns, variables and casts write them."""

from typing import Final

from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.parser.core import Core
from hullsound.sql.tree import (
    TypeName,
)

_FIELDS: Final = frozenset(("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND"))


class TypeParser(Core):
    """Reads data types."""

    def database_link(self) -> str:
        """Read @link[.domain][@qualifier]."""
        parts: list[str] = []
        while self.accept("@") or (parts and self.accept(".")):
            parts.append(self.identifier())
        return ".".join(parts)

    def _interval_fields(self) -> None:
        """Read DAY [(n)] [TO SECOND [(n)]]."""
        for _ in range(2):
            self.pos += 1
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            if not (self.words[self.pos] == "TO" and self.words[self.pos + 1] in _FIELDS):
                return
            self.pos += 1

    def type_name(self) -> TypeName:
        """Read a data type."""
        first = self.pos
        words = self.words
        self.accept("REF") if self.kinds[first + 1] in (WORD, QUOTED) and words[first + 1] != "CURSOR" else None
        parts = [self.identifier()]
        while words[self.pos] == ".":
            self.pos += 1
            parts.append(self.any_word())
        if words[self.pos] == "@":
            self.database_link()
        if words[self.pos] == "%":
            self.pos += 1
            borrowed = self.accept_any(("TYPE", "ROWTYPE"))
            if not borrowed:
                self.fail("TYPE or ROWTYPE")
            node = TypeName(first, self.pos, "", reference=tuple(parts), borrowed=borrowed)
            self.nodes.append(node)
            return node
        name = ".".join(parts)
        arguments: tuple[str, ...] = ()
        unit = ""
        if len(parts) == 1:
            name = self._longer_type(name)
            arguments, unit = self._type_arguments()
            if name in ("TIMESTAMP", "TIME"):
                name += self._time_zone()
            elif name == "INTERVAL":
                name = self._interval_type()
            if words[self.pos] in ("CHARACTER", "CHARSET") and words[self.pos + 1] == "SET":
                self.pos += 2
                self.qualified_name()
                if self.accept("%"):
                    self.any_word()
        node = TypeName(first, self.pos, name, arguments, unit, tuple(parts))
        self.nodes.append(node)
        return node

    def _longer_type(self, name: str) -> str:
        for rest in self.dialect.multiword_types.get(name, ()):
            if self.accept(*rest):
                return " ".join((name, *rest))
        return name

    def _type_arguments(self) -> tuple[tuple[str, ...], str]:
        if not self.accept("("):
            return (), ""
        arguments: list[str] = []
        unit = ""
        while True:
            sign = "-" if self.accept("-") else ""
            if self.words[self.pos] in (")", ""):
                self.fail("a length")
            arguments.append(sign + self.words[self.pos])
            self.pos += 1
            unit = self.accept_any(("CHAR", "BYTE")) or unit
            if not self.accept(","):
                break
        self.expect(")")
        return tuple(arguments), unit

    def _time_zone(self) -> str:
        if self.accept("WITH"):
            local = self.accept("LOCAL")
            self.expect("TIME", "ZONE")
            return " WITH LOCAL TIME ZONE" if local else " WITH TIME ZONE"
        if self.accept("WITHOUT", "TIME", "ZONE"):
            return ""
        return ""

    def _interval_type(self) -> str:
        field = self.words[self.pos]
        if field not in _FIELDS:
            return "INTERVAL"
        self._interval_fields()
        return f"INTERVAL {field} TO {'MONTH' if field == 'YEAR' else 'SECOND'}"
