"""Nodes of expressions, types and names."""

from typing import TYPE_CHECKING

from .node import Node, Parts

if TYPE_CHECKING:
    from .queries import OrderItem, Query


class Name(Node):
    """A column, variable, pseudo-column or parameterless call; `link` is the database link after @."""

    parts: Parts
    link: str = ""


class Literal(Node):
    """A string, number, NULL, TRUE or FALSE."""

    form: str


class TypedLiteral(Node):
    """DATE '...', TIMESTAMP '...' or INTERVAL '...' with its fields."""

    form: str


class Bind(Name):
    """A host variable, or a column of the row that fires a trigger: :name, :1, :NEW.column. It is a value, as a name is."""


class Star(Node):
    """`*` or `alias.*`."""

    parts: Parts = ()


class Operation(Node):
    """Operands joined by operators of one precedence, read from the left; a prefix operator has one operand."""

    operators: list[str]
    operands: list[Node]


class Comparison(Node):
    """LIKE, BETWEEN, IN, IS and their like; `operator` has the words without NOT."""

    operator: str
    negated: bool
    operands: list[Node]


class Paren(Node):
    inner: Node


class Row(Node):
    """Several expressions in parentheses."""

    items: list[Node]


class NamedArgument(Node):
    name: str
    value: Node


class SequenceValue(Node):
    """NEXT VALUE FOR a sequence, with all its words; `sequence` is the name alone."""

    sequence: Node


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


class Member(Node):
    """What stands behind a call: f(x).name or f(x)(y)."""

    owner: Node
    parts: Parts
    arguments: list[Node]


class Window(Node):
    partition: list[Node]
    order: "list[OrderItem]"


class Case(Node):
    subject: Node | None
    branches: list[tuple[Node, Node]]
    otherwise: Node | None


class Cast(Node):
    value: Node
    type: "TypeName"


class Subquery(Node):
    """A query in parentheses, with EXISTS, CURSOR or MULTISET before it in `form`."""

    query: "Query"
    form: str = ""


class CursorAttribute(Node):
    """c%FOUND, c%NOTFOUND, c%ROWCOUNT, c%ISOPEN, c%BULK_ROWCOUNT."""

    cursor: Parts
    attribute: str


class OuterMark(Node):
    """A column marked `(+)`."""

    name: Name


class TypeName(Node):
    """A data type: built in, user-defined, or borrowed by %TYPE and %ROWTYPE."""

    name: str
    arguments: tuple[str, ...] = ()
    unit: str = ""
    """CHAR or BYTE where the length says so."""
    reference: Parts = ()
    borrowed: str = ""
    """TYPE or ROWTYPE."""


class Clause(Node):
    """An optional clause or option worth knowing of, named in kebab-case."""

    name: str


class Unread(Node):
    """A span that could not be read, and why."""

    reason: str
