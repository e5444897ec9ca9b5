"""Which rows of scripts leave out a column that only a trigger fills?"""

import re
from typing import Final

from .model import Catalog, ObjectType

_BEFORE_INSERT: Final = re.compile(r"(?i)\bBEFORE\b[^;]*?\bINSERT\b")
_INSERTED: Final = re.compile(r"(?i)\bINTO\s+[^\s(]+\s*\(([^()]*)\)\s*VALUES\b")


def rows_filled_by_triggers(catalog: Catalog) -> dict[str, str]:
    """Return the ids of such rows with that of the trigger that they need."""
    tables: dict[str, tuple[set[str], str]] = {}
    for item in catalog.objects.values():
        if item.type is ObjectType.TRIGGER and item.table and _BEFORE_INSERT.search(item.text):
            table = catalog.objects.get(item.table)
            columns = table.columns if table is not None else []
            needed = {c.name for c in columns if not (c.nullable or c.default or c.identity or c.generated)}
            if needed:
                tables[item.table] = (needed, item.id)
    filled: dict[str, str] = {}
    for reference in catalog.references if tables else ():
        rows = catalog.objects.get(reference.object)
        if rows is None or rows.type is not ObjectType.DATA or reference.target not in tables:
            continue
        given = _INSERTED.search(rows.text)
        names = {name.strip().strip('`"[]').upper() for name in given[1].split(",")} if given else None
        needed, trigger = tables[reference.target]
        if names is not None and not needed <= names:
            filled[rows.id] = trigger
    return filled
