"""Aggregates that need the rows of a group in an order: MEDIAN, PERCENTILE_CONT, PERCENTILE_DISC and KEEP.

MySQL, MariaDB and SQL Server number the rows of each group in a derived table, and choose among them by the numbers.
Sources: Oracle Database 19c, "SQL Language Reference", "MEDIAN", "PERCENTILE_CONT", "PERCENTILE_DISC", "FIRST" and "LAST";
PostgreSQL 18, "Ordered-Set Aggregate Functions"; MySQL 8.4 Reference Manual, "Window Functions".
"""

import re
from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Clause, OrderItem, Query, Select, Star, TableRef

_TARGETS: Final = ("mysql", "mariadb", "sqlserver")
_PERCENTILES: Final = frozenset(("PERCENTILE_CONT", "PERCENTILE_DISC"))
_KEPT: Final = frozenset(("MAX", "MIN", "SUM", "COUNT"))
_NUMBERS: Final = (Family.INTEGER, Family.NUMBER)
_SHARE: Final = re.compile(r"0?\.\d+|0|1|1\.0+")
_SETS: Final = frozenset(("ROLLUP", "CUBE", "GROUPING", "SETS"))
_RANK: Final = 7


def add_group_windows(rewriter: Rewriter) -> None:
    """Write each query with such aggregates over numbered rows."""
    found, kept = _ordered_calls(rewriter)
    by_query: dict[Query, list[Call]] = {}
    for call in found:
        query = rewriter.subject.read.innermost(Query, call)
        if query is None or call.over is not None:
            rewriter.add(Point(call.first, call.last, _refuse, rank=_RANK))
        else:
            by_query.setdefault(query, []).append(call)
    for query, calls in by_query.items():
        _add(query, sorted(calls, key=lambda each: each.first), kept, rewriter)


def numbered_orders(rewriter: Rewriter) -> set[OrderItem]:
    """Return the orders within such aggregates, which the numbers of rows take care of, NULL among them."""
    calls, _ = _ordered_calls(rewriter)
    return {item for call in calls for item in rewriter.subject.read.inside(OrderItem, call.closing, call.last)}


def _ordered_calls(rewriter: Rewriter) -> tuple[list[Call], dict[int, Clause]]:
    """Return the calls of such aggregates, and the clauses KEEP by their first tokens."""
    if rewriter.target.engine not in _TARGETS or rewriter.catalog.engine in _TARGETS:
        return [], {}
    modified = [call for call in rewriter.subject.all(Call) if call.modified or call.parts == ("MEDIAN",)]
    if not modified:
        return [], {}
    kept = {clause.first: clause for clause in rewriter.subject.all(Clause) if clause.name == "keep-first-last"}
    return [call for call in modified if _is_ordered(call, kept)], kept


def _is_ordered(call: Call, kept: dict[int, Clause]) -> bool:
    name = call.parts[-1]
    is_kept = any(call.closing < first < call.last for first in kept)
    return len(call.parts) == 1 and (name == "MEDIAN" or name in _PERCENTILES or is_kept)


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("an aggregate over rows in an order, as a window or outside of a query of one table")


def _add(query: Query, calls: list[Call], kept: dict[int, Clause], rewriter: Rewriter) -> None:
    block = query.blocks[0] if len(query.blocks) == 1 else None
    source = block.sources[0] if isinstance(block, Select) and len(block.sources) == 1 else None
    words = rewriter.words
    is_plain = (
        isinstance(block, Select)
        and isinstance(source, TableRef)
        and not _SETS.intersection(words[block.group[0].first - 1 : block.group[-1].last] if block.group else ())
    )
    if not is_plain or not isinstance(block, Select) or not isinstance(source, TableRef):
        for call in calls:
            rewriter.add(Point(call.first, call.last, _refuse, rank=_RANK))
        return
    end = block.where.last if block.where is not None else source.last
    rewriter.add(Point(block.from_at, end, partial(_source, block, source, calls, kept), rank=1))
    for number, call in enumerate(calls, start=1):
        rewriter.add(Point(call.first, call.last, partial(_chosen, call, number, kept), rank=_RANK))


# --- the rows, numbered ---


def _source(block: Select, source: TableRef, calls: list[Call], kept: dict[int, Clause], rewriter: Rewriter) -> str:
    """Write FROM with a derived table of the rows, under the name by which the query knows them."""
    name = rewriter.names.write(source.alias or source.parts[-1])
    keys = ", ".join(rewriter.elsewhere(each) for each in block.group)
    partition = f"PARTITION BY {keys} " if keys else ""
    columns = [f"{name}.*"]
    for number, call in enumerate(calls, start=1):
        columns += _numbers(call, number, partition, kept, rewriter)
    where = f" WHERE {rewriter.node(block.where)}" if block.where is not None else ""
    return f"FROM (SELECT {', '.join(columns)} FROM {rewriter.node(source)}{where}) {name}"


