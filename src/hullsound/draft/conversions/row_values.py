"""Values that an INSERT keeps: the types of its columns, and what stands for them in its rows and select lists."""

from collections.abc import Iterator
from typing import Final

from hullsound.analyze.local_tables import local_columns
from hullsound.catalog.model import DataType, ObjectType
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Case, Cast, Insert, Literal, Name, Node, Operation, Paren, Select, Subquery, Update

from .lone_values import lone_values

_NUMBERING: Final = frozenset(("sqlserver", "ase"))
"""Engines in which rows without a list of columns leave out identity columns."""
_VALUES: Final = (Paren, Subquery, Case, Cast, Operation, Call, Name, Literal)


def inserted_types(insert: Insert, rewriter: Rewriter) -> list[DataType]:
    """Return the source types of the columns that an INSERT fills, in its order; none for what is no table."""
    if insert.table is None:
        return []
    item = rewriter.table(insert.table.parts)
    columns = item.columns if item is not None and item.type is ObjectType.TABLE else []
    columns = columns or local_columns(rewriter.subject).get(insert.table.parts[-1], [])
    types = {column.name: column.type for column in columns}
    takes_all = rewriter.catalog.engine not in _NUMBERING
    names = [column.parts[-1] for column in insert.columns] or [
        column.name for column in columns if takes_all or not (column.identity or column.generated)
    ]
    return [types.get(name) or types.get(name.upper()) or DataType("") for name in names]


def inserted_literals(insert: Insert, places: set[int], rewriter: Rewriter) -> Iterator[tuple[int, Literal]]:
    """Yield the constants that stand alone in VALUES (...) at some of the places of its rows."""
    by_first = {literal.first: literal for literal in rewriter.subject.all(Literal)}
    for place, at in lone_values(rewriter.words, *rows_span(insert)):
        if place in places and at in by_first:
            yield place, by_first[at]


def rows_span(insert: Insert) -> tuple[int, int]:
    """Return first and last token between which the rows of an INSERT stand."""
    start = insert.columns[-1].last + 1 if insert.columns else insert.table.last if insert.table else insert.first
    return start, insert.last


def kept_in_columns(rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    """Yield what UPDATE and INSERT keep in columns, with the type of each column."""
    for update in rewriter.subject.all(Update):
        for column, value in update.assignments:
            kind = rewriter.types.source_type(column)
            if kind is not None:
                yield kind, value
    inserts = rewriter.subject.all(Insert)
    with_rows = any(insert.query is None for insert in inserts)
    nodes = {(node.first, node.last): node for kind in _VALUES if with_rows for node in rewriter.subject.all(kind)}
    for insert in inserts:
        if insert.query is None:
            yield from _in_rows(insert, nodes, rewriter)
            continue
        block = insert.query.blocks[0] if len(insert.query.blocks) == 1 else None
        if isinstance(block, Select):
            yield from zip(inserted_types(insert, rewriter), (item.value for item in block.items), strict=False)


def _in_rows(insert: Insert, nodes: dict[tuple[int, int], Node], rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    """Yield each value of VALUES (...) that is one node of the tree, looked up by its first and last token."""
    kinds, words = inserted_types(insert, rewriter), rewriter.words
    start, end = rows_span(insert)
    if not kinds:
        return
    depth, place, first = 0, 0, start
    for at in range(start, end):
        word = words[at]
        if word == "(":
            depth += 1
            if depth == 1:
                place, first = 0, at + 1
        elif word in (",", ")") and depth == 1:
            value = nodes.get((first, at))
            if value is not None and place < len(kinds):
                yield kinds[place], value
            place, first = place + 1, at + 1
        elif depth == 0 and first > start and word not in (",", "ROW"):
            return  # a clause behind the rows, whose brackets hold none
        depth -= word == ")"
