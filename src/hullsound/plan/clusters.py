"""Bundles that hold together strongly: what the filling of waves tries not to cut."""

from typing import Final

import networkx as nx

from hullsound.ranges import SEED

from .bundles import Bundles

_FINER: Final = 2.0
"""Factor on the resolution with which a cluster that is too large is divided again."""
_TRIES: Final = 4


def clusters_of(bundles: Bundles, most_minutes: float, members: set[int]) -> dict[int, int]:
    """Return the cluster of each of `members`, as its least number; none is larger than `most_minutes` where that can be had.

    Clusters are communities of the weighted graph of needs by the method of Louvain (Blondel et al., J. Stat. Mech. P10008,
    2008); what is too large is divided again with a finer resolution.
    """
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(sorted(members))
    for number in sorted(members):
        for other, weight in bundles.all[number].needs.items():
            if other in members and weight:
                graph.add_edge(number, other, weight=weight)
    found: dict[int, int] = {}
    waiting = [(graph, 1.0)]
    while waiting:
        part, resolution = waiting.pop()
        for community in nx.community.louvain_communities(part, resolution=resolution, seed=SEED):
            minutes = sum(bundles.all[number].minutes for number in community)
            if minutes > most_minutes and len(community) > 1 and resolution < _FINER**_TRIES:
                waiting.append((part.subgraph(community).copy(), resolution * _FINER))
            else:
                least = min(community)
                found.update(dict.fromkeys(community, least))
    return found
