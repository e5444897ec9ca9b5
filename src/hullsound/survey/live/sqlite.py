"""Sessions on an SQLite file, opened for reading alone."""

import hashlib
import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import ClassVar, Final
from urllib.parse import quote

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Row

from .model import Address
from .session import STATEMENT_SECONDS, Session

_STEPS: Final = 20_000
"""Instructions of SQLite's machine between two looks at the clock."""


class SqliteSession(Session):
    """One connection that cannot write."""

    errors: ClassVar[tuple[type[Exception], ...]] = (sqlite3.Error,)

    def __init__(self, connection: sqlite3.Connection, address: Address) -> None:
        super().__init__(connection, address, "sqlite", "", address.name)
        self.limit(STATEMENT_SECONDS)

    def limit(self, seconds: float) -> None:
        self.seconds = seconds

    def fetch(self, query: str) -> list[Row]:
        def is_over() -> bool:
            return time.monotonic() > end

        end = time.monotonic() + self.seconds
        self.connection.set_progress_handler(is_over, _STEPS)
        return super().fetch(query)

    def is_lost(self, error: Exception) -> bool:
        return False

    def is_late(self, error: Exception) -> bool:
        return "interrupted" in str(error)


def _digest(text: str | None) -> int | None:
    """Return 48 bits of the MD5 of a text, which other engines have functions for."""
    if text is None:
        return None
    return int(hashlib.md5(str(text).encode(), usedforsecurity=False).hexdigest()[:12], 16)


@contextmanager
def open_sqlite(address: Address) -> Iterator[SqliteSession]:
    """Open the file for reading. Raises SourceError where that cannot be done."""
    path = Path(address.database)
    if not path.is_file():
        raise SourceError(
            "no such file", where=str(path), hint="An absolute path has four slashes: sqlite:////folder/file.db"
        )
    try:
        connection = sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True)
    except sqlite3.Error as error:
        raise SourceError(f"cannot open it: {error}", where=str(path)) from None
    try:
        connection.execute("PRAGMA query_only = ON")
        connection.create_function("hull_digest", 1, _digest, deterministic=True)
        connection.execute("SELECT 1 FROM sqlite_master LIMIT 1")
        yield SqliteSession(connection, address)
    except sqlite3.DatabaseError as error:
        raise SourceError(f"cannot read the catalogue: {error}", where=str(path)) from None
    finally:
        connection.close()
