"""Which members must move together, since names of one lead into another."""

import re
from collections.abc import Sequence
from typing import Final

import networkx as nx

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.leading_out import iter_leading_out
from hullsound.catalog.model import ObjectType

from .model import MemberResult

_WORD: Final = re.compile(r"[A-Za-z_][\w$#-]*")
_SAID_BY_ALL: Final = frozenset(
    ("dbo", "public", "sys", "system", "information_schema", "pg_catalog", "mysql", "master", "msdb")
)
"""Qualifiers that every database has, so that they name none."""


def names_offered(catalog: Catalog, name: str) -> tuple[str, ...]:
    """Return the names by which others may mean a member: its own, and those of its schemas."""
    schemas = {item.schema.lower() for item in catalog.objects.values()}
    return tuple(sorted(({name.lower(), catalog.name.lower()} | schemas) - _SAID_BY_ALL - {""}))


def names_leading_out(catalog: Catalog) -> tuple[str, ...]:
    """Return the qualifiers of names that lead nowhere within a catalogue, and what its database links name."""
    found = {qualifier for leading in iter_leading_out(catalog) for qualifier in leading.qualifiers}
    for item in catalog.objects.values():
        if item.type is ObjectType.DATABASE_LINK or "linked_server" in item.id:
            found.update(word.lower() for word in _WORD.findall(item.text))
    return tuple(sorted(found - _SAID_BY_ALL - {""}))


def find_clusters(members: Sequence[MemberResult]) -> list[list[str]]:
    """Return the groups of members that names tie together, each sorted; members that stand alone are left out."""
    offered: dict[str, set[str]] = {}
    for member in members:
        for name in member.offers:
            offered.setdefault(name, set()).add(member.name)
    graph: nx.Graph[str] = nx.Graph()
    for member in members:
        own = set(member.offers)
        for name in member.links:
            meant = offered.get(name, set()) - {member.name}
            # A name that several members bear, as clones do, says of none that it is meant.
            if name not in own and len(meant) == 1:
                graph.add_edge(member.name, next(iter(meant)))
    return sorted(sorted(group) for group in nx.connected_components(graph))
