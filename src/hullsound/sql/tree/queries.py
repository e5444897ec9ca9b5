"""Nodes of queries."""

from .expressions import Name
from .node import Node, Parts


class SelectItem(Node):
    value: Node
    alias: str = ""

    @property
    def title(self) -> str:
        """The name of the column that it gives: its alias or that of the column it shows; '' for a value without one."""
        return self.alias or (self.value.parts[-1] if isinstance(self.value, Name) else "")


class OrderItem(Node):
    value: Node
    descending: bool = False
    nulls: str = ""


class TableRef(Node):
    """A table, view or query name in FROM or as the object of a change."""

    parts: Parts
    alias: str = ""
    link: str = ""


class DerivedTable(Node):
    query: "Query"
    alias: str = ""
    lateral: bool = False


class TableFunction(Node):
    call: Node
    alias: str = ""


class Join(Node):
    kind: str
    left: Node
    right: Node
    condition: Node | None


class CommonTable(Node):
    name: str
    columns: list[str]
    query: "Node"


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


class Query(Node):
    """Query blocks with set operators, and what applies to their result."""

    common: list[CommonTable]
    blocks: list[Node]
    operators: list[tuple[str, int]]
    """Set operators with the index of their first token."""
    order: list[OrderItem]
