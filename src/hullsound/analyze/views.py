"""Columns of views, with the types that their queries give them: the catalogue holds those of tables alone."""

from collections.abc import Callable
from typing import Final
from weakref import WeakKeyDictionary

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, DataType, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import CreateView, Name, Node, Select, Star

from .subject import Subject

TypesWithin = Callable[[Subject, Object], Callable[[Node], DataType | None]]
"""Makes, for the query of a view, what gives the types of its values."""
_VIEWS: Final = (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW)
_KNOWN: WeakKeyDictionary[Catalog, dict[str, list[Column]]] = WeakKeyDictionary()
"""Columns that are known, by catalogue and view."""


def columns_of(item: Object, catalog: Catalog, types_within: TypesWithin) -> list[Column]:
    """Return the columns of a table, or those of a view whose types are known from its query."""
    if item.type not in _VIEWS or item.columns:
        return item.columns
    known = _KNOWN.setdefault(catalog, {})
    if item.id not in known:
        known[item.id] = []  # a view that reads itself through others
        known[item.id] = _read_columns(item, catalog.engine, types_within)
    return known[item.id]


def _read_columns(item: Object, engine: str, types_within: TypesWithin) -> list[Column]:
    read = next(read_script(item.text, load_dialect(engine)).statements(), None)
    tree = read.tree if read is not None and read.is_complete else None
    block = tree.query.blocks[0] if isinstance(tree, CreateView) and tree.query.blocks else None
    if read is None or not isinstance(tree, CreateView) or not isinstance(block, Select):
        return []
    type_of = types_within(Subject(read, Scope(read), engine), item)
    columns: list[Column] = []
    for place, each in enumerate(block.items):
        if isinstance(each.value, Star):
            return columns
        own = each.value.parts[-1] if isinstance(each.value, Name) else ""
        name = tree.columns[place] if place < len(tree.columns) else each.alias or own
        kind = type_of(each.value)
        if name and kind is not None:
            columns.append(Column(name, kind))
    return columns
