"""The type mapping of a catalogue: what each column type becomes, and what is lost."""

import msgspec

from hullsound.assess.answers import with_seen_types
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType, shown
from hullsound.knowledge.targets import parse_target
from hullsound.knowledge.types import choose_column_type
from hullsound.project import Project


class TypeUse(msgspec.Struct, frozen=True):
    source: str
    target: str
    """Empty where the target has no such type."""
    columns: int
    loses: str
    chosen_by: str
    """`hullsound.toml` where an override decides, `its values` where a profile does, else empty."""
    example: str
    """A column that has the type."""


def map_types(catalog: Catalog, target: str, project: Project | None = None) -> list[TypeUse]:
    """Return the mapping of every type that columns of tables use, the most used first; overrides are rows of their own.

    Raises UsageError for an unknown target.
    """
    chosen = parse_target(target)
    project = with_seen_types(catalog, chosen, project or Project())
    counts: dict[tuple[str, str, str, str], int] = {}
    firsts: dict[tuple[str, str, str, str], str] = {}
    for item in catalog.objects.values():
        if item.type is not ObjectType.TABLE:
            continue
        for column in item.columns:
            choice = choose_column_type(
                catalog.engine, chosen, project, item.schema, item.name, column.name, column.type
            )
            text, loses = (choice.text, choice.loses) if choice else ("", "a type of the source's own")
            place = (str(column.type), item.schema, item.name, column.name)
            is_own = any(rule.fits(*place) for rule in project.types)
            by = "hullsound.toml" if is_own else "its values" if project.type_for(*place) else ""
            key = (str(column.type), text, loses, by)
            counts[key] = counts.get(key, 0) + 1
            firsts.setdefault(key, f"{shown(item.name)}.{shown(column.name)}")
    return [
        TypeUse(source, text, count, loses, by, firsts[source, text, loses, by])
        for (source, text, loses, by), count in sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))
    ]
