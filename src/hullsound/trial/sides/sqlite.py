"""A source of SQLite, in memory."""

import sqlite3
import time
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.text import quote_name
from hullsound.draft.objects.order import creation_order
from hullsound.trial.behaviour import BehaviourCase, Observed, Row, Rows

_MADE: Final = (ObjectType.TABLE, ObjectType.VIEW, ObjectType.INDEX)
_SECONDS: Final = 5
_STEPS_BETWEEN_LOOKS: Final = 100_000


class SqliteSide:
    """The source's own tables, views and triggers; rows are put back before each case."""

    def __init__(self, catalog: Catalog) -> None:
        self.refused: dict[str, str] = {}
        """What the engine said of objects that it did not make, by id."""
        self.connection = sqlite3.connect(":memory:", isolation_level=None)
        self._deadline = 0.0
        self.connection.set_progress_handler(lambda: time.monotonic() > self._deadline, _STEPS_BETWEEN_LOOKS)
        made = [item for item, _ in creation_order(catalog) if item.text]
        for schema in sorted({item.schema for item in made} - {"", "MAIN", "TEMP"}):
            self.connection.execute(f"ATTACH ':memory:' AS {_quoted(schema.lower())}")
        for item in made:
            if item.type in _MADE:
                self._make(item)
        self._triggers = [item for item in made if item.type is ObjectType.TRIGGER]
        self._tables = [
            item for item in made if item.type is ObjectType.TABLE and item.columns and item.id not in self.refused
        ]

    def _make(self, item: Object) -> None:
        self._deadline = time.monotonic() + _SECONDS
        try:
            self.connection.executescript(item.text)
        except sqlite3.Error as error:
            self.refused[item.id] = str(error)

    def observe(self, case: BehaviourCase, item: Object | None, rows: Rows) -> Observed:
        seen = Observed()
        self._fill(rows)
        try:
            self._deadline = time.monotonic() + _SECONDS
            self.connection.execute("PRAGMA foreign_keys = ON")
            cursor = self.connection.execute(case.query)
            seen.results = [cursor.fetchall()] if cursor.description else []
        except sqlite3.Error as error:
            seen.failed, seen.error = True, str(error)
        for table in case.watch:
            seen.tables[table] = self.connection.execute(f"SELECT * FROM {_quoted(table)}").fetchall()
        return seen

    def takes(self, table: str, row: Row) -> bool:
        """Insert a row beside those that are there; return whether SQLite takes it, foreign keys and all."""
        self._deadline = time.monotonic() + _SECONDS
        self.connection.execute("PRAGMA foreign_keys = ON")
        try:
            self._insert(table, row)
        except sqlite3.Error:
            return False
        return True

    def empty(self) -> None:
        """Take all rows away."""
        self._fill({})

    def _insert(self, table: str, row: Row) -> None:
        columns = ", ".join(_quoted(name) for name in row)
        places = ", ".join("?" * len(row))
        self.connection.execute(f"INSERT INTO {_quoted(table)} ({columns}) VALUES ({places})", tuple(row.values()))

    def _fill(self, rows: Rows) -> None:
        """Put the rows in place without firing triggers, as the other side does."""
        self._deadline = time.monotonic() + _SECONDS
        self.connection.execute("PRAGMA foreign_keys = OFF")
        for trigger in self._triggers:
            self.connection.execute(f"DROP TRIGGER IF EXISTS {_quoted(trigger.name)}")
        for table in self._tables:
            schema = f"{_quoted(table.schema.lower())}." if table.schema else ""
            self.connection.execute(f"DELETE FROM {schema}{_quoted(table.name)}")
        for name, entries in rows.items():
            for row in entries:
                self._insert(name, row)
        for trigger in self._triggers:
            self._make(trigger)


def _quoted(name: str) -> str:
    return quote_name(name, "sqlite")
