"""What a draft says over a table that was not surveyed, if its columns are of one type or another."""

import copy
from collections.abc import Iterator
from typing import Final

from hullsound.analyze.types import Family
from hullsound.analyze.unseen import PLAIN, Unseen
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType, object_id
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.load import load_engine
from hullsound.knowledge.types import parse_type

from .code import CodeDraft, draft_code

_TOLD: Final = 3
"""How many columns a reason names."""


def told_by_types(code: CodeDraft, catalog: Catalog, item: Object, target: Target) -> str:
    """Return of which columns the types decide what becomes of an object, as words; '' where its draft holds for all of them.

    `code` is the draft that knows nothing of the columns.
    """
    unseen = code.unseen
    deciding = [
        family
        for family, assumed in _assumptions(unseen, catalog, item.default_schema or item.schema)
        if not _is_same(code, item, assumed, target)
    ]
    if not deciding:
        return ""
    open_columns = [
        (f"{table[-1]}.{column}".lower(), families)
        for table, columns in unseen.items()
        for column, families in columns.items()
        if len(families) > 1 and not families.isdisjoint(deciding)
    ]
    used = [name for name, families in open_columns if families != PLAIN] or [name for name, _ in open_columns]
    more = f" and {len(used) - _TOLD} more" if len(used) > _TOLD else ""
    return f"{', '.join(used[:_TOLD])}{more}: another text if {' or '.join(map(str, deciding))}"


def _is_same(code: CodeDraft, item: Object, assumed: Catalog, target: Target) -> bool:
    """Whether the draft over an assumed catalogue says the same, and no more of it is for a person."""
    try:
        other = draft_code(item, assumed, target)
    except CannotDraft:
        return False
    return not other.skipped and other.by_types == code.by_types and other.text.split() == code.text.split()


def _assumptions(unseen: Unseen, catalog: Catalog, default_schema: str) -> Iterator[tuple[Family, Catalog]]:
    """Yield for each family that some column may be of a catalogue in which it is; the others are what they must be."""
    usual = {Family(family): parse_type(name) for family, name in load_engine(catalog.engine).usual_types.items()}
    open_families = [f for f in usual if any(f in may for columns in unseen.values() for may in columns.values())]
    for family in open_families:
        assumed = copy.copy(catalog)
        assumed.objects = dict(catalog.objects)
        for parts, columns in unseen.items():
            schema = parts[-2] if len(parts) > 1 else default_schema
            table = Object(object_id(schema, "table", parts[-1]), ObjectType.TABLE, schema, parts[-1], "", 0, "", 0)
            for name, families in columns.items():
                chosen = family if family in families else next((f for f in usual if f in families), None)
                kind = usual.get(chosen) if chosen is not None else None
                if kind is not None:
                    table.columns.append(Column(name, kind))
            assumed.objects[table.id] = table
        assumed.forget_indexes()
        yield family, assumed
