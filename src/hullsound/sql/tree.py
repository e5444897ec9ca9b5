"""The nodes of SQL trees.

A node spans the tokens [first, last) of its text. The parser also keeps every node in one flat list per
statement, children before parents, so that looking for something never means walking a tree.
"""

from dataclasses import dataclass, field
from typing import ClassVar

Parts = tuple[str, ...]
"""A dotted name as the engine stores it: folded where unquoted, exact where quoted."""


@dataclass(slots=True, eq=False)
class Node:
    first: int
    last: int


# --- expressions -----------------------------------------------------------------------------------------------


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


# --- queries ---------------------------------------------------------------------------------------------------


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


# --- statements ------------------------------------------------------------------------------------------------


@dataclass(slots=True, eq=False)
class Statement(Node):
    """Root of statements; `kind` is what a construct's `statement` key is matched with."""

    kind: ClassVar[str] = ""


@dataclass(slots=True, eq=False)
class QueryStatement(Statement):
    query: Query
    kind: ClassVar[str] = "select"


@dataclass(slots=True, eq=False)
class Insert(Statement):
    table: TableRef | None
    columns: list[Name]
    query: Query | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "insert"


@dataclass(slots=True, eq=False)
class Update(Statement):
    table: Node
    assignments: list[tuple[Node, Node]]
    where: Node | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "update"


@dataclass(slots=True, eq=False)
class Delete(Statement):
    table: Node
    where: Node | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "delete"


@dataclass(slots=True, eq=False)
class Merge(Statement):
    table: TableRef
    source: Node
    condition: Node
    assignments: list[tuple[Node, Node]]
    columns: list[Name]
    kind: ClassVar[str] = "merge"


@dataclass(slots=True, eq=False)
class ColumnDefinition(Node):
    name: str
    type: TypeName | None
    nullable: bool
    default: Node | None
    default_on_null: bool
    identity: str
    """'', 'always' or 'by default'; options follow a blank."""
    generated: Node | None
    constraints: "list[ConstraintDefinition]"


@dataclass(slots=True, eq=False)
class ConstraintDefinition(Node):
    """`form` is primary key, unique, foreign key, check or not null."""

    name: str
    form: str
    columns: list[str]
    expression: Node | None
    references: Parts
    reference_columns: list[str]
    on_delete: str
    deferrable: str
    disabled: bool


@dataclass(slots=True, eq=False)
class CreateTable(Statement):
    name: Parts
    columns: list[ColumnDefinition]
    constraints: list[ConstraintDefinition]
    temporary: str
    """'', 'delete rows' or 'preserve rows'."""
    query: Query | None
    clauses: set[str]
    partition: tuple[int, int] | None
    indexes: "list[CreateIndex]" = field(default_factory=list)
    """Indexes that stand among the columns."""
    kind: ClassVar[str] = "create table"


@dataclass(slots=True, eq=False)
class AlterTable(Statement):
    name: Parts
    columns: list[ColumnDefinition]
    constraints: list[ConstraintDefinition]
    modified: list[ColumnDefinition]
    actions: list[str]
    """Words of every other action, such as "rename column" or "enable row movement"."""
    indexes: "list[CreateIndex]" = field(default_factory=list)
    kind: ClassVar[str] = "alter table"


@dataclass(slots=True, eq=False)
class CreateIndex(Statement):
    name: Parts
    table: Parts
    keys: list[OrderItem]
    unique: bool
    method: str
    """'', 'bitmap' or 'domain'."""
    clauses: set[str]
    kind: ClassVar[str] = "create index"


@dataclass(slots=True, eq=False)
class CreateView(Statement):
    name: Parts
    columns: list[str]
    query: Query
    materialized: bool
    check_option: bool
    read_only: bool
    clauses: set[str]
    kind: ClassVar[str] = "create view"


@dataclass(slots=True, eq=False)
class CreateSequence(Statement):
    name: Parts
    options: dict[str, str]
    kind: ClassVar[str] = "create sequence"


@dataclass(slots=True, eq=False)
class CreateSynonym(Statement):
    name: Parts
    target: Parts
    link: str
    public: bool
    kind: ClassVar[str] = "create synonym"


@dataclass(slots=True, eq=False)
class CreateType(Statement):
    """`form` is object, table, varray, body, incomplete or subtype."""

    name: Parts
    form: str
    attributes: list[tuple[str, TypeName]]
    element: TypeName | None
    kind: ClassVar[str] = "create type"


@dataclass(slots=True, eq=False)
class Grant(Statement):
    privileges: list[str]
    object: Parts
    grantees: list[str]
    revoke: bool
    kind: ClassVar[str] = "grant"


@dataclass(slots=True, eq=False)
class CommentOn(Statement):
    on: str
    name: Parts
    text: str
    kind: ClassVar[str] = "comment"


