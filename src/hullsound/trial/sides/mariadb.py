"""A source of the MySQL family on a MariaDB or MySQL server."""

import re
from collections.abc import Iterable, Mapping
from contextlib import suppress
from typing import TYPE_CHECKING, Any, Final

from hullsound.assess.pair import Pair
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.text import quote_name
from hullsound.draft.model import DraftSet
from hullsound.draft.objects.order import creation_order
from hullsound.draft.probe import draft_text
from hullsound.errors import TargetError
from hullsound.knowledge.engine_model import Target
from hullsound.trial.behaviour import BehaviourCase, Observed, Row, Rows, given_arguments, unnamed

if TYPE_CHECKING:
    import pymysql

_MADE: Final = (
    ObjectType.TABLE, ObjectType.FUNCTION, ObjectType.PROCEDURE, ObjectType.VIEW, ObjectType.CONSTRAINT, ObjectType.INDEX,
)  # fmt: skip
_MADE_LATER: Final = (ObjectType.TRIGGER, ObjectType.DATA, ObjectType.GRANT, ObjectType.SCHEMA)
_PARTS: Final = (ObjectType.CONSTRAINT, ObjectType.INDEX)
_DEFINER: Final = re.compile(r"(?i)\bDEFINER\s*=\s*\S+@\S+")
_OF_MAINTENANCE: Final = ["Table", "Op", "Msg_type", "Msg_text"]
"""Columns of what OPTIMIZE and its like say, which is no result of the code."""
_SECONDS: Final = 5
"""What one statement may take: made-up arguments can make a loop endless."""


