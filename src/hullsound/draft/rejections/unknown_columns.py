"""Columns that a draft names and its drafted table has not, which no engine takes."""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.local_tables import local_columns
from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    AnonymousBlock,
    CreateIndex,
    CreateRoutine,
    CreateTrigger,
    Delete,
    Insert,
    Name,
    Node,
    Paren,
    Select,
    SelectItem,
    TableRef,
    Update,
)

_BORROWING: Final = re.compile(r"(?i)^[^(]*(?:\(\s*LIKE\b|\b(?:AS|LIKE)\b|\bPARTITION\s+OF\b)")
"""Beginnings of tables that take columns from elsewhere."""
_NAMES_OF_ITS_OWN: Final = frozenset(
    """CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER SESSION_USER USER CURRENT_ROLE
    CURRENT_SCHEMA CURRENT_CATALOG DEFAULT CTID XMIN TABLEOID UTC_DATE UTC_TIME UTC_TIMESTAMP""".split()
)
"""Names that are no columns of a table's own: PostgreSQL 18, "Session Information Functions", "Date/Time Functions"."""
_UNITS: Final = frozenset(
    f"{first}{rest}"
    for first in ("MICROSECOND", "SECOND", "MINUTE", "HOUR", "DAY", "WEEK", "MONTH", "QUARTER", "YEAR")
    for rest in ("", "_MICROSECOND", "_SECOND", "_MINUTE", "_HOUR", "_MONTH")
)
"""Units of INTERVAL in MySQL and MariaDB, and more words that no column is called."""


def unknown_columns(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    """Say which columns a change, an index or a key names that its drafted table has not."""
    for insert in read.all(Insert):
        if insert.table is not None:
            yield from _missing(insert.table.parts, (column.parts[-1] for column in insert.columns), rewriter)
    for update in read.all(Update):
        if isinstance(update.table, TableRef):
            names = (
                place.parts[0] for place, _ in update.assignments if isinstance(place, Name) and len(place.parts) == 1
            )
            yield from _missing(update.table.parts, names, rewriter)
    tree = read.tree
    if isinstance(tree, CreateIndex):
        yield from _missing_keys(tree, tree.table, rewriter)
    elif isinstance(tree, AlterTable):
        for constraint in tree.constraints:
            yield from _missing(tree.name, constraint.columns, rewriter)
        for index in tree.indexes:
            yield from _missing_keys(index, tree.name, rewriter)
    elif isinstance(tree, CreateTrigger):
        rows = (name.parts[1] for name in read.all(Name) if len(name.parts) == 2 and name.parts[0] in ("NEW", "OLD"))
        yield from _missing(tree.table, rows, rewriter)
    elif not isinstance(tree, CreateRoutine | AnonymousBlock):  # whose variables are names as well
        yield from _missing_in_block(read, rewriter)


def _missing_keys(index: CreateIndex, table: tuple[str, ...], rewriter: Rewriter) -> Iterator[str]:
    values = (inner(key.value) for key in index.keys)
    yield from _missing(table, (value.parts[-1] for value in values if isinstance(value, Name)), rewriter)


def _missing_in_block(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    """Say which names of a statement over a single table are no columns of it."""
    selects, tree = read.all(Select), read.tree
    table: Node
    within: Node
    if len(selects) == 1 and len(selects[0].sources) == 1 and not isinstance(tree, Update | Delete):
        table, within = selects[0].sources[0], selects[0]
    elif not selects and isinstance(tree, Update | Delete) and len(read.all(TableRef)) == 1:
        table, within = tree.table, tree
    else:
        return
    if isinstance(table, TableRef):
        known = {item.alias for item in read.all(SelectItem)} | _NAMES_OF_ITS_OWN | {table.alias, table.parts[-1]}
        known |= _UNITS if rewriter.target.engine != "postgresql" else set()
        names = (
            name.parts[0]
            for name in read.all(Name)
            if len(name.parts) == 1 and within.first <= name.first < within.last
        )
        yield from _missing(table.parts, (name for name in names if name not in known), rewriter)


def _missing(parts: tuple[str, ...], names: Iterable[str], rewriter: Rewriter) -> Iterator[str]:
    if not parts or parts[-1] in local_columns(rewriter.subject):
        return
    table = rewriter.catalog.table(parts, rewriter.default_schema)
    if table is None or table.type is not ObjectType.TABLE or not table.columns:
        return
    if "query" in table.details or _BORROWING.search(table.text):
        return
    columns = rewriter.catalog.column_names(table)
    for name in names:
        if name.strip('"').lower() not in columns:
            yield f"the column {name.lower()} is not in the table {table.name.lower()}"


def inner(node: Node) -> Node:
    """Return what stands in parentheses."""
    while isinstance(node, Paren):
        node = node.inner
    return node
