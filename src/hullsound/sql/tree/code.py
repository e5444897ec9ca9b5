"""Nodes of procedural code."""

from typing import ClassVar

from .expressions import TypeName
from .node import Node, Parts
from .queries import Query
from .statements import Statement


class Parameter(Node):
    name: str
    mode: str
    """in, out or in out."""
    type: TypeName
    default: Node | None
    nocopy: bool


class Variable(Node):
    name: str
    type: TypeName
    constant: bool
    default: Node | None


class ExceptionDeclaration(Node):
    name: str


class Pragma(Node):
    name: str
    arguments: list[Node]


class CursorDeclaration(Node):
    name: str
    parameters: list[Parameter]
    query: Query | None
    is_at: int


class TypeDeclaration(Node):
    """A local type: `form` is record, table, varray, ref cursor or subtype."""

    name: str
    form: str
    fields: list[tuple[str, TypeName]]
    element: TypeName | None


class Handler(Node):
    exceptions: list[Parts]
    body: list[Node]


class Block(Node):
    declarations: list[Node]
    body: list[Node]
    handlers: list[Handler]
    begin_at: int
    exception_at: int
    """Index of the token EXCEPTION, or -1."""
    end_at: int


class Routine(Node):
    """A procedure or function, nested or alone; without a block it is only declared."""

    form: str
    name: Parts
    parameters: list[Parameter]
    parameters_span: tuple[int, int] | None
    returns: TypeName | None
    return_at: int
    options: list[str]
    is_at: int
    """Index of the token IS or AS, or -1."""
    block: Block | None
    name_span: tuple[int, int]
    nested: bool


class CreateRoutine(Statement):
    routine: Routine
    kind: ClassVar[str] = "create routine"


class CreatePackage(Statement):
    name: Parts
    is_body: bool
    declarations: list[Node]
    initialization: Block | None
    is_at: int
    kind: ClassVar[str] = "create package"


class CreateTrigger(Statement):
    name: Parts
    timing: str
    """before, after, instead of, or compound."""
    events: list[str]
    update_columns: list[str]
    table: Parts
    level: str
    """row, statement, schema or database."""
    referencing: dict[str, str]
    condition: Node | None
    block: Node | None
    body_at: int
    disabled: bool
    kind: ClassVar[str] = "create trigger"


class CompoundSection(Node):
    """One moment of a compound trigger: timing before, after or instead of; level row or statement."""

    timing: str
    level: str
    block: Block


class CompoundBody(Node):
    """The parts of a compound trigger and what they share."""

    declarations: list[Node]
    sections: list[CompoundSection]


class AnonymousBlock(Statement):
    block: Block
    kind: ClassVar[str] = "anonymous block"


class Assign(Node):
    target: Node
    value: Node


class If(Node):
    branches: list[tuple[Node, list[Node]]]
    otherwise: list[Node]


class CaseStatement(Node):
    """A list behind WHEN is a `Row`, although it has no parentheses."""

    subject: Node | None
    branches: list[tuple[Node, list[Node]]]
    otherwise: list[Node]


class Loop(Node):
    """`form` is basic, while, range, query or cursor; the bounds of a range are the lower, the higher and perhaps the step."""

    form: str
    variable: str
    reverse: bool
    bounds: list[Node]
    body: list[Node]
    loop_at: int


class Jump(Node):
    """EXIT, CONTINUE or GOTO."""

    form: str
    label: str
    condition: Node | None


class Return(Node):
    value: Node | None


class Raise(Node):
    name: Parts


class CallStatement(Node):
    call: Node


class ExecuteImmediate(Node):
    text: Node
    into: list[Node]
    bulk: bool
    using: list[Node]


class ValuesInto(Node):
    """VALUES value, ... INTO target, ... of Db2."""

    values: list[Node]
    into: list[Node]


class OpenCursor(Node):
    cursor: Node
    arguments: list[Node]
    query: Node | None
    using: list[Node]


class Fetch(Node):
    cursor: Node
    into: list[Node]
    bulk: bool
    limit: Node | None


class CloseCursor(Node):
    cursor: Node


class Forall(Node):
    variable: str
    statement: Node


class PlainStatement(Node):
    """NULL, PIPE ROW and transaction control, by their words."""

    words: str
    value: Node | None


class Label(Node):
    name: str


class Execute(Node):
    """EXEC or CALL: `routine` is empty where the text is built at run time and stands in `text`."""

    routine: Parts
    arguments: list[Node]
    text: Node | None


class TryCatch(Node):
    body: list[Node]
    handler: list[Node]


class ConditionHandler(Node):
    """DECLARE ... HANDLER: `action` is continue, exit or undo."""

    action: str
    conditions: list[str]
    body: Node


class Prepare(Node):
    """PREPARE name FROM text."""

    name: str
    text: Node
