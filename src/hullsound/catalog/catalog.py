"""The whole of a surveyed database: its objects, and what is asked of them by name."""

import re
from collections import Counter
from typing import Final

from hullsound.catalog.model import (
    Change,
    Column,
    FileFacts,
    Measure,
    Object,
    ObjectType,
    Reference,
    Sighting,
    UnreadSpan,
)
from hullsound.sql.names import Parts

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
