"""Opening a hull file to read or to write, with errors that say what is wrong with it."""

import sqlite3
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

import msgspec

from hullsound.errors import SourceError

APPLICATION_ID: Final = 0x48554C4C
"""'HULL', stored in the header of every hull file."""


SCHEMA_VERSION: Final = 8


@contextmanager
def open_hull(path: Path) -> Iterator[sqlite3.Connection]:
    """Open a hull file. Raises SourceError if it is missing, damaged, foreign or of another schema version."""
    if not path.is_file():
        raise SourceError(
            "no such hull file" if not path.exists() else "not a file",
            where=str(path), hint="Make one with: hullsound survey SOURCE --from ENGINE -o NAME.hull",
        )  # fmt: skip
    connection = sqlite3.connect(path)
    try:
        _check_header(connection, path)
        yield connection
        connection.commit()
    except (sqlite3.DatabaseError, msgspec.DecodeError, zlib.error, OSError) as error:
        raise SourceError(
            f"cannot use the hull file: {error}", where=str(path), hint="Survey the source again."
        ) from error
    except (TypeError, KeyError, ValueError, AttributeError) as error:  # rows that no survey writes
        raise SourceError(
            f"cannot use the hull file: it holds what no survey writes ({error!r})", where=str(path),
            hint="Survey the source again.",
        ) from error  # fmt: skip
    finally:
        connection.close()


def _check_header(connection: sqlite3.Connection, path: Path) -> None:
    try:
        application = connection.execute("PRAGMA application_id").fetchone()[0]
        version = connection.execute("PRAGMA user_version").fetchone()[0]
    except sqlite3.DatabaseError as error:
        raise SourceError(
            f"not a hull file ({error})", where=str(path), hint="Give a file written by: hullsound survey"
        ) from error
    if application != APPLICATION_ID:
        raise SourceError(
            "a SQLite file, but not a hull file", where=str(path), hint="Give a file written by: hullsound survey"
        )
    if version != SCHEMA_VERSION:
        raise SourceError(
            f"written by another version of Hull Sound (schema {version}, this one reads {SCHEMA_VERSION})",
            where=str(path), hint="Survey the source again.",
        )  # fmt: skip


@contextmanager
def writing(path: Path) -> Iterator[sqlite3.Connection]:
    """Open a hull file to add to it, in one transaction. Raises SourceError if it cannot be written."""
    with open_hull(path) as connection:
        try:
            with connection:
                yield connection
        except sqlite3.OperationalError as error:
            raise SourceError(
                f"cannot write to the hull file: {error}", where=str(path), hint="Is the disk full or read-only?"
            ) from error