class MariadbSide:
    """The source's own tables and code on a server of its family; rows are put back before each case."""

    def __init__(
        self,
        connection: "pymysql.connections.Connection[Any]",
        catalog: Catalog,
        adapted: Mapping[str, str] | None = None,
        texts: Mapping[str, str] | None = None,
    ) -> None:
        """Make the objects; where the server refuses one, its `adapted` text by id is tried instead.

        What a table got by later statements is in the adapted texts alone. With `texts`, by id, these are made in place
        of the source's own.
        """
        from pymysql.constants import FIELD_TYPE

        self.connection = connection
        self.refused: dict[str, str] = {}
        """What the server said of objects that it did not make, by id."""
        self._rows: Rows | None = None
        self._state: dict[str, tuple[Any, ...]] = {}
        self._triggers: dict[str, list[Object]] = {}
        self._adapted = adapted or {}
        self._texts = texts
        # The decoders of PyMySQL give bits as bytes, and PostgreSQL has booleans or numbers for them.
        connection.decoders[FIELD_TYPE.BIT] = _number_of_bits  # type: ignore[assignment]
        self._user = ""
        self._user = str(self._run("SELECT CURRENT_USER()")[0][0][0])
        self._made: list[str] = []
        self._make_databases(sorted({o.schema for o in catalog.objects.values() if o.schema}) or ["HULLSOUND_CASES"])
        self._run("SET foreign_key_checks = 0")
        for item, _ in creation_order(catalog):
            is_made = item.text and item.type in _MADE if texts is None else item.type not in _MADE_LATER
            if is_made:
                self._make(item)
        made = [row[0] for row in self._run("SHOW FULL TABLES WHERE Table_type = 'BASE TABLE'")[0]]
        self.tables = {name.lower(): quote_name(name, "mysql") for name in made}
        """Quoted names of the tables that are there, by their names in lower case."""
        counting = "table_schema = DATABASE() AND extra LIKE '%auto_increment%'"
        counted = self._run(f"SELECT DISTINCT table_name FROM information_schema.columns WHERE {counting}")[0]
        self._counted = {row[0].lower(): row[0] for row in counted if row[0].lower() in self.tables}
        """Names of the tables that number their rows, by their names in lower case."""
        for item in catalog.objects.values():
            if item.type is ObjectType.TRIGGER and item.table in catalog.objects:
                table = catalog.objects[item.table].name.lower()
                self._triggers.setdefault(table, []).append(item)
        for triggers in self._triggers.values():
            for item in triggers:
                self._make(item)
        self._limit_to(_SECONDS)

    def _limit_to(self, seconds: float) -> None:
        """Interrupt statements that take longer; 0 for no limit, as for what makes and drops the objects."""
        import pymysql

        with suppress(pymysql.MySQLError):  # MySQL has no such limit for procedures
            self._run(f"SET max_statement_time = {seconds}")

    def _make_databases(self, schemas: list[str]) -> None:
        """Create the databases of the source. Raises TargetError where one is there already: its rows are not ours."""
        there = {str(row[0]).lower() for row in self._run("SHOW DATABASES")[0]}
        for schema in schemas:
            if schema.lower() in there:
                raise TargetError(
                    f"the server has a database {schema.lower()} already, whose rows would be overwritten", where="trial",
                    hint="Cases run on an empty server of the source's engine: give such a one, or leave --source out.",
                )  # fmt: skip
        for schema in schemas:
            self._run(f"CREATE DATABASE {_quoted(schema)}")
            self._made.append(schema)
            self._run(f"USE {_quoted(schema)}")

    def close(self) -> None:
        """Drop the databases that were made."""
        self._limit_to(0)
        for schema in self._made:
            self._run(f"DROP DATABASE {_quoted(schema)}")
        self._made.clear()

    def _make(self, item: Object) -> None:
        if self._texts is not None:
            self._try_texts(item, [self._texts.get(item.id, "")])
            return
        own = "" if item.type in _PARTS and not item.text.upper().startswith("CREATE") else item.text
        texts = (own, self._adapted.get(item.id, ""))
        # Only the adapted text of a table holds the columns that later statements add.
        self._try_texts(item, reversed(texts) if item.type is ObjectType.TABLE else texts)

    def _try_texts(self, item: Object, texts: Iterable[str]) -> None:
        """Make an object by the first of some texts that the server takes."""
        import pymysql

        for text in filter(None, texts):
            try:
                self._run(_DEFINER.sub("", text))
            except pymysql.MySQLError as error:
                self.refused[item.id] = _said(error)
            else:
                self.refused.pop(item.id, None)
                return

    def _run(self, text: str, values: tuple[Any, ...] = ()) -> list[list[tuple[Any, ...]]]:
        """Run one statement; return its result sets."""
        results = []
        with self.connection.cursor() as cursor:
            cursor.execute(text, values or None)
            while True:
                names = [each[0] for each in cursor.description or ()]
                if names and names != _OF_MAINTENANCE:
                    results.append([unnamed(row, self._user) for row in cursor.fetchall()])
                if not cursor.nextset():
                    return results

    def observe(self, case: BehaviourCase, item: Object | None, rows: Rows) -> Observed:
        import pymysql

        self._fill(rows)
        seen = Observed()
        try:
            if item is None:
                seen.results = self._run(self._written(case.query))
            elif item.type is ObjectType.FUNCTION:
                places = ", ".join(["%s"] * len(case.arguments))
                seen.values = list(self._run(f"SELECT {_quoted(item.name)}({places})", case.arguments)[0][0])
            else:
                self._call(case, item, seen)
        except pymysql.MySQLError as error:
            seen.failed, seen.error = True, _said(error)
        except CannotDraft as reason:
            seen.failed, seen.error = True, f"it cannot be drafted: {reason}"
        self._run("ROLLBACK")
        for table in case.watch:
            seen.tables[table] = self._run(f"SELECT * FROM {self._table(table)}")[0]
        return seen

    def _written(self, query: str) -> str:
        """Return a query of the source as this side writes it. Raises CannotDraft where that cannot be done."""
        return query

    def takes(self, table: str, row: Row) -> bool:
        """Insert a row beside those that are there; return whether the server takes it, foreign keys and all."""
        import pymysql

        try:
            self._insert(table, row)
        except pymysql.MySQLError:
            return False
        return True

    def empty(self) -> None:
        """Take all rows away."""
        self._fill({})

    def _insert(self, table: str, row: Row) -> None:
        columns = ", ".join(quote_name(name, "mysql") for name in row)
        places = ", ".join(["%s"] * len(row))
        self._run(f"INSERT INTO {self._table(table)} ({columns}) VALUES ({places})", tuple(row.values()))

    def _fill(self, rows: Rows) -> None:
        """Put the rows back where a case has changed them or others are wanted, without firing triggers, as the other side does."""
        given = {table.lower(): entries for table, entries in rows.items()}
        state = self._look() if self._rows is not None else {}
        before, self._rows = self._rows, None  # which stays if a row is refused half way
        stale = [
            table for table in self.tables
            if before is None or state[table] != self._state[table] or given.get(table, []) != before.get(table, [])
        ]  # fmt: skip
        self._run("SET foreign_key_checks = 0")
        for table in stale:
            for trigger in self._triggers.get(table, ()):
                self._run(f"DROP TRIGGER IF EXISTS {_quoted(trigger.name)}")
            self._run(f"TRUNCATE TABLE {self._table(table)}")
            for row in given.get(table, []):
                self._insert(table, row)
            for trigger in self._triggers.get(table, ()):
                self._make(trigger)
        for table in given.keys() - set(self.tables):
            for row in given[table]:
                self._insert(table, row)  # so that the server says what is wrong with it
        self._run("SET foreign_key_checks = 1")
        self._rows = given
        if stale:
            self._state = self._look()

    def _table(self, name: str) -> str:
        return self.tables.get(name.lower()) or _quoted(name)

    def _look(self) -> dict[str, tuple[Any, ...]]:
        """Return what tells whether a table has changed: a sum over its rows, and the next number of its counter."""
        if not self.tables:
            return {}
        sums = self._run(f"CHECKSUM TABLE {', '.join(self.tables.values())}")[0]
        counts = self._counters()
        return {table: (total, counts.get(table)) for table, (_, total) in zip(self.tables, sums, strict=True)}

    def _counters(self) -> dict[str, int | None]:
        """Return the next number of each table's counter. Asked of a table by name, the server opens no other, nor any view."""
        if not self._counted:
            return {}
        one = "SELECT %s, auto_increment FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = %s"
        asked = tuple(value for pair in self._counted.items() for value in pair)
        return dict(self._run(" UNION ALL ".join([f"({one})"] * len(self._counted)), asked)[0])

    def _call(self, case: BehaviourCase, item: Object, seen: Observed) -> None:
        places, values, outs = [], [], []
        for number, (parameter, value) in enumerate(given_arguments(item.routines[0].parameters, case.arguments)):
            if parameter.mode == "in":
                places.append("%s")
                values.append(value)
            else:
                name = f"@hs_case_{number}"
                self._run(f"SET {name} = %s", (value,))
                places.append(name)
                outs.append(name)
        results = self._run(f"CALL {_quoted(item.name)}({', '.join(places)})", tuple(values))
        seen.results = results
        if outs:
            seen.values = list(self._run(f"SELECT {', '.join(outs)}")[0][0])


class MariadbDrafts(MariadbSide):
    """Drafts on a scratch MariaDB, or on a MySQL."""

    def __init__(
        self, connection: "pymysql.connections.Connection[Any]", catalog: Catalog, drafts: DraftSet, target: Target
    ) -> None:
        self._catalog, self._target = catalog, target
        super().__init__(connection, catalog, texts={draft.object.id: draft.text for draft in drafts.drafts})

    def _written(self, query: str) -> str:
        kin = Pair(self._catalog.engine, self._target).is_kin
        return query if kin else draft_text(query, self._catalog, self._target)

    def refusal(self, table: str, row: Row) -> str:
        """Return what the target says against a row by itself, without its foreign keys; '' where it takes it."""
        import pymysql

        try:
            self._fill({table: [row]})
        except pymysql.MySQLError as error:
            return _said(error)
        return ""


def _quoted(name: str) -> str:
    return quote_name(name.lower(), "mysql")


def _said(error: Exception) -> str:
    return str(error.args[-1] if error.args else error)


def _number_of_bits(value: bytes) -> int:
    return int.from_bytes(value, "big")
