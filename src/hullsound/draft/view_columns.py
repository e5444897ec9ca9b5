"""Columns of views, with the types that their queries give them: the catalogue holds those of tables alone."""

from collections.abc import Callable
from typing import Final
from weakref import WeakKeyDictionary

from hullsound.catalog.model import Catalog, Column, DataType, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.sight.subject import Subject
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import CreateView, Name, Node, Select, Star

from .rewrite import Rewriter

TypeOf = Callable[[Node, Rewriter], DataType | None]
_VIEWS: Final = (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW)
_KNOWN: WeakKeyDictionary[Catalog, dict[str, list[Column]]] = WeakKeyDictionary()
"""Columns that are known, by catalogue and view."""


def columns_of(item: Object, rewriter: Rewriter, type_of: TypeOf) -> list[Column]:
    """Return the columns of a table, or those of a view whose types are known from its query; `type_of` gives those of values."""
    if item.type not in _VIEWS or item.columns:
        return item.columns
    known = _KNOWN.setdefault(rewriter.catalog, {})
    if item.id not in known:
        known[item.id] = []  # a view that reads itself through others
        known[item.id] = _read_columns(item, rewriter, type_of)
    return known[item.id]


def _read_columns(item: Object, rewriter: Rewriter, type_of: TypeOf) -> list[Column]:
    engine = rewriter.catalog.engine
    read = next(read_script(item.text, load_dialect(engine)).statements(), None)
    tree = read.tree if read is not None and read.is_complete else None
    block = tree.query.blocks[0] if isinstance(tree, CreateView) and tree.query.blocks else None
    if read is None or not isinstance(tree, CreateView) or not isinstance(block, Select):
        return []
    inner = Rewriter(Subject(read, Scope(read), engine), rewriter.catalog, rewriter.target, item.id)
    columns: list[Column] = []
    for place, each in enumerate(block.items):
        if isinstance(each.value, Star):
            return columns
        own = each.value.parts[-1] if isinstance(each.value, Name) else ""
        name = tree.columns[place] if place < len(tree.columns) else each.alias or own
        kind = type_of(each.value, inner)
        if name and kind is not None:
            columns.append(Column(name, kind))
    return columns
