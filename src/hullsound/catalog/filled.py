"""Which rows of scripts leave out a column that must have a value, and what fills it?"""

import re
from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType

_BEFORE_INSERT: Final = re.compile(r"(?i)\bBEFORE\b[^;]*?\bINSERT\b")
_INSERTED: Final = re.compile(r"(?i)\bINTO\s+([^\s(]+)\s*\(([^()]*)\)\s*VALUES\b")
_FILLED_BY_TYPE: Final = frozenset(("ROWVERSION", "TIMESTAMP"))
"""Types that give each row a value, in the T-SQL family and, by default, in MySQL."""


class Gap(NamedTuple):
    """Columns that rows leave out, and the id of the trigger that fills them; '' where nothing surveyed does."""

    columns: tuple[str, ...]
    trigger: str


def rows_with_gaps(catalog: Catalog) -> dict[str, Gap]:
    """Return the ids of such rows."""
    triggers = {
        item.table: item.id
        for item in catalog.objects.values()
        if item.type is ObjectType.TRIGGER and item.table and _BEFORE_INSERT.search(item.text)
    }
    gaps: dict[str, Gap] = {}
    needed: dict[str, set[str]] = {}
    for rows in catalog.objects.values():
        if rows.type is not ObjectType.DATA:
            continue
        for given in _INSERTED.finditer(rows.text):
            parts = tuple(_plain(part) for part in given[1].split("."))
            table = catalog.table(parts, rows.default_schema)
            if table is None or table.type is not ObjectType.TABLE:
                continue
            if table.id not in needed:
                needed[table.id] = {column.name for column in table.columns if _must_be_given(column, table, catalog)}
            missing = needed[table.id] - {_plain(name) for name in given[2].split(",")}
            if missing:
                gaps[rows.id] = Gap(tuple(sorted(missing)), triggers.get(table.id, ""))
    return gaps


def _plain(name: str) -> str:
    return name.strip().strip('`"[]').upper()


def _must_be_given(column: Column, table: Object, catalog: Catalog) -> bool:
    """Whether no row goes in without a value of its own for a column."""
    if column.nullable or column.default or column.identity or column.generated or not column.type.name:
        return False
    if column.type.name in _FILLED_BY_TYPE and catalog.engine in ("sqlserver", "ase", "mysql", "mariadb"):
        return False
    # The only column of a key counts by itself in SQLite where its type is INTEGER.
    counts = catalog.engine == "sqlite" and column.type.name == "INTEGER" and [column.name] in catalog.keys_of(table)
    return not counts
