"""Chains of references that cascade: which tables a change would reach by more than one of them."""

from collections.abc import Iterator

import networkx as nx

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object

_CASCADING = frozenset(("CASCADE", "SET NULL", "SET DEFAULT"))


def repeated_cascades(catalog: Catalog) -> Iterator[tuple[Object, str]]:
    """Yield each foreign key by which a cascade reaches a table again, with why: SQL Server refuses to create it (error 1785).

    The first key to a table stays; those that are created later close the second path.
    """
    graph: nx.DiGraph[str] = nx.DiGraph()
    for item in catalog.objects.values():
        key = item.constraint
        if key is None or key.form != "foreign key" or not _CASCADING & {key.on_delete.upper(), key.on_update.upper()}:
            continue
        child = catalog.objects.get(item.table)
        parent = catalog.table(key.references, item.default_schema or item.schema) if child is not None else None
        if child is None or parent is None:
            continue
        reached = {child.id} | (nx.descendants(graph, child.id) if child.id in graph else set())
        if parent.id in reached:
            yield item, f"it leads back to {parent.name.lower()}"
            continue
        roots = {parent.id} | (nx.ancestors(graph, parent.id) if parent.id in graph else set())
        twice = next((root for root in sorted(roots) if root in graph and nx.descendants(graph, root) & reached), None)
        if twice is not None:
            yield (
                item,
                f"rows of {catalog.objects[twice].name.lower()} reach {child.name.lower()} by another reference too",
            )
            continue
        graph.add_edge(parent.id, child.id)
