"""The drafts on a scratch PostgreSQL."""

from typing import TYPE_CHECKING, Any, Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.conversions.arguments import parameter_type
from hullsound.draft.edits.names import names_of
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.files import search_path
from hullsound.draft.model import Draft, DraftSet
from hullsound.draft.plpgsql.shared import unsized_text
from hullsound.draft.probe import draft_text
from hullsound.knowledge.engine_model import Target
from hullsound.trial.behaviour import BehaviourCase, Observed, Row, Rows, given_arguments, unnamed
from hullsound.trial.postgresql import make_schemas

if TYPE_CHECKING:
    import psycopg

_BPCHAR: Final = 1042
"""Object id of the type character(n) (pg_type.dat)."""
_BITS: Final = frozenset((1560, 1562))
"""Object ids of the types bit and bit varying."""
_SECONDS: Final = 5
"""What one statement may take: made-up arguments can make a loop endless."""


class PostgresqlSide:
    """The drafts on a scratch PostgreSQL; each case is rolled back."""

    def __init__(
        self, connection: "psycopg.Connection[Any]", catalog: Catalog, drafts: DraftSet, target: Target
    ) -> None:
        self.connection = connection
        self.catalog = catalog
        self.target = target
        self.names = names_of("postgresql")
        self._bits = {
            (item.name.lower(), column.name.lower()): int(column.type.arguments[0])
            for item in catalog.objects.values()
            for column in item.columns
            if column.type.name == "BIT" and column.type.arguments and column.type.arguments[0] != "1"
        }
        """Lengths of columns of several bits."""
        self.refused: dict[str, str] = {}
        """What the server said of objects that it did not make, by id."""
        self._user = connection.info.user
        connection.execute(f"SET statement_timeout = '{_SECONDS}s'".encode())
        make_schemas(connection, drafts)
        path = ", ".join(self.names.quote(schema) for schema in search_path(drafts, "postgresql"))
        connection.execute("SELECT set_config('search_path', %s, false)", [path])
        made = [each for each in drafts.drafts if each.text and each.object.type is not ObjectType.DATA]
        for draft in made:
            self._make(draft)
        # What needs a key that comes later, such as a view of groups, is there by now; dumps empty the path.
        connection.execute("SELECT set_config('search_path', %s, false)", [path])
        for draft in [each for each in made if each.object.id in self.refused]:
            self._make(draft)
        self._counters = connection.execute(
            "SELECT table_schema, table_name, column_name FROM information_schema.columns WHERE is_identity = 'YES'"
        ).fetchall()

    def _make(self, draft: Draft) -> None:
        """Run a draft; what the server refuses shows in the cases that use it."""
        from psycopg import Error

        self.refused.pop(draft.object.id, None)
        try:
            with self.connection.transaction():
                self.connection.execute(draft.text.encode(), prepare=False)
        except Error as error:
            self.refused[draft.object.id] = str(error.diag.message_primary or error)

    def observe(self, case: BehaviourCase, item: Object | None, rows: Rows, query: str = "") -> Observed:
        """Run one case; what `query` finds behind it is kept as the table `found`."""
        from psycopg import Error

        seen = Observed()
        with self.connection.transaction(force_rollback=True):
            try:
                with self.connection.transaction():
                    self.fill(rows)
                    if item is None:
                        cursor = self.connection.execute(self._written(case.query).encode())
                        seen.results = [self._rows(cursor)] if cursor.description else []
                    elif item.type is ObjectType.FUNCTION:
                        places, values = self._arguments(case, item)
                        found = self.ask(f"SELECT {self._name(item)}({places})", values)
                        seen.values = list(found[0]) if len(found) == 1 else []
                        seen.results = [found] if len(found) != 1 else []
                    else:
                        self._call(case, item, seen)
            except Error as error:
                seen.failed, seen.error = True, str(error.diag.message_primary or error)
            except CannotDraft as reason:
                seen.failed, seen.error = True, f"it cannot be drafted: {reason}"
            self._look(case, seen)
            if query:
                seen.tables["found"] = self.ask(query)
        return seen

    def _look(self, case: BehaviourCase, seen: Observed) -> None:
        """Keep the rows of the watched tables; one that is not there makes the case fail."""
        from psycopg import Error

        for table in case.watch:
            try:
                with self.connection.transaction():
                    seen.tables[table] = self.ask(f"SELECT * FROM {self.names.write(table.upper())}")
            except Error as error:
                seen.failed, seen.error = True, seen.error or str(error.diag.message_primary or error)

    def _written(self, query: str) -> str:
        """Return a query of the source as this side writes it. Raises CannotDraft where that cannot be done."""
        return draft_text(query, self.catalog, self.target)

    def refusal(self, table: str, row: Row) -> str:
        """Return what the target says against a row by itself, without its foreign keys; '' where it takes it."""
        from psycopg import Error

        with self.connection.transaction(force_rollback=True):
            try:
                self.fill({table: [row]})
            except Error as error:
                return str(error.diag.message_primary or error)
        return ""

    def ask(self, text: str, values: list[Any] | None = None) -> list[tuple[Any, ...]]:
        """Run a statement and return its rows."""
        cursor = self.connection.execute(text.encode(), values)
        return self._rows(cursor) if cursor.description else []

    def _rows(self, cursor: "psycopg.Cursor[Any]") -> list[tuple[Any, ...]]:
        """Return rows with values as other engines give them, and without the name of the user."""
        kinds = [column.type_code for column in cursor.description or ()]
        return [unnamed(list(map(_as_elsewhere, row, kinds)), self._user) for row in cursor.fetchall()]

    def _name(self, item: Object) -> str:
        return self.names.qualified(item.schema, item.name)

    def fill(self, rows: Rows) -> None:
        """Insert rows without their triggers and foreign keys."""
        self.connection.execute("SET LOCAL session_replication_role = replica")
        for table, entries in rows.items():
            for entry in entries:
                columns = ", ".join(self.names.write(name.upper()) for name in entry)
                places = ", ".join(["%s"] * len(entry))
                text = f"INSERT INTO {self.names.write(table.upper())} ({columns}) VALUES ({places})"
                self.connection.execute(text.encode(), [self._value(table, *pair) for pair in entry.items()])
        self.connection.execute("SET LOCAL session_replication_role = origin")
        self._set_counters(rows)

    def _value(self, table: str, column: str, value: Any) -> str | None:
        """Return a value as the text that its column reads; a number for several bits is written bit by bit."""
        if value is None:
            return None
        length = self._bits.get((table.lower(), column.lower()), 0)
        return f"{value:0{length}b}" if length and isinstance(value, int) else str(value)

    def _set_counters(self, rows: Rows) -> None:
        """Set the counters of identities behind the rows, as the source does by itself."""
        for schema, table, column in self._counters:
            entries = rows.get(table.lower(), [])
            numbers = [int(row[column.lower()]) for row in entries if row.get(column.lower()) is not None]
            self.connection.execute(
                "SELECT setval(pg_get_serial_sequence(%s, %s), %s, %s)",
                [
                    f"{self.names.quote(schema)}.{self.names.quote(table)}",
                    column,
                    max(numbers, default=1),
                    bool(numbers),
                ],
            )

    def _arguments(self, case: BehaviourCase, item: Object) -> tuple[str, list[Any]]:
        places, values = [], []
        for parameter, value in given_arguments(item.routines[0].parameters, case.arguments):
            kind = parameter_type(parameter.type, item, self.catalog, self.target) or "text"
            plain = unsized_text(kind)
            places.append(f"CAST(%s AS {'bpchar' if plain == 'char' else plain})")
            values.append(None if value is None else str(value))
        return ", ".join(places), values

    def _call(self, case: BehaviourCase, item: Object, seen: Observed) -> None:
        places, values = self._arguments(case, item)
        cursor = self.connection.execute(f"CALL {self._name(item)}({places})".encode(), values)
        row = cursor.fetchone() if cursor.description else ()
        given = [p for p in item.routines[0].parameters if p.mode != "in"]
        seen.values = list(row[: len(given)]) if row else []
        for portal in (row or ())[len(given) :]:
            if isinstance(portal, str):
                seen.results.append(self.ask(f"FETCH ALL FROM {self.names.quote(portal)}"))


