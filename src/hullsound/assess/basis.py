"""What judging needs of a catalogue and no target changes: worked out once, however many targets are asked."""

from functools import cached_property

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Sighting

from .graph import Dependencies
from .improvements import Improvement, iter_improvements
from .naming import gather_names


class Basis:
    """A catalogue with its dependencies, its sightings by construct, each place once, and ideas to improve it."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog

    @cached_property
    def dependencies(self) -> Dependencies:
        return Dependencies(self.catalog)

    @cached_property
    def sightings(self) -> dict[str, list[Sighting]]:
        seen: set[tuple[str, str, int, int]] = set()
        groups: dict[str, list[Sighting]] = {}
        for sighting in self.catalog.sightings:
            key = (sighting.construct, sighting.object, sighting.line, sighting.column)
            if key not in seen:
                seen.add(key)
                groups.setdefault(sighting.construct, []).append(sighting)
        return groups

    @cached_property
    def names(self) -> dict[str, list[str]]:
        """Names of objects and columns, with the ids of who bears them."""
        return gather_names(self.catalog)

    @cached_property
    def improvements(self) -> list[Improvement]:
        return list(iter_improvements(self.catalog))

    @cached_property
    def dependents(self) -> dict[str, int]:
        """How many objects use each object, directly or through others."""
        return {key: self.dependencies.dependents(key) for key in self.catalog.objects}
