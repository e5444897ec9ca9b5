"""Keeps the wanted objects of a catalogue, with all that belongs to them."""

from collections.abc import Callable

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType, Sighting

_UNNAMED = (ObjectType.DATA, ObjectType.CHANGE, ObjectType.QUERY, ObjectType.BLOCK)
"""Types that have no name of their own, so that the tables they use decide."""


def keep_chosen(catalog: Catalog, takes: Callable[[str, str], bool]) -> None:
    """Take out of a catalogue every object whose schema and name `takes` does not take, and say how many.

    What belongs to a table goes with it, and so do rows and queries of which no table is wanted.
    """
    used: dict[str, list[str]] = {}
    for reference in catalog.references:
        used.setdefault(reference.object, []).append(reference.target)

    def is_wanted(item: Object) -> bool:
        table = catalog.objects.get(item.table)
        if table is not None:
            return takes(table.schema, table.name)
        if item.type in _UNNAMED:
            targets = [catalog.objects[each] for each in used.get(item.id, ()) if each in catalog.objects]
            return not targets or any(takes(each.schema, each.name) for each in targets)
        return takes(item.schema, item.name)

    wanted = {key for key, item in catalog.objects.items() if is_wanted(item)}
    left_out = len(catalog.objects) - len(wanted)
    if not left_out:
        return
    gone = catalog.objects.keys() - wanted
    catalog.objects = {key: item for key, item in catalog.objects.items() if key in wanted}
    catalog.references = [each for each in catalog.references if each.object not in gone]
    catalog.sightings = [each for each in catalog.sightings if each.object not in gone]
    catalog.unread = [each for each in catalog.unread if each.object not in gone]
    catalog.forget_indexes()
    catalog.sightings.append(
        Sighting("survey.left-out", "database", "", 0, 0, 0, 0, "", f"{left_out} objects by --include and --exclude")
    )
