"""Groups: columns shown without being grouped by, which any_value() takes from one row; keys that are constants; locked rows."""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sight.detectors.meaning import AGGREGATES, bare_names, loose_names
from hullsound.sql.tree import (
    Call,
    Clause,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Paren,
    Query,
    Row,
    Select,
    TableRef,
)


def add_any_values(rewriter: Rewriter) -> None:
    """Put any_value() around loose columns of grouped queries, and of their order."""
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if not isinstance(block, Select) or not block.group:
                continue
            keyed = keyed_tables(block, rewriter)
            loose = [name for name in loose_names(block, rewriter.subject) if not depends(name, keyed, rewriter)]
            shown = {name.parts for name in loose}
            titles = {item.alias for item in block.items if item.alias}
            for order in query.order if len(query.blocks) == 1 else ():
                value = getattr(order, "value", order)
                if isinstance(value, Name) and value.parts in shown and value.parts[-1] not in titles:
                    loose.append(value)
            for name in loose:
                rewriter.wrap(name, partial(_any_value, name))


def complete_groups(rewriter: Rewriter) -> None:
    """Name in GROUP BY the columns that a grouped primary key settles: Oracle and SQL Server ask for each of them.

    The key must be known: another column that seems to stand by itself may be in an aggregate of one's own.
    """
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if not isinstance(block, Select) or not block.group:
                continue
            shown = [*loose_names(block, rewriter.subject), *_asked_behind(block, query, rewriter)]
            keyed = keyed_tables(block, rewriter)
            grouped = {name.parts[-1] for key in block.group for name in _keys_of(key)}
            shown = [name for name in shown if name.parts[-1] not in grouped]
            loose = [name for name in shown if depends(name, keyed, rewriter)]
            if loose:
                key = block.group[-1]
                rewriter.wrap(key, partial(_completed, key, loose))


def _keys_of(key: Node) -> Iterator[Name]:
    """Yield the columns that a key is, or that it groups by in sets of several."""
    match key:
        case Name():
            yield key
        case Row():
            yield from (name for each in key.items for name in _keys_of(each))
        case Paren():
            yield from _keys_of(key.inner)
        case Call() if key.parts in (("ROLLUP",), ("CUBE",)):
            yield from (name for each in key.arguments for name in _keys_of(each))


def _asked_behind(block: Select, query: Query, rewriter: Rewriter) -> list[Name]:
    """Return the columns of HAVING and ORDER BY that stand in no aggregate and are neither grouped nor a title."""
    known = {key.parts[-1] for key in block.group if isinstance(key, Name)} | {i.alias for i in block.items if i.alias}
    values = [block.having] if block.having is not None else []
    if len(query.blocks) == 1:
        values += [getattr(order, "value", order) for order in query.order]
    names = (name for value in values for name in bare_names(value, rewriter.subject))
    return [name for name in names if name.parts[-1] not in known]


def _completed(key: Node, loose: list[Name], rewriter: Rewriter) -> str:
    if not isinstance(key, Name) and rewriter.words[key.first] in ("ROLLUP", "CUBE", "GROUPING", "("):
        raise CannotDraft("columns beside groups of several levels")
    for name in loose:
        column = rewriter.columns.column(name)
        kind = logical_type(rewriter.catalog.engine, column.type) if column is not None else None
        ungrouped = _UNGROUPED - _GROUPED_THERE.get(rewriter.target.engine, frozenset())
        if kind is not None and kind.kind in ungrouped:
            raise CannotDraft(f"a group by {name.parts[-1].lower()}, a large object")
    return ", ".join(dict.fromkeys([rewriter.node(key), *(_named(name, rewriter) for name in loose)]))


def _named(name: Name, rewriter: Rewriter) -> str:
    """Write a column without what its place in ORDER BY asks for beside it."""
    return ".".join(rewriter.names.write(part) for part in name.parts)


