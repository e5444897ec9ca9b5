"""Nodes of statements that define objects or change rows."""

from typing import ClassVar

from msgspec import field

from .expressions import Name, TypeName
from .node import Node, Parts
from .queries import OrderItem, Query, TableRef


class Statement(Node):
    """Root of statements; `kind` is what a construct's `statement` key is matched with."""

    kind: ClassVar[str] = ""


class QueryStatement(Statement):
    query: Query
    kind: ClassVar[str] = "select"


class Insert(Statement):
    table: TableRef | None
    columns: list[Name]
    query: Query | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "insert"


class Update(Statement):
    table: Node
    assignments: list[tuple[Node, Node]]
    where: Node | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "update"


class Delete(Statement):
    table: Node
    where: Node | None
    returning: list[Node]
    into: list[Node]
    kind: ClassVar[str] = "delete"


class Merge(Statement):
    table: TableRef
    source: Node
    condition: Node
    assignments: list[tuple[Node, Node]]
    columns: list[Name]
    kind: ClassVar[str] = "merge"


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
    states_null: bool = False
    """Whether NULL is said, which a change of a column may mean to allow again."""
    default_name: str = ""
    """Name of the constraint that the default is, in the T-SQL family."""
    comment: str = ""
    """Text literal behind COMMENT, as written."""
    system_default: bool = False
    """Whether WITH DEFAULT stands without a value, which then depends on the type."""
    renamed_from: str = ""
    """Name before CHANGE old new ..."""
    place: str = ""
    """`first`, `after NAME` or `before NAME`, where a change of the table says so."""


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
    on_update: str = ""
    not_validated: bool = False
    """Whether rows that are there already were not checked (NOVALIDATE, NOCHECK, NOT VALID)."""
    not_enforced: bool = False
    """Whether the engine only keeps it as information."""
    nulls_not_distinct: bool = False
    ignores_duplicates: bool = False
    """Whether rows that meet a key are left out without an error (IGNORE_DUP_KEY)."""


class SchemaChange(Node):
    """What a statement does to something that another statement made.

    `form` is drop, rename, move, enable, disable, set default, drop default, set null, set not null or restart; `kind` is
    what it is done to: table, column, constraint, primary key, unique, foreign key, check, index, trigger, sequence, view ...
    """

    form: str
    kind: str
    name: Parts
    """Name of what is changed; the columns where a key is named by them; ("ALL",) for all of the kind."""
    new: Parts = ()
    """Name or schema afterwards."""
    on: Parts = ()
    """Table that it belongs to, where the statement names it."""
    value: Node | None = None
    options: dict[str, str] = field(default_factory=dict)


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
    if_absent: bool = False
    """Whether IF NOT EXISTS is said."""
    options: dict[str, str] = field(default_factory=dict)
    """Values of COMMENT and AUTO_INCREMENT, as written."""
    kind: ClassVar[str] = "create table"


class AlterTable(Statement):
    name: Parts
    columns: list[ColumnDefinition]
    constraints: list[ConstraintDefinition]
    modified: list[ColumnDefinition]
    actions: list[str]
    """Words of every other action, such as "rename column" or "enable row movement"."""
    indexes: "list[CreateIndex]" = field(default_factory=list)
    changes: list[SchemaChange] = field(default_factory=list)
    kind: ClassVar[str] = "alter table"


class CreateIndex(Statement):
    name: Parts
    table: Parts
    keys: list[OrderItem]
    unique: bool
    method: str
    """'', 'bitmap' or 'domain'."""
    clauses: set[str]
    where: Node | None = None
    include: list[str] = field(default_factory=list)
    nulls_not_distinct: bool = False
    ignores_duplicates: bool = False
    kind: ClassVar[str] = "create index"


class CreateView(Statement):
    name: Parts
    columns: list[str]
    query: Query
    materialized: bool
    check_option: bool
    read_only: bool
    clauses: set[str]
    kind: ClassVar[str] = "create view"


class CreateSequence(Statement):
    name: Parts
    options: dict[str, str]
    kind: ClassVar[str] = "create sequence"


class CreateSynonym(Statement):
    name: Parts
    target: Parts
    link: str
    public: bool
    kind: ClassVar[str] = "create synonym"


class CreateType(Statement):
    """`form` is object, table, varray, body, incomplete, subtype or alias."""

    name: Parts
    form: str
    attributes: list[tuple[str, TypeName]]
    element: TypeName | None
    nullable: bool = True
    """Whether columns of an alias type take NULL where they do not say so themselves."""
    kind: ClassVar[str] = "create type"


class Grant(Statement):
    privileges: list[str]
    object: Parts
    grantees: list[str]
    revoke: bool
    kind: ClassVar[str] = "grant"


class CommentOn(Statement):
    on: str
    name: Parts
    text: str
    kind: ClassVar[str] = "comment"


class OtherStatement(Statement):
    """A statement known by its words and its name only, such as CREATE TABLESPACE or ALTER SYSTEM."""

    words: str
    name: Parts
    changes: list[SchemaChange] = field(default_factory=list)
