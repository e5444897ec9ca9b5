"""What was seen in statements that still hold, under the last names of their objects."""

from collections.abc import Iterator

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Sighting, UnreadSpan


def kept_sightings(
    catalog: Catalog, moved: dict[str, str], dead: set[str], spans: dict[tuple[str, str], list[range]]
) -> Iterator[Sighting]:
    """Return the sightings without those of texts that no longer hold, by the objects' last names."""
    for sighting in catalog.sightings:
        if sighting.object in dead:
            continue
        ranges = spans.get((sighting.object, sighting.file))
        if ranges is not None and any(sighting.line in lines for lines in ranges):
            item = catalog.objects.get(sighting.object)
            own = range(item.line, item.line + item.lines) if item is not None and item.file == sighting.file else ()
            if sighting.line not in own:
                continue
        sighting.object = moved.get(sighting.object, sighting.object)
        yield sighting


def with_owner(span: UnreadSpan, moved: dict[str, str], dead: set[str]) -> UnreadSpan:
    owner = "database" if span.object in dead else moved.get(span.object, span.object)
    return span if owner == span.object else msgspec.structs.replace(span, object=owner)
