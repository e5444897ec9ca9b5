"""Columns that a draft names and its drafted table has not, which no engine takes."""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.local_tables import local_columns
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.load import load_engine
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    Call,
    ColumnDefinition,
    CommonTable,
    CreateIndex,
    CreateTable,
    CreateTrigger,
    DerivedTable,
    Execute,
    Insert,
    Name,
    Node,
    Operation,
    Paren,
    SelectItem,
    TableFunction,
    TableRef,
    Update,
)

_BORROWING: Final = re.compile(r"(?i)^[^(]*(?:\(\s*LIKE\b|\b(?:AS|LIKE)\b|\bPARTITION\s+OF\b)")
"""Beginnings of tables that take columns from elsewhere."""
_KINDS_OF_JSON: Final = frozenset(("OBJECT", "ARRAY", "SCALAR", "VALUE"))
_SIGNED: Final = ("@", "#", ":", "$")
"""First signs of variables, temporary tables and parameters."""
_NAMING: Final = frozenset(
    """NEXTVAL LASTVAL SETVAL CURRVAL DATEADD DATEDIFF DATEDIFF_BIG DATEPART DATENAME DATETRUNC DATE_BUCKET TIMESTAMPADD
    TIMESTAMPDIFF EXTRACT DATE_ADD DATE_SUB ADDDATE SUBDATE GET_FORMAT""".split()
)
"""Functions whose first argument is the name of a sequence or of a unit of time."""
_UNITS: Final = frozenset(
    f"{first}{rest}"
    for first in ("MICROSECOND", "SECOND", "MINUTE", "HOUR", "DAY", "WEEK", "MONTH", "QUARTER", "YEAR")
    for rest in ("", "_MICROSECOND", "_SECOND", "_MINUTE", "_HOUR", "_MONTH")
)
"""Units behind the number of an INTERVAL."""


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
    else:
        yield from _missing_anywhere(read, rewriter)


def _missing_keys(index: CreateIndex, table: tuple[str, ...], rewriter: Rewriter) -> Iterator[str]:
    values = (inner(key.value) for key in index.keys)
    yield from _missing(table, (value.parts[-1] for value in values if isinstance(value, Name)), rewriter)


def _missing_anywhere(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    """Say which names of a statement or routine are columns of none of its tables, nor anything else that it knows by name."""
    columns = _columns_within(read, rewriter)
    if columns is None:
        return
    scope = rewriter.subject.scope
    known = columns | {_bare(name) for name in (*scope.declared, *scope.aliases, *scope.locals)}
    known |= {_bare(item.alias) for item in read.all(SelectItem)} | _aliases_by_equals(read, rewriter)
    known |= {_bare(column) for common in read.all(CommonTable) for column in common.columns}
    known |= {name for alias in (*read.all(DerivedTable), *read.all(TableRef)) for name in _named_behind(alias, read)}
    words = load_engine(rewriter.target.engine).value_word_names | _UNITS | _KINDS_OF_JSON
    others = {inner(each) for call in read.all(Call) if call.parts[-1] in _NAMING for each in call.arguments[:1]}
    others |= {execute.text for execute in read.all(Execute) if execute.text is not None}
    for name in read.all(Name):
        word = name.parts[0]
        if len(name.parts) > 1 or name in others or word in words or word.startswith(_SIGNED):
            continue
        if _bare(word) not in known:
            yield f"the name {_bare(word)}, which none of its tables has"


def _columns_within(read: ReadStatement, rewriter: Rewriter) -> set[str] | None:
    """Return the columns of all tables of a statement; None where one of them does not tell its own."""
    makes_by_query = any(made is not read.tree and not made.columns for made in read.all(CreateTable))
    if makes_by_query or read.all(TableFunction):
        return None
    local = local_columns(rewriter.subject)
    columns = {_bare(column.name) for made in local.values() for column in made}
    columns |= {_bare(column.name) for column in read.all(ColumnDefinition)}
    for ref in read.all(TableRef):
        table = rewriter.catalog.table(ref.parts, rewriter.default_schema)
        if table is not None and _tells_columns(table):
            columns |= rewriter.catalog.column_names(table)
        elif ref.parts[-1] not in rewriter.subject.scope.locals and ref.parts[-1] not in local:
            return None
    return columns


def _aliases_by_equals(read: ReadStatement, rewriter: Rewriter) -> set[str]:
    """Return the aliases that SQL Server takes as name = value."""
    values = [item.value for item in read.all(SelectItem)] if rewriter.target.engine == "sqlserver" else []
    tests = [value for value in values if isinstance(value, Operation) and value.operators[0] == "="]
    return {_bare(test.operands[0].parts[-1]) for test in tests if isinstance(test.operands[0], Name)}


def _named_behind(table: Node, read: ReadStatement) -> list[str]:
    """Return the names in parentheses behind an alias."""
    words = read.tokens.words[table.first : table.last]
    opening = len(words) - 1 - words[::-1].index("(") if words and words[-1] == ")" and "(" in words else 0
    return [_bare(word) for word in words[opening + 1 : -1] if word != ","] if opening else []


def _bare(name: str) -> str:
    return name.strip('"`[]').lower()


def _missing(parts: tuple[str, ...], names: Iterable[str], rewriter: Rewriter) -> Iterator[str]:
    if not parts or parts[-1] in local_columns(rewriter.subject):
        return
    table = rewriter.catalog.table(parts, rewriter.default_schema)
    if table is None or not _tells_columns(table):
        return
    columns = rewriter.catalog.column_names(table)
    for name in names:
        if name.strip('"').lower() not in columns:
            yield f"the column {name.lower()} is not in the table {table.name.lower()}"


def _tells_columns(table: Object) -> bool:
    """Whether all columns of a table stand in its own text."""
    is_whole = table.type is ObjectType.TABLE and bool(table.columns)
    return is_whole and "query" not in table.details and not _BORROWING.search(table.text)


def inner(node: Node) -> Node:
    """Return what stands in parentheses."""
    while isinstance(node, Paren):
        node = node.inner
    return node
