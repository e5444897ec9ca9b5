"""The objects of a surveyed database, free of any target."""

from enum import StrEnum

import msgspec

from hullsound.sql.names import Parts


class ObjectType(StrEnum):
    """Kinds of objects, in the words reports use."""

    TABLE = "table"
    CONSTRAINT = "constraint"
    INDEX = "index"
    VIEW = "view"
    MATERIALIZED_VIEW = "materialized view"
    SEQUENCE = "sequence"
    SYNONYM = "synonym"
    TYPE = "type"
    TYPE_BODY = "type body"
    PROCEDURE = "procedure"
    FUNCTION = "function"
    PACKAGE = "package"
    PACKAGE_BODY = "package body"
    TRIGGER = "trigger"
    GRANT = "grant"
    DATABASE_LINK = "database link"
    DIRECTORY = "directory"
    QUERY = "query"
    CHANGE = "change"
    """INSERT, UPDATE, DELETE or MERGE standing alone in a script."""
    DATA = "data"
    """A run of INSERT ... VALUES in a script."""
    BLOCK = "anonymous block"
    SCHEMA = "schema"
    EVENT = "event"
    MACRO = "macro"
    DOMAIN = "domain"
    RULE = "rule"
    POLICY = "policy"
    EXTENSION = "extension"
    MODULE = "module"
    VARIABLE = "variable"
    JOIN_INDEX = "join index"
    SERVER_OBJECT = "server object"
    """Logins, linked servers, endpoints and what else belongs to the server as a whole."""
    OTHER = "other"


CODE_TYPES = frozenset(
    (ObjectType.PROCEDURE, ObjectType.FUNCTION, ObjectType.PACKAGE, ObjectType.PACKAGE_BODY, ObjectType.TRIGGER,
     ObjectType.BLOCK, ObjectType.TYPE_BODY, ObjectType.EVENT, ObjectType.MACRO)
)  # fmt: skip
"""Types whose text is procedural code."""


class DataType(msgspec.Struct, frozen=True):
    """A data type as the source writes it: name, arguments (length, precision, scale) and length unit."""

    name: str
    arguments: tuple[str, ...] = ()
    unit: str = ""

    def __str__(self) -> str:
        unit = f" {self.unit}" if self.unit else ""
        if not self.arguments:
            return self.name
        head, *tail = self.name.split(" ", 1) if self.name.startswith("TIMESTAMP ") else (self.name,)
        return f"{head}({','.join(self.arguments)}{unit})" + (f" {tail[0]}" if tail else "")


class Column(msgspec.Struct):
    name: str
    type: DataType
    nullable: bool = True
    default: str = ""
    default_on_null: bool = False
    identity: str = ""
    generated: str = ""
    comment: str = ""
    line: int = 0
    definition: str = ""
    """Source text of the definition, where a later statement than CREATE TABLE brought it whole."""
    default_name: str = ""
    """Name of the constraint that the default is; known until the scripts are replayed."""
    place: str = ""
    """`first`, `after NAME` or `before NAME`, where a change puts it; known until the scripts are replayed."""


class Constraint(msgspec.Struct):
    """`form` is primary key, unique, foreign key or check."""

    name: str
    form: str
    columns: list[str]
    expression: str = ""
    references: Parts = ()
    reference_columns: list[str] = []
    on_delete: str = ""
    deferrable: str = ""
    disabled: bool = False
    on_update: str = ""
    not_validated: bool = False
    """Rows that were there when it was made were not checked."""
    not_enforced: bool = False
    """The engine only keeps it as information."""
    nulls_not_distinct: bool = False
    ignores_duplicates: bool = False
    """Rows that meet the key are left out without an error."""


class IndexKey(msgspec.Struct):
    """One key of an index, a column or an expression as the source writes it."""

    text: str
    descending: bool = False

    @property
    def column(self) -> str:
        """The name without quotes, if the key is a column."""
        return self.text.strip().strip('"`[]')


