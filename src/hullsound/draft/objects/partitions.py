"""Divided tables on PostgreSQL: PARTITION BY with a table for each part, as Oracle and the MySQL family write them.

PostgreSQL 18 manual, "Table Partitioning": every key must hold the columns that divide, which must be plain in keys.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, shown
from hullsound.draft.code import draft_expression
from hullsound.draft.edits.names import Names
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.engine_model import Target
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import Tokens, lex

_METHODS: Final = {"RANGE": "RANGE", "LIST": "LIST", "HASH": "HASH", "KEY": "HASH"}
_IDENTITY_SINCE: Final = 17
"""First version of PostgreSQL whose divided tables may have identity columns (release notes)."""
_NAME_BYTES: Final = 63
_YEAR: Final = re.compile(r"\d{4}")


@dataclass(frozen=True)
class Division:
    """How a table is divided: the method, its columns, and each part with its bounds."""

    method: str
    columns: tuple[str, ...]
    parts: tuple[tuple[str, str], ...]
    """Name of each part and its FOR VALUES ..., or DEFAULT."""


class _Reader:
    """Reads the PARTITION BY of a table's text."""

    def __init__(self, table: Object, catalog: Catalog, target: Target) -> None:
        self.table = table
        self.catalog = catalog
        self.target = target
        self.tokens: Tokens = lex(table.text, load_dialect(catalog.engine))
        self.words = self.tokens.words
        self.at = _start_of(self.words)

    def division(self) -> Division:
        self.at += 2
        if self._accept("LINEAR"):
            raise CannotDraft("a table divided by LINEAR HASH or KEY")
        method = _METHODS.get(self.words[self.at], "")
        if not method:
            raise CannotDraft(f"a table divided by {self.words[self.at].lower()}")
        self.at += 1
        self._accept("COLUMNS")
        columns, function = self._columns()
        has_interval = self._accept("INTERVAL")
        if has_interval:
            self._bracketed()
        if "SUBPARTITION" in self.words:
            raise CannotDraft("a table whose parts are divided again")
        if method == "HASH":
            return Division(method, columns, self._hashed())
        if not self._accept("("):
            raise CannotDraft("a division without parts")
        parts = self._ranges(function) if method == "RANGE" else self._lists()
        takes_null = method == "RANGE" and any(c.nullable for c in self.table.columns if c.name in columns)
        if has_interval or takes_null:
            # NULL lies in no range here, and new parts no longer come by themselves.
            parts.append(("OTHERS", "DEFAULT"))
        return Division(method, columns, tuple(parts))

    def _columns(self) -> tuple[tuple[str, ...], str]:
        """Return the columns that divide, and the function around the one of MySQL: YEAR or TO_DAYS."""
        pieces = [self._split(piece) for piece in self._bracketed()]
        names = []
        function = ""
        for words in pieces:
            if len(words) == 4 and words[1] == "(" and words[0] in ("YEAR", "TO_DAYS") and len(pieces) == 1:
                function, words = words[0], words[2:3]
            stored = next((c.name for c in self.table.columns if len(words) == 1 and c.name == words[0].upper()), "")
            if not stored:
                raise CannotDraft("a table divided by an expression")
            names.append(stored)
        return tuple(names), function

    def _ranges(self, function: str) -> list[tuple[str, str]]:
        parts, lower = [], ["MINVALUE"]
        while self._accept("PARTITION"):
            name = self._name()
            if self.words[self.at : self.at + 3] != ["VALUES", "LESS", "THAN"]:
                raise CannotDraft("a part without bounds")
            self.at += 3
            values = ["MAXVALUE"] if self._accept("MAXVALUE") else self._bracketed()
            upper = [self._bound(value, function) for value in values]
            if len(lower) < len(upper):
                lower = lower * len(upper)
            parts.append((name, f"FOR VALUES FROM ({', '.join(lower)}) TO ({', '.join(upper)})"))
            lower = upper
            self._skip_options()
        return parts

    def _lists(self) -> list[tuple[str, str]]:
        parts = []
        while self._accept("PARTITION"):
            name = self._name()
            if not self._accept("VALUES"):
                raise CannotDraft("a part without values")
            self._accept("IN")
            values = self._bracketed()
            is_rest = [value.upper() for value in values] == ["DEFAULT"]
            bounds = "DEFAULT" if is_rest else f"FOR VALUES IN ({', '.join(self._bound(v, '') for v in values)})"
            parts.append((name, bounds))
            self._skip_options()
        return parts

    def _hashed(self) -> tuple[tuple[str, str], ...]:
        if self._accept("PARTITIONS"):
            count = int(self.words[self.at]) if self.words[self.at].isdigit() else 0
            names = [f"P{number}" for number in range(count)]
        else:
            names = [self._split(piece)[1] for piece in self._bracketed() if len(self._split(piece)) > 1]
        if not names:
            raise CannotDraft("a division without a number of parts")
        return tuple(
            (name, f"FOR VALUES WITH (MODULUS {len(names)}, REMAINDER {number})") for number, name in enumerate(names)
        )

    def _bound(self, text: str, function: str) -> str:
        if text.upper() in ("MAXVALUE", "NULL"):
            return text.upper()
        if function == "YEAR":
            if not _YEAR.fullmatch(text):
                raise CannotDraft("a bound that is no year")
            return f"'{text}-01-01'"
        if function == "TO_DAYS":
            inside = re.fullmatch(r"(?i)TO_DAYS\s*\(\s*('[\d\- :]+')\s*\)", text)
            if inside is None:
                raise CannotDraft("a bound that is no date")
            return inside[1]
        return draft_expression(text, self.table, self.catalog, self.target)

    def _skip_options(self) -> None:
        """Step over storage and comments of a part, to the next one or the end."""
        depth = 0
        while self.words[self.at] and not (depth == 0 and self.words[self.at] in (",", ")")):
            depth += (self.words[self.at] == "(") - (self.words[self.at] == ")")
            self.at += 1
        self._accept(",")

    def _name(self) -> str:
        name = self.tokens.source(self.at, self.at + 1).strip('"`').upper()
        self.at += 1
        return name

    def _accept(self, word: str) -> bool:
        if self.words[self.at] != word:
            return False
        self.at += 1
        return True

    def _bracketed(self) -> list[str]:
        """Read (a, b ...) and return the source of each piece."""
        if self.words[self.at] != "(":
            raise CannotDraft("a division in a form that is not known")
        depth, first, pieces = 1, self.at + 1, []
        self.at += 1
        while depth:
            word = self.words[self.at]
            if not word:
                raise CannotDraft("brackets that do not close")
            depth += (word == "(") - (word == ")")
            if (depth == 1 and word == ",") or depth == 0:
                pieces.append(self.tokens.source(first, self.at))
                first = self.at + 1
            self.at += 1
        return pieces

    def _split(self, text: str) -> list[str]:
        return [word.strip('"`') for word in lex(text, load_dialect(self.catalog.engine)).words if word]