@dataclass(slots=True, eq=False)
class OtherStatement(Statement):
    """A statement known by its words and its name only, such as CREATE TABLESPACE or ALTER SYSTEM."""

    words: str
    name: Parts


# --- procedural code -------------------------------------------------------------------------------------------


@dataclass(slots=True, eq=False)
class Parameter(Node):
    name: str
    mode: str
    """in, out or in out."""
    type: TypeName
    default: Node | None
    nocopy: bool


@dataclass(slots=True, eq=False)
class Variable(Node):
    name: str
    type: TypeName
    constant: bool
    default: Node | None


@dataclass(slots=True, eq=False)
class ExceptionDeclaration(Node):
    name: str


@dataclass(slots=True, eq=False)
class Pragma(Node):
    name: str
    arguments: list[Node]


@dataclass(slots=True, eq=False)
class CursorDeclaration(Node):
    name: str
    parameters: list[Parameter]
    query: Query | None
    is_at: int


@dataclass(slots=True, eq=False)
class TypeDeclaration(Node):
    """A local type: `form` is record, table, varray, ref cursor or subtype."""

    name: str
    form: str
    fields: list[tuple[str, TypeName]]
    element: TypeName | None


@dataclass(slots=True, eq=False)
class Handler(Node):
    exceptions: list[Parts]
    body: list[Node]


@dataclass(slots=True, eq=False)
class Block(Node):
    declarations: list[Node]
    body: list[Node]
    handlers: list[Handler]
    begin_at: int
    exception_at: int
    """Index of the token EXCEPTION, or -1."""
    end_at: int


@dataclass(slots=True, eq=False)
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


@dataclass(slots=True, eq=False)
class CreateRoutine(Statement):
    routine: Routine
    kind: ClassVar[str] = "create routine"


@dataclass(slots=True, eq=False)
class CreatePackage(Statement):
    name: Parts
    is_body: bool
    declarations: list[Node]
    initialization: Block | None
    is_at: int
    kind: ClassVar[str] = "create package"


@dataclass(slots=True, eq=False)
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


@dataclass(slots=True, eq=False)
class AnonymousBlock(Statement):
    block: Block
    kind: ClassVar[str] = "anonymous block"


@dataclass(slots=True, eq=False)
class Assign(Node):
    target: Node
    value: Node


@dataclass(slots=True, eq=False)
class If(Node):
    branches: list[tuple[Node, list[Node]]]
    otherwise: list[Node]


@dataclass(slots=True, eq=False)
class CaseStatement(Node):
    subject: Node | None
    branches: list[tuple[Node, list[Node]]]
    otherwise: list[Node]


@dataclass(slots=True, eq=False)
class Loop(Node):
    """`form` is basic, while, range, query or cursor."""

    form: str
    variable: str
    reverse: bool
    bounds: list[Node]
    body: list[Node]
    loop_at: int


@dataclass(slots=True, eq=False)
class Jump(Node):
    """EXIT, CONTINUE or GOTO."""

    form: str
    label: str
    condition: Node | None


@dataclass(slots=True, eq=False)
class Return(Node):
    value: Node | None


@dataclass(slots=True, eq=False)
class Raise(Node):
    name: Parts


@dataclass(slots=True, eq=False)
class CallStatement(Node):
    call: Node


@dataclass(slots=True, eq=False)
class ExecuteImmediate(Node):
    text: Node
    into: list[Node]
    bulk: bool
    using: list[Node]


@dataclass(slots=True, eq=False)
class OpenCursor(Node):
    cursor: Node
    arguments: list[Node]
    query: Node | None
    using: list[Node]


@dataclass(slots=True, eq=False)
class Fetch(Node):
    cursor: Node
    into: list[Node]
    bulk: bool
    limit: Node | None


@dataclass(slots=True, eq=False)
class CloseCursor(Node):
    cursor: Node


@dataclass(slots=True, eq=False)
class Forall(Node):
    variable: str
    statement: Node


@dataclass(slots=True, eq=False)
class PlainStatement(Node):
    """NULL, PIPE ROW and transaction control, by their words."""

    words: str
    value: Node | None


@dataclass(slots=True, eq=False)
class Label(Node):
    name: str


@dataclass(slots=True, eq=False)
class Execute(Node):
    """EXEC or CALL: `routine` is empty where the text is built at run time and stands in `text`."""

    routine: Parts
    arguments: list[Node]
    text: Node | None


@dataclass(slots=True, eq=False)
class TryCatch(Node):
    body: list[Node]
    handler: list[Node]


@dataclass(slots=True, eq=False)
class ConditionHandler(Node):
    """DECLARE ... HANDLER: `action` is continue, exit or undo."""

    action: str
    conditions: list[str]
    body: Node


@dataclass(slots=True, eq=False)
class Prepare(Node):
    """PREPARE name FROM text."""

    name: str
    text: Node
