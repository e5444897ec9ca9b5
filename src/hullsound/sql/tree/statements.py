"""Nodes of statements that define objects or change rows."""

from dataclasses import dataclass, field
from typing import ClassVar

from .expressions import Name, TypeName
from .node import Node, Parts
from .queries import OrderItem, Query, TableRef


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
