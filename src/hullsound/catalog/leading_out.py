"""Names in a catalogue that lead out of it: to other databases, through links, or to nothing that was surveyed."""

from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, ObjectType, Sighting

from .references import Use

_UNRESOLVED: Final = "survey.unresolved"
_UNRESOLVED_IN_CODE: Final = "survey.unresolved-in-code"
"""Of a name that code looks up as it runs, so that it can be created without what it names."""
_NEEDED_AT_ONCE: Final = ("type", "borrowed")
_REMOTE: Final = (".remote-table", ".cross-database-name", ".four-part-name")
"""Ends of the ids of constructs that are names of something elsewhere."""


class LeadingOut(NamedTuple):
    """A name that an object uses and that no object of the catalogue bears."""

    object: str
    qualifiers: tuple[str, ...]
    """Server, database and schema as far as they are written, and the link behind @; in lower case."""
    name: str
    """In lower case."""


def unresolved_names(catalog: Catalog, uses: Iterable[Use]) -> Iterator[Sighting]:
    """Yield a sighting of each name that leads nowhere."""
    for use in uses:
        owner = catalog.objects.get(use.owner)
        runs_later = owner is not None and owner.type in CODE_TYPES and owner.type is not ObjectType.BLOCK
        in_code = runs_later and use.kind not in _NEEDED_AT_ONCE
        name = ".".join(use.parts).lower()
        place = (use.owner, owner.file if owner else "", use.line, 1, use.line, 1)
        yield Sighting(_UNRESOLVED_IN_CODE if in_code else _UNRESOLVED, *place, name, f"{use.kind} {name}")


def iter_leading_out(catalog: Catalog) -> Iterator[LeadingOut]:
    """Yield the names that lead out, each as often as it is used."""
    for sighting in catalog.sightings:
        if sighting.construct in (_UNRESOLVED, _UNRESOLVED_IN_CODE):
            text = sighting.detail.partition(" ")[2]
        elif sighting.construct.endswith(_REMOTE):
            text = sighting.excerpt
        else:
            continue
        bare, _, link = text.partition("@")
        parts = [part.strip('"`[] ').lower() for part in bare.split(".")]
        qualifiers = [part for part in (*parts[:-1], link.strip('"` ').lower()) if part]
        yield LeadingOut(sighting.object, tuple(qualifiers), parts[-1])