def _start_of(words: Sequence[str]) -> int:
    """Return where PARTITION BY of a table begins; -1 where its text has none."""
    for at in range(len(words) - 1):
        if words[at] == "PARTITION" and words[at + 1] == "BY":
            return at
    return -1


def read_division(table: Object, catalog: Catalog, target: Target) -> Division | None:
    """Return how a table's own text divides it; None where it does not. Raises CannotDraft for what has no counterpart."""
    if catalog.engine == "teradata":
        return None  # rows are sorted within each server by it: the table is drafted whole
    reader = _Reader(table, catalog, target)
    return reader.division() if reader.at >= 0 else None


def check_division(division: Division, table: Object, catalog: Catalog, target: Target) -> str:
    """Return why PostgreSQL cannot divide the table so, for people; '' where it can."""
    for key in catalog.keys_of(table):
        if not set(division.columns) <= set(key):
            return f"the key ({', '.join(map(shown, key))}) does not hold {', '.join(map(shown, division.columns))}"
    if target.version < _IDENTITY_SINCE and any(column.identity for column in table.columns):
        return "a divided table has no identity column before version 17"
    return ""


def part_statements(division: Division, table: Object, catalog: Catalog, names: Names) -> str:
    """Return CREATE TABLE ... PARTITION OF for each part. Raises CannotDraft for a name that cannot be."""
    text = ""
    for name, bounds in division.parts:
        stored = f"{table.name}_{name}"
        if len(stored.encode()) > _NAME_BYTES:
            raise CannotDraft(f"the name of the part {shown(name)} with that of its table before it is too long")
        if catalog.named(table.schema, stored):
            raise CannotDraft(f"another object has the name of the part {shown(stored)}")
        text += (
            f"\nCREATE TABLE {names.qualified(table.schema, stored)} PARTITION OF "
            f"{names.qualified(table.schema, table.name)} {bounds};"
        )
    return text