class Index(msgspec.Struct):
    """What only an index has."""

    keys: list[IndexKey] = []
    unique: bool = False
    method: str = ""
    clauses: list[str] = []
    where: str = ""
    """Condition of an index over some of the rows."""
    include: list[str] = []
    """Columns that are carried without being keys."""
    nulls_not_distinct: bool = False
    ignores_duplicates: bool = False
    """Rows that meet the key are left out without an error."""
    disabled: bool = False

    def columns(self) -> list[str]:
        """Return the keys' names, as if all of them were columns."""
        return [key.column for key in self.keys]


class Parameter(msgspec.Struct):
    name: str
    mode: str
    type: str
    has_default: bool


class RoutineFacts(msgspec.Struct):
    """Size and shape of one routine; `complexity` counts its decisions, plus one (McCabe)."""

    name: str
    form: str
    line: int
    lines: int
    complexity: int
    parameters: list[Parameter]
    returns: str
    is_nested: bool


class Object(msgspec.Struct):
    """One object of the source; `details` holds what only its type has."""

    id: str
    type: ObjectType
    schema: str
    name: str
    file: str
    line: int
    text: str
    lines: int
    table: str = ""
    """Id of the table that a constraint, index or trigger belongs to."""
    columns: list[Column] = []
    constraint: Constraint | None = None
    index: Index | None = None
    details: dict[str, str] = {}
    comment: str = ""
    routines: list[RoutineFacts] = []
    default_schema: str = ""
    """Schema that unqualified names in the text mean."""
    step: int = 0
    """Place among all statements of the survey, in the order in which they are replayed."""


class Reference(msgspec.Struct, frozen=True):
    """What one object uses of another; `target` is an object id, or '' if the name leads nowhere."""

    object: str
    kind: str
    """table, column, routine, sequence or type."""
    name: str
    target: str
    line: int


class UnreadSpan(msgspec.Struct, frozen=True):
    object: str
    file: str
    line: int
    column: int
    end_line: int
    end_column: int
    lines: int
    reason: str
    excerpt: str
    whole: bool
    """Whether the statement as a whole is unread, rather than a part of it."""


class FileFacts(msgspec.Struct):
    path: str
    lines: int
    statements: int
    directives: int
    digest: str


class Change(msgspec.Struct):
    """What a statement does to an object that another statement creates, perhaps in a file read later."""

    kind: str
    """add, modify, redefine, retype, alter, comment, not null, or a form of `SchemaChange`."""
    schema: str
    name: str
    file: str
    line: int
    text: str = ""
    columns: list[Column] = []
    names: list[str] = []
    """What of the object is changed: columns, or the one constraint, index or trigger."""
    of: str = "table"
    """What is changed, in the words of `SchemaChange.kind`."""
    new: Parts = ()
    options: dict[str, str] = {}
    step: int = 0


class Sighting(msgspec.Struct, gc=False):
    """One occurrence of a construct, independent of any target.

    `needs` lists what must hold of columns for the sighting to count: (table or '', column, wanted class).
    """

    construct: str
    object: str
    file: str
    line: int
    column: int
    end_line: int
    end_column: int
    excerpt: str
    detail: str = ""
    needs: tuple[tuple[str, str, str], ...] = ()


class Measure(msgspec.Struct, frozen=True):
    """What a profile found of one column, or of one table where `column` is ''.

    `question` is the name of a question of the knowledge, such as zero-date. `count` says how many of the `seen` rows it
    holds for, and `value` the number that was asked for: the longest, the greatest. `total` is how many rows there are.
    """

    object: str
    column: str
    question: str
    count: int
    value: int
    seen: int
    total: int

    @property
    def is_whole(self) -> bool:
        """Whether every row was looked at."""
        return self.seen >= self.total


def shown(name: str) -> str:
    """Write a stored name for people and ids: folded names in lower case, others as they are."""
    return name.lower() if name == name.upper() else name


def object_id(schema: str, kind: str, name: str) -> str:
    """Build the id of an object: schema.type.name, without the schema where there is none."""
    parts = [shown(schema)] if schema else []
    return ".".join([*parts, kind.replace(" ", "_"), shown(name)])