def _numbers(call: Call, number: int, partition: str, kept: dict[int, Clause], rewriter: Rewriter) -> Iterator[str]:
    clause = _clause(call, kept)
    if clause is not None:
        is_last = "LAST" in rewriter.words[clause.first : clause.first + 4]
        items = rewriter.subject.read.inside(OrderItem, clause.first, clause.last)
        order = ", ".join(_ordered(each, is_last, rewriter) for each in sorted(items, key=lambda each: each.first))
        yield f"DENSE_RANK() OVER ({partition}ORDER BY {order}) AS hs_rank{number}"
        return
    item = _item(call, rewriter)
    value = rewriter.elsewhere(item.value)
    order = f"CASE WHEN {value} IS NULL THEN 1 ELSE 0 END, {value}{' DESC' if item.descending else ''}"
    yield f"ROW_NUMBER() OVER ({partition}ORDER BY {order}) AS hs_row{number}"
    over = f"OVER ({partition.strip()})"
    yield f"COUNT({value}) {over} AS hs_count{number}"


def _ordered(item: OrderItem, is_last: bool, rewriter: Rewriter) -> str:
    """Write an item of KEEP, turned around for LAST; NULL is the highest value unless the item says otherwise."""
    value = rewriter.elsewhere(item.value)
    nulls_last = item.nulls.upper() == "LAST" if item.nulls else not item.descending
    down = " DESC" if item.descending != is_last else ""
    if rewriter.types.is_never_null(item.value):
        return f"{value}{down}"
    null_rank = int(nulls_last != is_last)
    return f"CASE WHEN {value} IS NULL THEN {null_rank} ELSE {1 - null_rank} END, {value}{down}"


def _clause(call: Call, kept: dict[int, Clause]) -> Clause | None:
    return next((clause for first, clause in kept.items() if call.closing < first < call.last), None)


def _item(call: Call, rewriter: Rewriter) -> OrderItem:
    """Return the value whose rows are put in order. Raises CannotDraft for several, and for DISTINCT and FILTER."""
    if call.parts == ("MEDIAN",):
        if call.quantifier or len(call.arguments) != 1 or call.last != call.closing + 1:
            raise CannotDraft("MEDIAN of distinct values, or with more than one argument")
        return OrderItem(call.arguments[0].first, call.arguments[0].last, call.arguments[0])
    items = rewriter.subject.read.inside(OrderItem, call.closing, call.last)
    if len(items) != 1 or rewriter.words[call.last - 1] != ")" or "FILTER" in rewriter.words[call.closing : call.last]:
        raise CannotDraft("a percentile of several values, or by a filter")
    return items[0]


# --- the row that is chosen ---


def _chosen(call: Call, number: int, kept: dict[int, Clause], rewriter: Rewriter) -> str:
    if _clause(call, kept) is not None:
        return _kept(call, number, rewriter)
    item = _item(call, rewriter)
    value, family = rewriter.node(item.value), rewriter.types.family(item.value)
    row, count = f"hs_row{number}", f"hs_count{number}"
    share = "0.5" if call.parts == ("MEDIAN",) else rewriter.subject.source(call.arguments[0])
    if not _SHARE.fullmatch(share):
        raise CannotDraft("a percentile that no constant tells")
    if call.parts == ("PERCENTILE_DISC",):
        place = f"CASE WHEN {share} * {count} <= 1 THEN 1 ELSE CEILING({share} * {count}) END"
        return f"MAX(CASE WHEN {row} = {place} THEN {value} END)"
    if family not in _NUMBERS:
        raise CannotDraft("the middle of values that are no numbers")
    if rewriter.target.engine == "sqlserver" and family is Family.INTEGER:
        value = f"CAST({value} AS decimal(38, 6))"
    if float(share) == 0.5:
        return f"AVG(CASE WHEN 2 * {row} BETWEEN {count} AND {count} + 2 THEN {value} END)"
    place = f"({share} * ({count} - 1) + 1)"
    low = f"MAX(CASE WHEN {row} = FLOOR{place} THEN {value} END)"
    high = f"MAX(CASE WHEN {row} = CEILING{place} THEN {value} END)"
    return f"({low} + ({high} - {low}) * MAX({place} - FLOOR{place}))"


def _kept(call: Call, number: int, rewriter: Rewriter) -> str:
    """Write an aggregate over the rows of the first rank."""
    if call.parts[-1] not in _KEPT or len(call.arguments) != 1 or call.quantifier:
        raise CannotDraft("an aggregate of another kind over the first or last rows")
    argument = call.arguments[0]
    value = "1" if isinstance(argument, Star) else rewriter.node(argument)
    return f"{call.parts[-1]}(CASE WHEN hs_rank{number} = 1 THEN {value} END)"