class PostgresqlSource(PostgresqlSide):
    """A source on a PostgreSQL of ours: `drafts` are its own texts."""

    def __init__(
        self, connection: "psycopg.Connection[Any]", catalog: Catalog, drafts: DraftSet, target: Target
    ) -> None:
        super().__init__(connection, catalog, drafts, target)
        self._kept: Rows = {}

    def _written(self, query: str) -> str:
        return query

    def takes(self, table: str, row: Row) -> bool:
        """Insert a row beside those that were taken before; return whether the server takes it, foreign keys and all."""
        from psycopg import Error

        columns = ", ".join(self.names.write(name.upper()) for name in row)
        places = ", ".join(["%s"] * len(row))
        text = f"INSERT INTO {self.names.write(table.upper())} ({columns}) VALUES ({places})"
        with self.connection.transaction(force_rollback=True):
            try:
                self.fill(self._kept)
                self.connection.execute(text.encode(), [None if v is None else str(v) for v in row.values()])
                self.connection.execute("SET CONSTRAINTS ALL IMMEDIATE")
            except Error:
                return False
        self._kept.setdefault(table, []).append(row)
        return True

    def empty(self) -> None:
        """Take all rows away."""
        self._kept = {}


def _as_elsewhere(value: Any, kind: int) -> Any:
    """Return CHAR without the blanks that fill it, and bits as a number."""
    if not isinstance(value, str):
        return value
    return value.rstrip() if kind == _BPCHAR else int(value, 2) if kind in _BITS and value else value
