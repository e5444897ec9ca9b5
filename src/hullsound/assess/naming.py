"""Names that cannot stay as they are: too long, reserved, or the same but for case."""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.knowledge.engine_model import Target, TargetRow
from hullsound.knowledge.targets import load_target

_UNNAMED = frozenset((ObjectType.QUERY, ObjectType.CHANGE, ObjectType.DATA, ObjectType.BLOCK, ObjectType.GRANT))
"""Types whose names are made up by the survey."""


class NameFault(NamedTuple):
    """What is wrong with a name: the remark's key, the object it belongs to, the name, and the line of its column."""

    key: str
    object: str
    detail: str
    line: int = 0


def gather_names(catalog: Catalog) -> dict[str, list[str]]:
    """Return every name that the target must take, with the ids of the objects that bear it or have such a column."""
    bearers: dict[str, list[str]] = {}
    for item in catalog.objects.values():
        if item.type not in _UNNAMED and "not created" not in item.details:
            for name in _names_of(item):
                bearers.setdefault(name, []).append(item.id)
    return bearers


def iter_name_faults(
    catalog: Catalog, bearers: Mapping[str, list[str]], target: Target, *, is_kin: bool
) -> Iterator[NameFault]:
    """Yield every name of a catalogue that the target takes only in another form."""
    row = load_target(target.engine)
    reserved = frozenset() if is_kin else frozenset(row.reserved)
    for name, ids in bearers.items():
        key = ""
        if _size(name, row) > row.identifier_bytes:
            key = "assess.name-too-long"
        elif name.upper() in reserved:
            key = "assess.name-reserved"
        for object_id in ids if key else ():
            yield NameFault(key, object_id, name.lower(), _line(catalog.objects[object_id], name))
    if row.fold == "keep" and not is_kin:
        for item in catalog.objects.values():
            yield from _collisions(item)


def _names_of(item: Object) -> Iterator[str]:
    yield item.name.rpartition(".")[2]
    for column in item.columns if item.type is ObjectType.TABLE else ():
        yield column.name


def _size(name: str, row: TargetRow) -> int:
    return len(name) if row.max_name == "characters" else len(name.encode())


def _line(item: Object, name: str) -> int:
    """Return the line of the column of this name; 0 where the name is the object's own."""
    return next((column.line for column in item.columns if column.name == name), 0)


def _collisions(item: Object) -> Iterator[NameFault]:
    seen: dict[str, str] = {}
    for column in item.columns:
        other = seen.setdefault(column.name.upper(), column.name)
        if other != column.name:
            yield NameFault("assess.names-collide", item.id, f"{other} and {column.name}", column.line)
