"""Columns beside aggregates that no group settles, which MySQL and SQLite answer with the value of some row, and others refuse.

Sources: MySQL 8.4 Reference Manual, "MySQL Handling of GROUP BY"; SQLite documentation, "SELECT", "Bare columns in an aggregate
query".
"""

from collections.abc import Iterator
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL, bare_names
from hullsound.sql.tree import Call, Name, Node, Query, Select, TableRef

from .grouping import depends, keyed_tables

_MYSQL: Final = ("mysql", "mariadb")


def refuse_loose_queries(rewriter: Rewriter) -> None:
    """Raise CannotDraft for such a column in a query without groups, in HAVING, or in ORDER BY."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if source not in (*_MYSQL, "sqlite") or (source in _MYSQL and target in _MYSQL):
        return
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if isinstance(block, Select) and next(_loose(block, query, rewriter), None) is not None:
                raise CannotDraft("a column beside an aggregate, for which the value of any row may stand")


def _loose(block: Select, query: Query, rewriter: Rewriter) -> Iterator[Name]:
    values = [block.having] if block.having is not None else []
    if block.group:
        values += [getattr(each, "value", each) for each in query.order] if len(query.blocks) == 1 else []
    elif _aggregates(block, query, rewriter):
        values += [item.value for item in block.items]
    else:
        return
    grouped = {rewriter.subject.source(key).upper() for key in block.group}
    known = {key.parts[-1] for key in block.group if isinstance(key, Name)} | {each.title for each in block.items}
    keyed = keyed_tables(block, rewriter)
    for value in values:
        for name in bare_names(value, rewriter.subject):
            settled = (block.group and name.parts[-1] in known) or depends(name, keyed, rewriter)
            if not settled and _is_own(name, block, query, rewriter) and not _within(name, value, grouped, rewriter):
                yield name


def _aggregates(block: Select, query: Query, rewriter: Rewriter) -> bool:
    """Whether an aggregate stands in the list of a query itself; MAX and MIN of several values are none in SQLite."""
    calls = rewriter.subject.read.inside(Call, block.items[0].first, block.items[-1].last) if block.items else ()
    return any(
        each.over is None
        and each.parts[-1] in AGGREGATES_OF_ALL
        and not (each.parts[-1] in ("MAX", "MIN") and len(each.arguments) > 1)
        and rewriter.subject.read.innermost(Query, each) is query
        for each in calls
    )


def _is_own(name: Name, block: Select, query: Query, rewriter: Rewriter) -> bool:
    """Whether a name means a column of the query's own tables, as far as that is plain: not one of a query around it."""
    own = {part for each in block.sources for part in _names(each, rewriter)}
    if len(name.parts) > 1:
        return name.parts[-2] in own
    around = [each for each in rewriter.subject.all(Query) if each.first < query.first and query.last <= each.last]
    return not around and rewriter.columns.column(name) is not None


def _names(source: Node, rewriter: Rewriter) -> Iterator[str]:
    for table in rewriter.subject.read.inside(TableRef, source.first, source.last):
        yield table.alias or table.parts[-1]


def _within(name: Name, value: Node, grouped: set[str], rewriter: Rewriter) -> bool:
    """Whether a name is part of an expression that the query groups by."""
    node: Node | None = name
    while node is not None and value.first <= node.first and node.last <= value.last:
        if rewriter.subject.source(node).upper() in grouped:
            return True
        node = rewriter.subject.read.parent(node)
    return False
