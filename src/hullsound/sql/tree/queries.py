"""Nodes of queries."""

from dataclasses import dataclass

from .node import Node, Parts


@dataclass(slots=True, eq=False)
class SelectItem(Node):
    value: Node
    alias: str = ""


@dataclass(slots=True, eq=False)
class OrderItem(Node):
    value: Node
    descending: bool = False
    nulls: str = ""


@dataclass(slots=True, eq=False)
class TableRef(Node):
    """A table, view or query name in FROM or as the object of a change."""

    parts: Parts
    alias: str = ""
    link: str = ""


@dataclass(slots=True, eq=False)
class DerivedTable(Node):
    query: "Query"
    alias: str = ""
    lateral: bool = False


@dataclass(slots=True, eq=False)
class TableFunction(Node):
    call: Node
    alias: str = ""


@dataclass(slots=True, eq=False)
class Join(Node):
    kind: str
    left: Node
    right: Node
    condition: Node | None


@dataclass(slots=True, eq=False)
class CommonTable(Node):
    name: str
    columns: list[str]
    query: "Node"


@dataclass(slots=True, eq=False)
class Select(Node):
    """One query block."""

    items: list[SelectItem]
    into: list[Node]
    into_span: tuple[int, int] | None
    bulk: bool
    sources: list[Node]
    where: Node | None
    where_at: int
    """Index of the token WHERE, or -1."""
    start_with: Node | None
    connect_by: Node | None
    group: list[Node]
    having: Node | None
    from_at: int
    """Index of the token FROM, or -1."""


@dataclass(slots=True, eq=False)
class Query(Node):
    """Query blocks with set operators, and what applies to their result."""

    common: list[CommonTable]
    blocks: list[Node]
    operators: list[tuple[str, int]]
    """Set operators with the index of their first token."""
    order: list[OrderItem]
