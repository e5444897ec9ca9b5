"""Puts what was read of groups of files together, and settles what only the whole source can tell."""

from sys import intern

from hullsound.catalog.catalog import Catalog

from .parts import Part
from .replay import Replay


def merge(catalog: Catalog, part: Part) -> None:
    """Take over what was read of further files; what of it holds is told by `settle`."""
    start = catalog.step
    catalog.part_starts.append(start + 1)
    catalog.step += part.steps
    for item in part.objects:
        item.step += start
        if item.id in catalog.objects:
            catalog.earlier.append(catalog.objects[item.id])
        catalog.add(item)
    for change in part.changes:
        change.step += start
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


def settle(catalog: Catalog) -> Replay:
    """Replay all statements in their order; return the replay with what is gone and what has another name now."""
    replay = Replay(catalog)
    replay.run()
    return replay


def forget_steps(catalog: Catalog) -> None:
    """Leave out of the catalogue what only the replay needs."""
    for item in catalog.objects.values():
        item.step = 0
        for column in item.columns:
            column.default_name = ""