def add_constant_keys(rewriter: Rewriter) -> None:
    """Make an expression of a bare constant that the source groups or orders by; Oracle groups by no place of the list."""
    for block in rewriter.subject.all(Select):
        for key in block.group:
            _add_constant_key(key, rewriter, has_places=rewriter.catalog.engine != "oracle")
    for item in rewriter.subject.all(OrderItem):
        _add_constant_key(item.value, rewriter, has_places=True)


def _add_constant_key(key: Node, rewriter: Rewriter, *, has_places: bool) -> None:
    source = rewriter.subject.source(key)
    is_place = has_places and source.isdecimal() and source != "0"
    bare = key.operands[0] if isinstance(key, Operation) and len(key.operands) == 1 else key
    if isinstance(bare, Literal) and not is_place:
        rewriter.wrap(key, partial(_as_text, key))


def add_locked_groups(rewriter: Rewriter) -> None:
    """Lock the rows that MySQL counts or adds up inside of a query of their own: PostgreSQL locks no groups."""
    subject = rewriter.subject
    locks = [clause for clause in subject.all(Clause) if clause.name in _LOCKS]
    for query in subject.all(Query) if locks else ():
        block = query.blocks[0] if len(query.blocks) == 1 else None
        inside = [clause for clause in locks if query.first <= clause.first < query.last]
        if (
            isinstance(block, Select)
            and len(inside) == 1
            and inside[0].first >= block.last
            and _adds_up(block, rewriter)
        ):
            lock = inside[0]
            rewriter.replace(lock.first, lock.last, "")
            end = block.where.last if block.where is not None else block.sources[-1].last
            rewriter.add(Point(block.sources[0].first, end, partial(_locked, block, end, _LOCKS[lock.name])))


_UNGROUPED: Final = frozenset(("large-text", "large-binary", "json", "xml", "spatial"))
_GROUPED_THERE: Final = {"sqlserver": frozenset(("large-text", "large-binary"))}
"""Kinds that become nvarchar(max) and varbinary(max), which GROUP BY takes (Transact-SQL reference, "SELECT - GROUP BY")."""
"""Kinds of columns that cannot be grouped by."""
_LOCKS: Final = {"for-update": "FOR UPDATE", "for-share": "FOR SHARE", "lock-in-share-mode": "FOR SHARE"}


def _adds_up(block: Select, rewriter: Rewriter) -> bool:
    calls = (call for call in rewriter.subject.all(Call) if call.parts[-1] in AGGREGATES and call.over is None)
    inside = any(item.first <= call.first < item.last for call in calls for item in block.items)
    return bool(block.sources) and (bool(block.group) or inside)


def _locked(block: Select, end: int, lock: str, rewriter: Rewriter) -> str:
    table = block.sources[0]
    if len(block.sources) > 1 or not isinstance(table, TableRef):
        raise CannotDraft("a lock of the rows of several tables that are counted")
    title = rewriter.names.write(table.alias or table.parts[-1])
    return f"(SELECT * FROM {rewriter.text(table.first, end)} {lock}) AS {title}"


def _as_text(key: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(key)} AS text)"


def _any_value(name: Name, rewriter: Rewriter) -> str:
    return f"any_value({rewriter.node(name)})"


def keyed_tables(block: Select, rewriter: Rewriter) -> list[Object]:
    """Return the tables whose whole primary key a query groups by."""
    grouped = {key.parts[-1] for key in block.group if isinstance(key, Name)}
    found = []
    for table in rewriter.columns.tables():
        for each in rewriter.catalog.belonging(table.id):
            constraint = each.constraint
            if constraint is not None and constraint.form == "primary key" and set(constraint.columns) <= grouped:
                found.append(table)
    return found


def depends(name: Name, keyed: list[Object], rewriter: Rewriter) -> bool:
    """Whether a column belongs to a table whose primary key is grouped by, so that each group has one value of it."""
    column = rewriter.columns.column(name)
    return column is not None and any(column in table.columns for table in keyed)
