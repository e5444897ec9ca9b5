"""A data dictionary in SQLite databases in memory, attached under the names of the schemas that hold it on the engine."""

import sqlite3
import time
from collections.abc import Iterable, Sequence
from typing import Any, ClassVar, Final

_BEGIN: Final = time.time() - 86_400


def passed_seconds() -> float:
    """Return for how long a stand-in has been up: what its counters count by."""
    return time.time() - _BEGIN


class Dictionary:
    """The views of one engine with the columns that its catalogue queries read; what is not filled stays empty."""

    errors: ClassVar[tuple[type[Exception], ...]] = (sqlite3.Error,)

    def __init__(self, views: dict[str, str], schema: str = "sys") -> None:
        self.schema = schema
        self.connection = sqlite3.connect(":memory:")
        self.connection.execute(f"ATTACH DATABASE ':memory:' AS {schema}")
        self.views = {name: columns.split() for name, columns in views.items()}
        for name, columns in self.views.items():
            self.connection.execute(f"CREATE TABLE {schema}.{_quoted(name)} ({', '.join(map(_quoted, columns))})")

    def fill(self, view: str, rows: Iterable[dict[str, Any] | Sequence[Any]]) -> None:
        """Add rows, by the names of columns or in their order. Raises KeyError for a view or column that is not there."""
        columns = self.views[view]
        values = [[row.get(column) for column in columns] if isinstance(row, dict) else list(row) for row in rows]
        marks = ", ".join("?" * len(columns))
        self.connection.executemany(f"INSERT INTO {self.schema}.{_quoted(view)} VALUES ({marks})", values)


def _quoted(name: str) -> str:
    return f'"{name}"'
