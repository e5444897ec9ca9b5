"""Rows that a source's scripts write twice: the key that both share holds only one of them.

A folder that holds a schema and the scripts that lead up to it does so, since nobody runs both. The later rows are not
promised. What a DELETE or UPDATE of the scripts may have taken away in between is left aside.
"""

import re
from collections.abc import Iterator
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.conversions.lone_values import lone_values
from hullsound.sql.lexer import NUMBER, STRING
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Insert

_TAKING: Final = re.compile(
    r"(?i)\b(DELETE\s+(?:FROM\s+)?|UPDATE\s+|TRUNCATE\s+(?:TABLE\s+)?|REPLACE\s+INTO\s+)([\w$.\"`\[\]]+)([^;]*)"
)
_CONDITION: Final = re.compile(r"(?i)\bWHERE\b(.*)", re.DOTALL)
_CONSTANT: Final = re.compile(r"'((?:[^']|'')*)'|\b(\d+)\b")
_ASSIGNED: Final = re.compile(r"(?i)(?:\bSET|,)\s*(?:\w+\.)?[`\"\[]?(\w+)[`\"\]]?\s*=")
_MOST_ROWS: Final = 200_000
"""Rows of which the keys are remembered, for all tables together."""

_MEETING: Final = frozenset(("CONFLICT", "DUPLICATE", "IGNORE"))
"""Words of an INSERT that says what to do with a row whose key is there."""


class RowKeys:
    """The keys of the rows that were met so far."""

    def __init__(self, catalog: Catalog) -> None:
        self._keys: dict[str, list[tuple[Object, list[list[str]]]]] = {}
        for table in catalog.objects.values():
            if table.type is ObjectType.TABLE:
                self._keys.setdefault(_bare(table.name), []).append((table, catalog.keys_of(table)))
        self._emptied: set[str] = set()
        """Tables of which no row is sure to be left."""
        self._taken: dict[str, set[str]] = {}
        """Constants of the conditions under which rows of a table are taken away."""
        self._assigned: dict[str, set[str]] = {}
        """Columns of a table that change after rows were written."""
        for item in catalog.objects.values():
            if item.type in (ObjectType.CHANGE, ObjectType.BLOCK):
                self._note_changes(item.text)
        self._met: set[tuple[str, tuple[str, ...], tuple[str, ...]]] = set()

    def _note_changes(self, text: str) -> None:
        for verb, name, rest in _TAKING.findall(text):
            table = _bare(name.rpartition(".")[2])
            if verb.upper().startswith("UPDATE"):
                self._assigned.setdefault(table, set()).update(map(_bare, _ASSIGNED.findall(rest)))
                continue
            condition = _CONDITION.search(rest)
            constants = (
                {one or other for one, other in _CONSTANT.findall(condition[1])} if condition is not None else set()
            )
            if constants:
                self._taken.setdefault(table, set()).update(constants)
            else:
                self._emptied.add(table)

    def repeated(self, read: ReadStatement) -> str:
        """Return the key of a row of an INSERT that an earlier row has, as a text; '' for none."""
        for insert in read.all(Insert):
            name = _bare(insert.table.parts[-1]) if insert.table is not None else ""
            tables = self._keys.get(name, [])
            words = read.tokens.words[insert.first : insert.last]
            if len(tables) != 1 or name in self._emptied or words[0] == "REPLACE" or not _MEETING.isdisjoint(words):
                continue
            table, keys = tables[0]
            names = [_bare(column.parts[-1]) for column in insert.columns] or [_bare(c.name) for c in table.columns]
            for row in _rows(insert, read):
                for key in keys:
                    found = self._find(name, [_bare(column) for column in key], names, row)
                    if found:
                        return found
        return ""

    def _find(self, table: str, key: list[str], names: list[str], row: dict[int, str]) -> str:
        if not key or not set(key) <= set(names) or self._assigned.get(table, set()).intersection(key):
            return ""
        values = tuple(row.get(names.index(column), "") for column in key)
        if self._taken.get(table, set()).intersection(values):
            return ""
        if not all(values) or len(self._met) > _MOST_ROWS:
            return ""
        entry = (table, tuple(key), values)
        if entry in self._met:
            return f"{table.lower()} ({', '.join(key).lower()}) = ({', '.join(values)[:60]})"
        self._met.add(entry)
        return ""


def rows_at(insert: Insert) -> int:
    """Return the token behind the table and the columns of an INSERT, which is VALUES where rows of constants follow."""
    if insert.columns:
        return insert.columns[-1].last + 1
    return insert.table.last if insert.table is not None else insert.first


def _rows(insert: Insert, read: ReadStatement) -> Iterator[dict[int, str]]:
    """Yield the constants of each row by their places; a value of more than one token is left out."""
    words = read.tokens.words
    start = rows_at(insert)
    if words[start] != "VALUES":
        return
    row: dict[int, str] = {}
    last = -1
    for place, at in lone_values(words, start, insert.last):
        if place <= last:
            yield row
            row = {}
        if read.tokens.kinds[at] in (NUMBER, STRING):
            row[place] = read.tokens.source(at, at + 1).strip("'")
        last = place
    if row:
        yield row


def _bare(name: str) -> str:
    return name.strip('"`[]').upper()
