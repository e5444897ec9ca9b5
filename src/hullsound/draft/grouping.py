"""Groups: columns that a query shows without grouping by them, for which any_value() takes one of a group's rows, and constants."""

from functools import partial

from hullsound.catalog.model import Object
from hullsound.sight.detectors.meaning import loose_names
from hullsound.sql.tree import Literal, Name, Node, Operation, OrderItem, Query, Select

from .rewrite import Rewriter
from .values import find_column, source_tables


def add_any_values(rewriter: Rewriter) -> None:
    """Put any_value() around loose columns of grouped queries, and of their order."""
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if not isinstance(block, Select) or not block.group:
                continue
            keyed = _keyed_tables(block, rewriter)
            loose = [name for name in loose_names(block, rewriter.subject) if not _depends(name, keyed, rewriter)]
            shown = {name.parts for name in loose}
            titles = {item.alias for item in block.items if item.alias}
            for order in query.order if len(query.blocks) == 1 else ():
                value = getattr(order, "value", order)
                if isinstance(value, Name) and value.parts in shown and value.parts[-1] not in titles:
                    loose.append(value)
            for name in loose:
                rewriter.wrap(name, partial(_any_value, name))


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


def _as_text(key: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(key)} AS text)"


def _any_value(name: Name, rewriter: Rewriter) -> str:
    return f"any_value({rewriter.node(name)})"


def _keyed_tables(block: Select, rewriter: Rewriter) -> list[Object]:
    """Return the tables whose whole primary key a query groups by."""
    grouped = {key.parts[-1] for key in block.group if isinstance(key, Name)}
    found = []
    for table in source_tables(rewriter):
        for each in rewriter.catalog.belonging(table.id):
            constraint = each.constraint
            if constraint is not None and constraint.form == "primary key" and set(constraint.columns) <= grouped:
                found.append(table)
    return found


def _depends(name: Name, keyed: list[Object], rewriter: Rewriter) -> bool:
    """Whether a column belongs to a table whose primary key is grouped by, so that each group has one value of it."""
    column = find_column(name, rewriter)
    return column is not None and any(column in table.columns for table in keyed)
