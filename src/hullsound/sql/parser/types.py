"""Data types, as columns, variables and casts write them."""

from typing import Final

from hullsound.sql.lexer import QUOTED, STRING, WORD
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
        if (
            words[first] in ("REF", "SETOF")
            and self.kinds[first + 1] in (WORD, QUOTED)
            and words[first + 1] != "CURSOR"
        ):
            self.pos += 1
        parts = [
            self.any_word()
            if words[self.pos] in ("SET", "TABLE", "UNSIGNED", "SIGNED", "BINARY", "CURSOR")
            else self.identifier()
        ]
        while words[self.pos] == ".":
            self.pos += 1
            parts.append(self.any_word())
        if words[self.pos] == "@":
            self.database_link()
        if words[self.pos] == "%" and words[self.pos + 1] in ("TYPE", "ROWTYPE"):
            self.pos += 1
            borrowed = self.any_word()
            node = TypeName(first, self.pos, "", reference=tuple(parts), borrowed=borrowed)
            self.nodes.append(node)
            return node
        name = ".".join(parts)
        arguments: tuple[str, ...] = ()
        unit = ""
        if len(parts) == 1 or not self.dialect.links:
            name = self._longer_type(name)
            arguments, unit = self._type_arguments()
            if name in ("TIMESTAMP", "TIME"):
                name += self._time_zone()
            elif name == "INTERVAL":
                name = self._interval_type()
            name += self._type_endings()
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
            is_text = self.kinds[self.pos] == STRING
            arguments.append(self.tokens.source(self.pos, self.pos + 1) if is_text else sign + self.words[self.pos])
            self.pos += 1
            unit = self.accept_any(("CHAR", "BYTE", "OCTETS", "CODEUNITS16", "CODEUNITS32", "K", "M", "G")) or unit
            while self.words[self.pos] not in (",", ")", ""):
                self.skip_parenthesized() if self.words[self.pos] == "(" else self._step()
            if not self.accept(","):
                break
        self.expect(")")
        return tuple(arguments), unit

    def _step(self) -> None:
        self.pos += 1

    def _type_endings(self) -> str:
        """Read what may stand behind the name and arguments; return what makes it another type."""
        words = self.words
        ending = ""
        while True:
            first = self.pos
            word = words[first]
            if word in self.dialect.type_endings:
                self.pos += 1
                ending += f" {word}" if word in ("UNSIGNED", "ZEROFILL") else ""
            elif (word in ("CHARACTER", "CHARSET", "CHAR") and words[first + 1] == "SET") or word == "CHARSET":
                self.pos += 2 if words[first + 1] == "SET" else 1
                self.accept("=")
                self.qualified_name() if self.kinds[self.pos] != STRING else self._step()
                if self.accept("%"):
                    self.any_word()
                self.clause("character-set", first)
            elif word == "FOR" and words[first + 2] == "DATA" and words[first + 1] in ("BIT", "SBCS", "MIXED"):
                self.pos += 3
                ending += " FOR BIT DATA" if words[first + 1] == "BIT" else ""
            elif word == "CCSID":
                self.pos += 2
            elif word == "[":
                while not self.accept("]"):
                    self._step() if words[self.pos] else self.fail("']'")
                ending += "[]"
            elif word == "ARRAY" and not self.dialect.links:
                self.pos += 1
                ending += "" if words[self.pos] == "[" else "[]"
            else:
                return ending

    def _time_zone(self) -> str:
        if self.words[self.pos + 1] in ("TIME", "LOCAL") and self.accept("WITH"):
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
