"""In which stage and order drafts are created."""

import re
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.filled import rows_with_gaps
from hullsound.catalog.model import Object, ObjectType

BEFORE: Final = "before data"
AFTER: Final = "after data"

_PLACES: Final = {
    ObjectType.SCHEMA: (BEFORE, 0),
    ObjectType.EXTENSION: (BEFORE, 0),
    ObjectType.TYPE: (BEFORE, 1),
    ObjectType.DOMAIN: (BEFORE, 1),
    ObjectType.TYPE_BODY: (BEFORE, 1),
    ObjectType.SEQUENCE: (BEFORE, 2),
    ObjectType.TABLE: (BEFORE, 3),
    ObjectType.PACKAGE: (BEFORE, 4),
    ObjectType.FUNCTION: (BEFORE, 5),
    ObjectType.PROCEDURE: (BEFORE, 6),
    ObjectType.PACKAGE_BODY: (BEFORE, 7),
    ObjectType.VIEW: (BEFORE, 8),
    ObjectType.SYNONYM: (BEFORE, 8),
    ObjectType.DATA: (AFTER, 0),
    ObjectType.CONSTRAINT: (AFTER, 1),
    ObjectType.INDEX: (AFTER, 3),
    ObjectType.MATERIALIZED_VIEW: (AFTER, 4),
    ObjectType.TRIGGER: (AFTER, 5),
    ObjectType.GRANT: (AFTER, 6),
}
_LAST: Final = (AFTER, 7)
_MEETS_KEYS: Final = re.compile(r"(?i)\bON\s+DUPLICATE\b|\bREPLACE\s+INTO\b|\bINSERT\s+IGNORE\b|\bOR\s+REPLACE\b")
"""Rows that ask what to do where a key is there already, so that the keys, but not the foreign ones, come first."""
_GROUPS: Final = re.compile(r"(?i)\bGROUP\s+BY\b")
_CONSTRAINT_ORDER: Final = {"primary key": 0, "unique": 1, "check": 2, "foreign key": 3}


def creation_order(catalog: Catalog) -> list[tuple[Object, str]]:
    """Return all objects so that each comes behind what its creation needs, with its stage: before or after the data."""
    return [(item, stage) for item, stage, _ in creation_places(catalog)]


def creation_places(catalog: Catalog) -> list[tuple[Object, str, int]]:
    """Return all objects in the order of `creation_order`, with stage and place within it; `stages` names the places."""
    depth = _depths(catalog)
    late = _grouped_views(catalog)
    gaps = rows_with_gaps(catalog)

    deepest = 1 + max(depth.values(), default=0)

    def place_of(item: Object) -> tuple[bool, int, int, int]:
        stage, place = _PLACES.get(item.type, _LAST)
        form = _CONSTRAINT_ORDER.get(item.constraint.form, 0) if item.constraint else 0
        if item.type is ObjectType.CONSTRAINT and form == 3:
            place = 2
        elif item.type is ObjectType.TRIGGER and not item.table:
            place = _LAST[1] + 1  # one on definitions, which would fire for all that comes behind
        elif item.id in gaps:
            place, form = _PLACES[ObjectType.TRIGGER][1], 9
        elif item.type is ObjectType.DATA and _MEETS_KEYS.search(item.text):
            place, form = 1, 9
        elif item.type is ObjectType.INDEX and _is_of_materialized_view(item, catalog):
            return True, _PLACES[ObjectType.MATERIALIZED_VIEW][1], deepest, 9
        elif item.id in late:
            stage, place = AFTER, _PLACES[ObjectType.INDEX][1]
        return stage == AFTER, place, depth.get(item.id, 0), form

    places = {item.id: place_of(item) for item in catalog.objects.values()}
    ordered = sorted(catalog.objects.values(), key=lambda item: places[item.id])
    return [(item, AFTER if places[item.id][0] else BEFORE, places[item.id][1]) for item in ordered]


def _is_of_materialized_view(item: Object, catalog: Catalog) -> bool:
    return item.table not in catalog.objects and (
        item.table.replace(".table.", ".materialized_view.", 1) in catalog.objects
        or item.table.replace("table.", "materialized_view.", 1) in catalog.objects
    )


def _grouped_views(catalog: Catalog) -> set[str]:
    """Return the views that may need the key of a table, since they group by it, and what stands on them."""
    users: dict[str, list[str]] = {}
    for reference in catalog.references:
        users.setdefault(reference.target, []).append(reference.object)
    waiting = [
        item.id
        for item in catalog.objects.values()
        if item.type is ObjectType.VIEW and _GROUPS.search(item.text)
    ]  # fmt: skip
    late: set[str] = set()
    while waiting:
        view = waiting.pop()
        if view in late:
            continue
        late.add(view)
        for user in users.get(view, ()):
            above = catalog.objects.get(user)
            if above is not None and above.type in (ObjectType.VIEW, ObjectType.SYNONYM):
                waiting.append(user)
    return late


def _depths(catalog: Catalog) -> dict[str, int]:
    """Return for each view, synonym and type how many others of its kind lie beneath it."""
    layered = (ObjectType.VIEW, ObjectType.SYNONYM, ObjectType.MATERIALIZED_VIEW, ObjectType.TYPE)
    below: dict[str, set[str]] = {}
    for reference in catalog.references:
        user, used = catalog.objects.get(reference.object), catalog.objects.get(reference.target)
        if user is not None and used is not None and user.type in layered and used.type in layered:
            below.setdefault(user.id, set()).add(used.id)
    for item in catalog.objects.values():
        if item.type is ObjectType.SYNONYM:
            target = catalog.table(tuple(item.details["target"].split("\t")), item.default_schema)
            if target is not None and target.type in layered:
                below.setdefault(item.id, set()).add(target.id)
    depths: dict[str, int] = {}
    for start in below:
        _measure(start, below, depths)
    return depths


def _measure(start: str, below: dict[str, set[str]], depths: dict[str, int]) -> None:
    """Set the depth of `start` and of all beneath it, without recursion; circles end at their first object."""
    stack = [start]
    entered: set[str] = set()
    while stack:
        node = stack[-1]
        waiting = [each for each in below.get(node, ()) if each not in depths and each not in entered]
        if node in depths or (node in entered and not waiting):
            stack.pop()
            depths.setdefault(node, 1 + max((depths.get(each, 0) for each in below.get(node, ())), default=-1))
            continue
        entered.add(node)
        stack += waiting
