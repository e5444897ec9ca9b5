"""The stages of creating the target, by name, and the order in which tables are loaded."""

from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType

from .order import AFTER, BEFORE, creation_places

PREPARATION: Final = "schemas and extensions"
LOAD: Final = "load"
SEQUENCES: Final = "sequence positions"
REFERENCES: Final = "references"
STATISTICS: Final = "statistics"
_NAMES: Final = {
    (BEFORE, 0): "schemas and extensions", (BEFORE, 1): "types", (BEFORE, 2): "sequences", (BEFORE, 3): "tables",
    (BEFORE, 4): "routines", (BEFORE, 5): "routines", (BEFORE, 6): "routines", (BEFORE, 7): "routines", (BEFORE, 8): "views",
    (AFTER, 0): "rows of the scripts", (AFTER, 1): "keys and checks", (AFTER, 2): REFERENCES,
    (AFTER, 3): "indexes and views that need keys", (AFTER, 4): "materialized views", (AFTER, 5): "triggers",
    (AFTER, 6): "grants", (AFTER, 7): "others", (AFTER, 8): "others",
}  # fmt: skip
STAGES: Final = (
    "schemas and extensions", "types", "sequences", "tables", "routines", "views", LOAD, "rows of the scripts", "keys and checks",
    "indexes and views that need keys", "materialized views", REFERENCES, "triggers", SEQUENCES, "grants", "others", STATISTICS,
)  # fmt: skip
"""All stages in their order. References come behind the indexes, which validate them quickly."""


class Stage(NamedTuple):
    """One stage: its name, and its objects in the order of their files."""

    name: str
    objects: list[str]


class LoadLevel(NamedTuple):
    """Tables that may be loaded at once, since what they refer to is in an earlier level, or in a cycle with them."""

    tables: list[str]
    cycles: list[list[str]]
    """Tables that refer to each other: their references must be off while they are loaded."""


def creation_stages(catalog: Catalog) -> list[Stage]:
    """Return all stages in their order; those between which nothing is created from a draft have no objects."""
    objects: dict[str, list[str]] = {name: [] for name in STAGES}
    for item, stage, place in creation_places(catalog):
        objects[_NAMES[stage, place]].append(item.id)
    always = (PREPARATION, LOAD, SEQUENCES, STATISTICS)
    return [Stage(name, those) for name, those in objects.items() if those or name in always]


def load_levels(catalog: Catalog) -> list[LoadLevel]:
    """Return the tables by the level of their references: first those that refer to none, then those that refer to them."""
    import networkx as nx  # costs more to import than most commands take

    graph: nx.DiGraph[str] = nx.DiGraph()
    graph.add_nodes_from(item.id for item in catalog.objects.values() if item.type is ObjectType.TABLE)
    for item in catalog.objects.values():
        if item.constraint is None or item.constraint.form != "foreign key":
            continue
        parent = catalog.table(item.constraint.references, item.schema)
        if parent is not None and parent.id in graph and item.table in graph and parent.id != item.table:
            graph.add_edge(parent.id, item.table)
    condensed = nx.condensation(graph)
    levels = []
    for generation in nx.topological_generations(condensed):
        groups = [sorted(condensed.nodes[number]["members"]) for number in generation]
        tables = sorted(table for group in groups for table in group)
        levels.append(LoadLevel(tables, sorted(group for group in groups if len(group) > 1)))
    return levels
