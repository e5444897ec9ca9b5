"""Names in a catalogue that lead out of it: to other databases, through links, or to nothing that was surveyed."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from .model import Catalog

_UNRESOLVED: Final = "survey.unresolved"
_REMOTE: Final = (".remote-table", ".cross-database-name", ".four-part-name")
"""Ends of the ids of constructs that are names of something elsewhere."""


class LeadingOut(NamedTuple):
    """A name that an object uses and that no object of the catalogue bears."""

    object: str
    qualifiers: tuple[str, ...]
    """Server, database and schema as far as they are written, and the link behind @; in lower case."""
    name: str
    """In lower case."""


def iter_leading_out(catalog: Catalog) -> Iterator[LeadingOut]:
    """Yield the names that lead out, each as often as it is used."""
    for sighting in catalog.sightings:
        if sighting.construct == _UNRESOLVED:
            text = sighting.detail.partition(" ")[2]
        elif sighting.construct.endswith(_REMOTE):
            text = sighting.excerpt
        else:
            continue
        bare, _, link = text.partition("@")
        parts = [part.strip('"`[] ').lower() for part in bare.split(".")]
        qualifiers = [part for part in (*parts[:-1], link.strip('"` ').lower()) if part]
        yield LeadingOut(sighting.object, tuple(qualifiers), parts[-1])
