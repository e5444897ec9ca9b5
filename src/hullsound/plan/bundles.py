"""Cycles collapsed: what needs each other moves together, so that what is left has an order."""

from dataclasses import dataclass, field
from functools import cached_property

import networkx as nx

from .work import Unit, Work


@dataclass
class Bundle:
    """Units that need each other in a cycle, or one unit by itself. Numbers are places in `Bundles.all`."""

    units: list[Unit]
    needs: dict[int, float] = field(default_factory=dict)
    """Weight of the edges to each bundle that this one needs."""
    users: dict[int, float] = field(default_factory=dict)

    @cached_property
    def minutes(self) -> float:
        return sum(unit.mean_minutes for unit in self.units)

    @property
    def rank(self) -> int:
        return min(unit.rank for unit in self.units)

    @property
    def is_blocked(self) -> bool:
        return any(unit.blockers for unit in self.units)


@dataclass
class Bundles:
    """All bundles, each behind what it needs."""

    all: list[Bundle]
    of_unit: dict[str, int]


def bundle(work: Work, graph: "nx.DiGraph[str]") -> Bundles:
    """Collapse the cycles of the graph of needs; what comes out is the same on every run."""
    cycles = sorted((sorted(each) for each in nx.strongly_connected_components(graph)), key=lambda each: each[0])
    number_of = {unit: number for number, cycle in enumerate(cycles) for unit in cycle}
    condensed: nx.DiGraph[int] = nx.DiGraph()
    condensed.add_nodes_from(range(len(cycles)))
    for user, used, data in graph.edges(data=True):
        one, other = number_of[user], number_of[used]
        if one != other:
            before = condensed.edges[one, other]["weight"] if condensed.has_edge(one, other) else 0.0
            condensed.add_edge(one, other, weight=before + data["weight"])
    order = list(nx.lexicographical_topological_sort(condensed.reverse(copy=False)))
    place = {number: index for index, number in enumerate(order)}
    bundles = [Bundle([work.units[unit] for unit in cycles[number]]) for number in order]
    for one, other, data in condensed.edges(data=True):
        bundles[place[one]].needs[place[other]] = data["weight"]
        bundles[place[other]].users[place[one]] = data["weight"]
    return Bundles(bundles, {unit: place[number] for unit, number in number_of.items()})
