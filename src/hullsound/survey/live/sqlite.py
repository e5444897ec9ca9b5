"""A live survey of an SQLite file, opened for reading alone."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

from hullsound.errors import SourceError

from .model import Address, Statement, load_queries


class SqliteSession:
    """One connection that cannot write."""

    version = ""

    def __init__(self, connection: sqlite3.Connection, address: Address) -> None:
        self.connection = connection
        self.address = address

    def statements(self) -> Iterator[Statement]:
        """Read the texts that SQLite keeps of its objects. Raises SourceError for a file that is no database."""
        try:
            rows = self.connection.execute(load_queries("sqlite")["objects"]).fetchall()
        except sqlite3.Error as error:
            raise SourceError(f"cannot read the catalogue: {error}", where=self.address.text) from None
        for kind, name, text in rows:
            yield Statement("", kind, name, text)


@contextmanager
def sqlite_session(address: Address) -> Iterator[SqliteSession]:
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
        yield SqliteSession(connection, address)
    finally:
        connection.close()
