"""Settles what only the whole source can tell: changes of tables that other files create."""

from sys import intern

import msgspec

from .model import Catalog, Change, Column, Object, ObjectType, object_id
from .parts import Part

_KINDS = (ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW)


def merge(catalog: Catalog, part: Part) -> None:
    """Take over what was read of further files; of two objects with one id the later counts."""
    for item in part.objects:
        before = catalog.objects.get(item.id)
        if before is not None:
            item.details.setdefault("defined before", f"{before.file}:{before.line}")
        catalog.add(item)
    catalog.unread += part.unread
    catalog.files += part.files
    for sighting in part.sightings:
        # There are many, and their texts come again and again: one copy of each is kept.
        sighting.construct = intern(sighting.construct)
        sighting.object = intern(sighting.object)
        sighting.file = intern(sighting.file)
        sighting.excerpt = intern(sighting.excerpt)
        if sighting.end_line == sighting.line:
            sighting.end_line = sighting.line
    catalog.sightings += part.sightings
    catalog.changes += part.changes


def settle(catalog: Catalog) -> None:
    """Apply all changes in the order of their statements; make a table that the source never creates."""
    renamed: dict[str, str] = {}
    for change in catalog.changes:
        item = _find(catalog, change)
        if item.type is not ObjectType.TABLE:
            renamed[object_id(change.schema, ObjectType.TABLE, change.name)] = item.id
        _apply(item, change)
    catalog.changes = []
    if renamed:
        _rename_owners(catalog, renamed)


def _find(catalog: Catalog, change: Change) -> Object:
    for kind in _KINDS:
        found = catalog.objects.get(object_id(change.schema, kind, change.name))
        if found is not None:
            return found
    made = Object(
        object_id(change.schema, ObjectType.TABLE, change.name), ObjectType.TABLE, change.schema, change.name, change.file,
        change.line, "", 1, details={"not created": "yes"}, default_schema=change.schema,
    )  # fmt: skip
    catalog.add(made)
    return made


def _apply(item: Object, change: Change) -> None:
    match change.kind:
        case "add":
            item.columns = [*item.columns, *change.columns]
        case "modify":
            for new in change.columns:
                _modify(item, new)
        case "not null":
            for column in item.columns:
                if column.name in change.names:
                    column.nullable = False
        case "comment":
            _comment(item, change)


def _modify(item: Object, new: Column) -> None:
    for column in item.columns:
        if column.name == new.name:
            if new.type.name:
                column.type = new.type
            column.default = new.default or column.default
            column.nullable = column.nullable and new.nullable


def _comment(item: Object, change: Change) -> None:
    if not change.names:
        item.comment = change.text
        return
    for column in item.columns:
        if column.name == change.names[0]:
            column.comment = change.text
            return
    item.details[f"comment {change.names[0]}"] = change.text


def _rename_owners(catalog: Catalog, renamed: dict[str, str]) -> None:
    """Let what was said of a table belong to the view that it turned out to be."""
    for sighting in catalog.sightings:
        sighting.object = renamed.get(sighting.object, sighting.object)
    catalog.unread = [
        msgspec.structs.replace(span, object=renamed.get(span.object, span.object)) for span in catalog.unread
    ]
