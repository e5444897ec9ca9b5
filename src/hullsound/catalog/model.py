"""The objects of a surveyed database, free of any target."""

import re
from collections import Counter
from enum import StrEnum
from typing import Final

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


_SESSION_NAME: Final = re.compile(r"(?<![@\w])@\w+")


class Catalog:
    """All objects of a source by id, in the order in which they were met."""

    def __init__(self, engine: str, version: str = "", name: str = "") -> None:
        self.engine = engine
        self.version = version
        self.name = name
        self.surveyed_at = ""
        self.databases_are_schemas = engine in ("mysql", "mariadb", "teradata", "oracle")
        self.names_of_indexes_by_table = engine in ("sqlserver", "ase", "mysql", "mariadb", "teradata")
        self.names_of_triggers_by_table = engine == "postgresql"
        self.overloads_routines = engine in ("postgresql", "db2")
        self.objects: dict[str, Object] = {}
        self.references: list[Reference] = []
        self.unread: list[UnreadSpan] = []
        self.files: list[FileFacts] = []
        self.sightings: list[Sighting] = []
        self.step = 0
        """How many statements were added."""
        self.earlier: list[Object] = []
        """Objects that a later statement of the same files made anew, or took away."""
        self.changes: list[Change] = []
        """Settled by `settle` once everything is read."""
        self.file_ranks: dict[str, int] = {}
        """Place of each file among those whose order is known; files of one place were read in no known order."""
        self.part_starts: list[int] = []
        """First step of each group of files that were read in the order in which they call each other."""
        self.guessed_by: tuple[str, ...] = ()
        """Why the engine is taken for what it is, where nobody said."""
        self.doubt = ""
        """Why the scripts look like those of another engine than was named."""
        self.fingerprint = ""
        """What the survey was made of and with; '' where that is not known whole."""
        self.parts: dict[str, bytes] = {}
        """What was read of each group of files, packed, so that a later survey need not read it again."""
        self.settings: dict[str, str] = {}
        """Settings of server and database that a move depends on, where the source is a running one."""
        self.default_schema_alias = ""
        """What the scripts also call the schema of objects that are made without one; '' where nothing says so."""
        self.measures: list[Measure] = []
        """What a profile found out of the values."""
        self._by_name: dict[tuple[str, str], list[Object]] | None = None
        self._column_names: dict[str, frozenset[str]] = {}
        self._columns: dict[str, list[Column]] | None = None
        self._in_any_schema: dict[str, list[Object]] | None = None
        self._schemas: frozenset[str] | None = None
        self._by_table: dict[str, list[Object]] | None = None
        self._trigger_names: Counter[str] | None = None
        self._session_names: dict[str, set[str]] | None = None
        self._leading: dict[str, frozenset[str]] = {}

    def add(self, item: Object) -> None:
        self.objects[item.id] = item
        self.forget_indexes()

    def forget_indexes(self) -> None:
        """Look objects up anew from now on: some came, went or got other names."""
        self._by_name = self._columns = self._in_any_schema = self._schemas = None
        self._column_names = {}
        self._leading = {}
        self._by_table = self._session_names = self._trigger_names = None

    def keys_of(self, table: Object) -> list[list[str]]:
        """Return the columns of a table's keys: the primary key first, then those of unique constraints and indexes."""
        keys: list[list[str]] = []
        for item in self.belonging(table.id):
            if item.constraint is not None and item.constraint.form == "primary key":
                keys.insert(0, item.constraint.columns)
            elif item.constraint is not None and item.constraint.form == "unique":
                keys.append(item.constraint.columns)
            elif item.index is not None and item.index.unique:
                known = {column.name for column in table.columns}
                keys.append([name if name in known else name.upper() for name in item.index.columns()])
        return keys

    def leading_columns(self, table: Object) -> frozenset[str]:
        """Return the columns that an index or key of a table begins with, in upper case."""
        known = self._leading.get(table.id)
        if known is None:
            lists = [each.constraint.columns for each in self.belonging(table.id) if each.constraint is not None]
            lists += [each.index.columns() for each in self.belonging(table.id) if each.index is not None]
            known = self._leading[table.id] = frozenset(columns[0].upper() for columns in lists if columns)
        return known

    def named(self, schema: str, name: str) -> list[Object]:
        """Return the objects with this name in `schema`."""
        if self._by_name is None:
            self._by_name = {}
            for item in self.objects.values():
                if item.type not in (ObjectType.CONSTRAINT, ObjectType.GRANT, ObjectType.DATA):
                    self._by_name.setdefault((item.schema, item.name), []).append(item)
        return self._by_name.get((schema, name), [])

    def resolve(self, parts: Parts, default_schema: str) -> Object | None:
        """Find the object a name means: in the default schema, as schema.object, as package.member, or public.

        Of a name with three or more parts the last two count: what stands before them names a database or a server.
        """
        if len(parts) > 2 and (found := self.resolve((parts[-2] or default_schema, parts[-1]), default_schema)):
            return found
        tries = [(default_schema, parts[0])]
        if len(parts) > 1:
            tries.insert(0, (parts[0], parts[1]))
            if parts[0] == self.default_schema_alias:
                tries.insert(1, (default_schema, parts[1]))
        tries.append(("PUBLIC", parts[0]))
        for schema, name in tries:
            for item in self.named(schema, name):
                if item.type not in (ObjectType.INDEX, ObjectType.TRIGGER):
                    return item
        return None

    def table(self, parts: Parts, default_schema: str) -> Object | None:
        """Find the table or view a name means, through synonyms."""
        item = self.resolve(parts, default_schema)
        for _ in range(5):
            if item is None or item.type is not ObjectType.SYNONYM:
                return item
            item = self.resolve(tuple(item.details["target"].split("\t")), item.schema)
        return None

    def first_schema(self) -> str:
        """Return the schema of the first object that has one."""
        return next((item.schema for item in self.objects.values() if item.schema), "")

    def schemas(self) -> frozenset[str]:
        """Return the schemas that hold an object."""
        if self._schemas is None:
            self._schemas = frozenset(item.schema for item in self.objects.values())
        return self._schemas

    def belonging(self, table: str) -> list[Object]:
        """Return the constraints, indexes and triggers of a table, by its id."""
        if self._by_table is None:
            self._by_table = {}
            for item in self.objects.values():
                if item.table:
                    self._by_table.setdefault(item.table, []).append(item)
        return self._by_table.get(table, [])

    def triggers_called(self, name: str) -> int:
        """Return how many triggers bear a name, whatever their tables."""
        if self._trigger_names is None:
            self._trigger_names = Counter(
                item.name.rpartition(".")[2] if self.names_of_triggers_by_table else item.name
                for item in self.objects.values()
                if item.type is ObjectType.TRIGGER
            )
        return self._trigger_names[name]

    def session_users(self, name: str) -> set[str]:
        """Return the ids of the objects whose text holds a variable of the session, such as @total."""
        if self._session_names is None:
            self._session_names = {}
            for item in self.objects.values():
                for found in _SESSION_NAME.findall(item.text.upper()):
                    self._session_names.setdefault(found, set()).add(item.id)
        return self._session_names.get(name, set())

    def with_name(self, name: str) -> list[Object]:
        """Return the objects of this name in any schema."""
        if self._in_any_schema is None:
            self._in_any_schema = {}
            for item in self.objects.values():
                self._in_any_schema.setdefault(item.name, []).append(item)
        return self._in_any_schema.get(name, [])

    def tables_named(self, name: str) -> list[Object]:
        """Return the objects of this name, in any schema, that have columns."""
        return [item for item in self.with_name(name) if item.columns]

    def column_names(self, table: Object) -> frozenset[str]:
        """Return the names of a table's columns in lower case, without quotes."""
        names = self._column_names.get(table.id)
        if names is None:
            names = self._column_names[table.id] = frozenset(column.name.strip('"').lower() for column in table.columns)
        return names

    def columns_named(self, name: str) -> list[Column]:
        """Return the columns of this name in any object: one for each type, with and without NULL, that some of them have."""
        if self._columns is None:
            unlike: dict[str, dict[tuple[str, bool], Column]] = {}
            for item in self.objects.values():
                for each in item.columns:
                    if each.type.name:
                        unlike.setdefault(each.name, {}).setdefault((str(each.type), each.nullable), each)
            self._columns = {column: list(kinds.values()) for column, kinds in unlike.items()}
        return self._columns.get(name, [])
