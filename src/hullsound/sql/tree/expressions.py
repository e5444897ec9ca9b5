"""Nodes of expressions, types and names."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

from .node import Node, Parts

if TYPE_CHECKING:
    from .queries import OrderItem, Query


@dataclass(slots=True, eq=False)
class Name(Node):
    """A column, variable, pseudo-column or parameterless call; `link` is the database link after @."""

    parts: Parts
    link: str = ""


@dataclass(slots=True, eq=False)
class Literal(Node):
    """A string, number, NULL, TRUE or FALSE."""

    form: str


@dataclass(slots=True, eq=False)
class TypedLiteral(Node):
    """DATE '...', TIMESTAMP '...' or INTERVAL '...' with its fields."""

    form: str


@dataclass(slots=True, eq=False)
class Bind(Node):
    """A host variable or trigger record: :name, :1, :NEW.column."""

    parts: Parts


@dataclass(slots=True, eq=False)
class Star(Node):
    """`*` or `alias.*`."""

    parts: Parts = ()


@dataclass(slots=True, eq=False)
class Operation(Node):
    """Operands joined by operators of one precedence, read from the left; a prefix operator has one operand."""

    operators: list[str]
    operands: list[Node]


@dataclass(slots=True, eq=False)
class Comparison(Node):
    """LIKE, BETWEEN, IN, IS and their like; `operator` has the words without NOT."""

    operator: str
    negated: bool
    operands: list[Node]


@dataclass(slots=True, eq=False)
class Paren(Node):
    inner: Node


@dataclass(slots=True, eq=False)
class Row(Node):
    """Several expressions in parentheses."""

    items: list[Node]


@dataclass(slots=True, eq=False)
class NamedArgument(Node):
    name: str
    value: Node


@dataclass(slots=True, eq=False)
class SequenceValue(Node):
    """NEXT VALUE FOR a sequence, with all its words; `sequence` is the name alone."""

    sequence: Node


@dataclass(slots=True, eq=False)
class Call(Node):
    """A function, a method, a collection element or a type constructor: the text alone cannot tell them apart."""

    parts: Parts
    arguments: list[Node]
    opening: int
    """Index of the token `(`."""
    closing: int
    """Index of the token `)`."""
    quantifier: str = ""
    """DISTINCT, UNIQUE or ALL."""
    over: "Node | None" = None
    modified: bool = False
    """Whether words stand in or behind the argument list that change its meaning (ORDER BY, KEEP, USING ...)."""
    link: str = ""


@dataclass(slots=True, eq=False)
class Member(Node):
    """What stands behind a call: f(x).name or f(x)(y)."""

    owner: Node
    parts: Parts
    arguments: list[Node]


@dataclass(slots=True, eq=False)
class Window(Node):
    partition: list[Node]
    order: "list[OrderItem]"


@dataclass(slots=True, eq=False)
class Case(Node):
    subject: Node | None
    branches: list[tuple[Node, Node]]
    otherwise: Node | None


@dataclass(slots=True, eq=False)
class Cast(Node):
    value: Node
    type: "TypeName"


@dataclass(slots=True, eq=False)
class Subquery(Node):
    """A query in parentheses, with EXISTS, CURSOR or MULTISET before it in `form`."""

    query: "Query"
    form: str = ""


@dataclass(slots=True, eq=False)
class CursorAttribute(Node):
    """c%FOUND, c%NOTFOUND, c%ROWCOUNT, c%ISOPEN, c%BULK_ROWCOUNT."""

    cursor: Parts
    attribute: str


@dataclass(slots=True, eq=False)
class OuterMark(Node):
    """A column marked `(+)`."""

    name: Name


@dataclass(slots=True, eq=False)
class TypeName(Node):
    """A data type: built in, user-defined, or borrowed by %TYPE and %ROWTYPE."""

    name: str
    arguments: tuple[str, ...] = ()
    unit: str = ""
    """CHAR or BYTE where the length says so."""
    reference: Parts = ()
    borrowed: str = ""
    """TYPE or ROWTYPE."""


@dataclass(slots=True, eq=False)
class Clause(Node):
    """An optional clause or option worth knowing of, named in kebab-case."""

    name: str


@dataclass(slots=True, eq=False)
class Unread(Node):
    """A span that could not be read, and why."""

    reason: str
