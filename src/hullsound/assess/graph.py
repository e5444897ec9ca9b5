"""Who depends on whom, over all references of a catalogue."""

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType


class Dependencies:
    """The graph of uses: an edge leads from what is used to its user."""

    def __init__(self, catalog: Catalog) -> None:
        self._users: dict[str, set[str]] = {}
        objects = catalog.objects
        for reference in catalog.references:
            if reference.target != reference.object:
                self._users.setdefault(reference.target, set()).add(reference.object)
        for item in objects.values():
            if item.table and item.table in objects:
                self._users.setdefault(item.table, set()).add(item.id)
            if item.type is ObjectType.PACKAGE_BODY:
                spec = item.id.replace(".package_body.", ".package.")
                if spec in objects:
                    self._users.setdefault(spec, set()).add(item.id)

    def users(self, object_id: str) -> list[str]:
        """Return the objects that use this one directly, sorted."""
        return sorted(self._users.get(object_id, ()))

    def dependents(self, object_id: str) -> int:
        """Return how many objects use this one, directly or through others; circles are walked once."""
        seen = {object_id}
        waiting = [object_id]
        while waiting:
            for user in self._users.get(waiting.pop(), ()):
                if user not in seen:
                    seen.add(user)
                    waiting.append(user)
        return len(seen) - 1
