"""The type mapping of a catalogue: what each column type becomes, and what is lost."""

import msgspec

from hullsound.catalog.model import Catalog, ObjectType, shown
from hullsound.knowledge.load import load_source_types
from hullsound.knowledge.targets import parse_target
from hullsound.knowledge.types import choose_type


class TypeUse(msgspec.Struct, frozen=True):
    source: str
    target: str
    """Empty where the target has no such type."""
    columns: int
    loses: str
    example: str
    """A column that has the type."""


def map_types(catalog: Catalog, target: str) -> list[TypeUse]:
    """Return the mapping of every type that columns of tables use, the most used first. Raises UsageError."""
    chosen = parse_target(target)
    is_known = bool(load_source_types(catalog.engine))
    unmapped = "a type of the source's own" if is_known else "not known yet: types of this engine are not mapped"
    counts: dict[str, int] = {}
    firsts: dict[str, tuple[str, str, str]] = {}
    for item in catalog.objects.values():
        if item.type is not ObjectType.TABLE:
            continue
        for column in item.columns:
            source = str(column.type)
            counts[source] = counts.get(source, 0) + 1
            if source not in firsts:
                choice = choose_type(catalog.engine, column.type, chosen)
                text, loses = (choice.text, choice.loses) if choice else ("", unmapped)
                firsts[source] = (text, loses, f"{shown(item.name)}.{shown(column.name)}")
    return [
        TypeUse(source, firsts[source][0], count, firsts[source][1], firsts[source][2])
        for source, count in sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))
    ]
