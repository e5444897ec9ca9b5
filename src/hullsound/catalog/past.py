"""What replayed changes mean for names: who uses them by their last name, and which statements belong to the past."""

from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType, Sighting, shown
from hullsound.catalog.replay import Replay
from hullsound.catalog.replay_parts import Event

from .parts_of_tables import word_pattern
from .references import Use

_FOLLOWING: Final = (ObjectType.TABLE, ObjectType.CONSTRAINT, ObjectType.INDEX, ObjectType.GRANT, ObjectType.SYNONYM)
"""Types that keep to their table when its name changes, since they are written from the catalogue and not from a text."""
_PAST: Final = (ObjectType.CHANGE, ObjectType.QUERY, ObjectType.DATA)
"""Types of statements that did their work on the state of their time."""


def last_uses(catalog: Catalog, replay: Replay, uses: list[Use]) -> list[Use]:
    """Return uses by the last ids of their owners; what belongs to a table follows it to its last name."""
    renamed = {(event.schema, event.name): event for event in replay.gone if event.new and not event.column}
    if not replay.moved and not renamed:
        return uses
    last: list[Use] = []
    for use in uses:
        owner = catalog.objects.get(replay.moved.get(use.owner, use.owner))
        if owner is None:
            last.append(use)
            continue
        parts = use.parts
        for _ in range(len(renamed) if owner.type in _FOLLOWING else 0):
            event = renamed.get(((parts[:-1] or (owner.default_schema,))[-1], parts[-1]))
            if event is None or owner.step > event.step:
                break
            parts = event.new
        last.append(use._replace(owner=owner.id, parts=parts))
    return last


def past_statements(catalog: Catalog, gone: list[Event], uses: list[Use]) -> dict[str, Event]:
    """Return the statements on rows that ran before something that they use went away or got another name, by their id."""
    events: dict[str, list[Event]] = {}
    for event in gone:
        events.setdefault(event.name, []).append(event)
    past: dict[str, Event] = {}
    for use in uses if events else ():
        owner = catalog.objects.get(use.owner)
        if owner is None or owner.type not in _PAST or use.kind not in ("table", "column", "member"):
            continue
        for name in use.parts:
            for event in events.get(name, ()):
                is_meant = not event.column or word_pattern(event.column).search(owner.text)
                if owner.step < event.step and is_meant:
                    past[owner.id] = event
    return past


def forget_past(catalog: Catalog, past: dict[str, Event]) -> None:
    """Take statements on rows that did their work before the last state out of the catalogue, and say so.

    Rows that were put into a table which only has another name now stay, for a person: they are wanted there.
    """
    for object_id_, event in past.items():
        item = catalog.objects[object_id_]
        is_kept = item.type is ObjectType.DATA and (event.new or event.column)
        construct = "survey.rows-of-old-state" if is_kept else "survey.past-statement"
        owner = item.id if is_kept else "database"
        what = ".".join(filter(None, (shown(event.name), shown(event.column))))
        detail = f"{what} went away or got another name at {event.file}:{event.line}"
        place = (owner, item.file, item.line, 1, item.line, 1, "")
        if not is_kept:
            del catalog.objects[item.id]
        catalog.sightings = [each for each in catalog.sightings if each.object != item.id or is_kept]
        catalog.sightings.append(Sighting(construct, *place, detail))
    catalog.forget_indexes()
