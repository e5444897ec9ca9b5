"""Who depends on whom, over all references of a catalogue."""

from hullsound.catalog.model import Catalog, ObjectType


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
        self._counts: dict[str, int] | None = None

    def users(self, object_id: str) -> list[str]:
        """Return the objects that use this one directly, sorted."""
        return sorted(self._users.get(object_id, ()))

    def dependents(self, object_id: str) -> int:
        """Return how many objects use this one, directly or through others."""
        if self._counts is None:
            self._counts = self._count()
        return self._counts.get(object_id, 0)

    def _count(self) -> dict[str, int]:
        """Count over the condensed graph, with sets of objects as the bits of whole numbers."""
        import networkx as nx

        graph = nx.DiGraph()
        for used, users in self._users.items():
            graph.add_edges_from((used, user) for user in users)
        condensed = nx.condensation(graph)
        bits: dict[str, int] = {node: 1 << place for place, node in enumerate(graph)}
        reach: dict[int, int] = {}
        counts: dict[str, int] = {}
        for component in reversed(list(nx.topological_sort(condensed))):
            members = condensed.nodes[component]["members"]
            own = 0
            for member in members:
                own |= bits[member]
            reached = 0
            for following in condensed.successors(component):
                reached |= reach[following]
            reach[component] = reached | own
            total = (reached | own).bit_count() - 1
            counts.update(dict.fromkeys(members, total))
        return counts
