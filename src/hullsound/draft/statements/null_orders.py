"""Where NULL sorts: before all values in one engine, behind them in another, unless ORDER BY says it.

NULL sorts low in MySQL, MariaDB, SQL Server, ASE, SQLite and Teradata, high in PostgreSQL, Oracle and Db2: their manuals,
"ORDER BY".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL
from hullsound.sql.tree import (
    Call,
    Case,
    Clause,
    CreateIndex,
    Join,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Paren,
    Query,
    Select,
)

from .group_windows import numbered_orders

NULLS_LOW: Final = frozenset(("mysql", "mariadb", "sqlserver", "ase", "sqlite", "teradata"))
_SAYING: Final = frozenset(("postgresql", "oracle"))
"""Targets with NULLS FIRST and NULLS LAST."""
_ALIASED: Final = frozenset(("mysql", "mariadb"))
"""Targets that take a title of the select list inside of an expression of ORDER BY, but of an aggregate."""
_KEEPING_NULL: Final = frozenset(("+", "-", "*", "||"))
"""Operators that give NULL for no operands but NULL."""
_SUBTOTALS: Final = frozenset(("rollup", "cube", "grouping-sets", "with-rollup", "with-cube"))
_RANK: Final = 9
_OUTERMOST: Final = 10


def add_null_orders(rewriter: Rewriter) -> None:
    """Say where NULL sorts for every key that may be NULL, if source and target sort it apart."""
    is_low = rewriter.catalog.engine in NULLS_LOW
    if is_low == (rewriter.target.engine in NULLS_LOW) or isinstance(rewriter.subject.tree, CreateIndex):
        return
    shown = _shown_values(rewriter)
    numbered = numbered_orders(rewriter)
    for item in rewriter.subject.all(OrderItem):
        if item in numbered:
            continue
        value, query = shown.get(item.first, (item.value, None))
        if item.nulls and rewriter.target.engine == "sqlserver":
            _say_nulls(item, value, query, rewriter)
        if item.nulls or not _may_be_null(value, rewriter):
            continue
        if rewriter.target.engine in _SAYING:
            place = "FIRST" if is_low != item.descending else "LAST"
            if isinstance(item.value, Name) and rewriter.columns.column(item.value) is None:
                rewriter.insert_behind(item, f" NULLS {place}")  # it may stand for what only running code knows
            else:
                rewriter.wrap(item, partial(_with_place, item, place), rank=_OUTERMOST)
        else:
            rewriter.wrap(item.value, partial(_with_null_key, item, value, query), rank=_RANK)


def _with_place(item: OrderItem, place: str, rewriter: Rewriter) -> str:
    return f"{rewriter.node(item)} NULLS {place}"


def _shown_values(rewriter: Rewriter) -> dict[int, tuple[Node, Query]]:
    """Return what the keys of queries stand for, by their first tokens: the values of titles and of places in the list."""
    found: dict[int, tuple[Node, Query]] = {}
    for query in rewriter.subject.all(Query):
        block = query.blocks[0] if query.blocks else None
        items = block.items if isinstance(block, Select) else []
        titles = {item.alias: item.value for item in items if item.alias}
        for order in query.order:
            key = getattr(order, "value", order)
            if not isinstance(order, OrderItem):
                continue
            text = rewriter.subject.source(key) if isinstance(key, Literal) else ""
            if text.isdecimal() and 0 < int(text) <= len(items):
                key = items[int(text) - 1].value
            elif isinstance(key, Name) and len(key.parts) == 1:
                key = titles.get(key.parts[0], key)
            found[order.first] = (key, query)
    return found


def _may_be_null(value: Node, rewriter: Rewriter) -> bool:
    if rewriter.types.is_never_null(value):
        return any(clause.name in _SUBTOTALS for clause in rewriter.subject.all(Clause))
    match value:
        case Paren():
            return _may_be_null(value.inner, rewriter)
        case Name():
            column = rewriter.columns.column(value)
            joins = any("LEFT" in j.kind or "RIGHT" in j.kind or "FULL" in j.kind for j in rewriter.subject.all(Join))
            return column is None or column.nullable or joins
        case Operation() if set(value.operators) <= _KEEPING_NULL:
            return any(_may_be_null(each, rewriter) for each in value.operands)
        case Case() if value.otherwise is not None:
            choices = [value.otherwise, *(then for _, then in value.branches)]
            return any(_may_be_null(each, rewriter) for each in choices)
    return True


def _say_nulls(item: OrderItem, value: Node, query: Query | None, rewriter: Rewriter) -> None:
    """Write NULLS FIRST and LAST as a key before, unless SQL Server, where NULL sorts low, does so by itself."""
    rewriter.replace(item.last - 2, item.last, "")
    if (item.nulls.upper() == "FIRST") == item.descending:
        rewriter.wrap(item.value, partial(_with_null_key, item, value, query), rank=_RANK)


def _with_null_key(item: OrderItem, value: Node, query: Query | None, rewriter: Rewriter) -> str:
    """Write a key before it that sorts NULL as the source does. Raises CannotDraft where a query takes no further keys."""
    text = rewriter.node(item.value)
    tested = text
    is_title = rewriter.target.engine in _ALIASED and isinstance(item.value, Name)
    if value is not item.value and not (is_title and not _has_aggregate(value, rewriter)):
        tested = rewriter.elsewhere(value).removeprefix(rewriter.before(value.first))  # such as TOP (n)
    is_aliased = rewriter.target.engine in _ALIASED
    is_bound = query is not None and (len(query.blocks) > 1 or (_is_distinct(query, rewriter) and not is_aliased))
    if is_bound:
        raise CannotDraft("the order of NULL beside DISTINCT or UNION")
    is_first = item.nulls.upper() == "FIRST" if item.nulls else item.descending
    return f"CASE WHEN {tested} IS NULL THEN 1 ELSE 0 END{' DESC' if is_first else ''}, {text}"


def _has_aggregate(value: Node, rewriter: Rewriter) -> bool:
    """Whether a value counts over a group: its title stands by itself alone in ORDER BY of MySQL and MariaDB."""
    calls = rewriter.subject.read.inside(Call, value.first, value.last)
    return any(call.over is None and call.parts[-1] in AGGREGATES_OF_ALL for call in calls)


def _is_distinct(query: Query, rewriter: Rewriter) -> bool:
    block = query.blocks[0]
    words = rewriter.words[block.first : block.first + 3]
    return "DISTINCT" in words and words[-1] != "ON"
