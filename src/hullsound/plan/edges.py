"""What needs what between units of work, and how much it hurts when both move at different times."""

from collections.abc import Iterator
from typing import Final, NamedTuple

import networkx as nx

from hullsound.catalog.leading_out import LeadingOut, iter_leading_out
from hullsound.catalog.model import Object, ObjectType
from hullsound.settings import PlanRules

from .work import PlanSource, Work, prefix_of


class Kind(NamedTuple):
    """A kind of edge: how much it hurts to cut it, and what bridges it as long as only what is needed has moved."""

    weight: float
    bridge: str


KINDS: Final = {
    "reference": Kind(
        8.0,
        "keep a read-only copy of it on the old side, refreshed from the new one, so that the foreign key is checked there",
    ),
    "other database": Kind(6.0, "point the link or the qualified name of the old side to the new server"),
    "type": Kind(5.0, "keep the type on both sides and change it on neither"),
    "trigger": Kind(4.0, "let the trigger of the old side write through a link, or queue what it writes"),
    "view": Kind(4.0, "let the view of the old side read through a link or from a copy of it"),
    "sequence": Kind(3.0, "give each side a range of numbers of its own"),
    "use": Kind(3.0, "let code of the old side reach it through a link, or keep a copy that is refreshed"),
    "call": Kind(2.0, "keep the routine on both sides, or call it through a link"),
    "name": Kind(1.0, "point the synonym to the new server"),
}
"""The weights are assumptions: plan.weights in hullsound.toml sets others."""


def kind_weight(kind: str, rules: PlanRules) -> float:
    """Return how much it hurts to cut an edge of a kind."""
    return rules.weights.get(kind, KINDS[kind].weight)


def needs_graph(work: Work, rules: PlanRules) -> "nx.DiGraph[str]":
    """Return the graph of units: an edge leads from a unit to one that it needs, with its `kind` and `weight`."""
    graph: nx.DiGraph[str] = nx.DiGraph()
    graph.add_nodes_from(work.units)
    for user, used, kind in _edges(work):
        mine, theirs = work.unit_of[user], work.unit_of[used]
        weight = kind_weight(kind, rules)
        if mine == theirs or (graph.has_edge(mine, theirs) and graph.edges[mine, theirs]["weight"] >= weight):
            continue
        graph.add_edge(mine, theirs, kind=kind, weight=weight)
    return graph


def _edges(work: Work) -> Iterator[tuple[str, str, str]]:
    """Yield (user, used, kind) by the ids of objects."""
    elsewhere = _by_last_names(work) if len(work.sources) > 1 else {}
    for source in work.sources:
        prefix = prefix_of(source, work.sources)
        objects = source.catalog.objects
        for reference in source.catalog.references:
            user = objects.get(reference.object)
            if user is None:
                continue
            used = objects.get(reference.target)
            if used is not None:
                yield prefix + user.id, prefix + used.id, _kind_of(user, used)
        for leading in iter_leading_out(source.catalog) if elsewhere else ():
            other = _elsewhere(leading, source, elsewhere)
            if other and leading.object in objects:
                yield prefix + leading.object, other, "other database"
        for item in objects.values():
            if item.constraint is not None and item.constraint.form == "foreign key":
                table = source.catalog.table(item.constraint.references, item.schema)
                if table is not None:
                    yield prefix + item.id, prefix + table.id, "reference"


def _kind_of(user: Object, used: Object) -> str:
    if user.type is ObjectType.CONSTRAINT and used.type is ObjectType.TABLE:
        return "reference"
    if used.type in (ObjectType.TYPE, ObjectType.TYPE_BODY, ObjectType.DOMAIN):
        return "type"
    if user.type is ObjectType.SYNONYM:
        return "name"
    if user.type is ObjectType.TRIGGER:
        return "trigger"
    if user.type in (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW):
        return "view"
    if used.type is ObjectType.SEQUENCE:
        return "sequence"
    if used.type in (ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.SYNONYM):
        return "use"
    return "call"


def _by_last_names(work: Work) -> dict[tuple[str, str], list[tuple[str, str]]]:
    """Return (schema or database, name) in lower case -> (source, prefixed id) of the objects that bear it."""
    found: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for source in work.sources:
        for item in source.catalog.objects.values():
            if item.table or item.type in (ObjectType.GRANT, ObjectType.DATA, ObjectType.CHANGE):
                continue
            for qualifier in {item.schema.lower(), source.name.lower()} - {""}:
                found.setdefault((qualifier, item.name.lower()), []).append((source.name, f"{source.name}:{item.id}"))
    return found


def _elsewhere(leading: LeadingOut, source: PlanSource, known: dict[tuple[str, str], list[tuple[str, str]]]) -> str:
    """Return the object of another source that a name means, by its schema, database or link; '' for none."""
    for qualifier in reversed(leading.qualifiers):
        for other, item in known.get((qualifier, leading.name), []):
            if other != source.name:
                return item
    return ""
