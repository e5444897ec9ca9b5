"""The estate file: one SQLite file with what every member came to, written as soon as it is known."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

import msgspec

from hullsound.errors import SourceError

from .model import Member, MemberResult

APPLICATION_ID: Final = 0x48455354
"""'HEST', stored in the header of every estate file."""
SCHEMA_VERSION: Final = 1
SCHEMA: Final = """
-- One row per member: how it was listed (JSON, without passwords), and what it came to (JSON), NULL until it is known.
-- mark tells whether that still holds: it changes with source, tool, decisions and targets.
CREATE TABLE IF NOT EXISTS member (name TEXT PRIMARY KEY, listed TEXT NOT NULL, mark TEXT NOT NULL, result TEXT) WITHOUT ROWID;
"""


@contextmanager
def open_estate(path: Path) -> Iterator[sqlite3.Connection]:
    """Open an estate file, or make it. Raises SourceError where it is foreign, damaged or cannot be written."""
    is_new = not path.exists()
    try:
        connection = sqlite3.connect(path)
    except sqlite3.Error as error:
        raise SourceError(f"cannot open the estate file: {error}", where=str(path)) from error
    try:
        if is_new:
            connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            connection.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
        kind = connection.execute("PRAGMA application_id").fetchone()[0]
        version = connection.execute("PRAGMA user_version").fetchone()[0]
        if kind != APPLICATION_ID or version != SCHEMA_VERSION:
            raise SourceError(
                "not an estate file of this version", where=str(path), hint="Give another folder with -o."
            )
        connection.executescript(SCHEMA)
        yield connection
        connection.commit()
    except (sqlite3.DatabaseError, msgspec.DecodeError) as error:
        raise SourceError(
            f"cannot use the estate file: {error}", where=str(path), hint="Remove it and run again."
        ) from error
    finally:
        connection.close()


def put_members(connection: sqlite3.Connection, members: list[Member]) -> None:
    """List the members; those that are not listed any more are taken out, what is known of the others stays."""
    names = {member.name for member in members}
    gone = [(name,) for (name,) in connection.execute("SELECT name FROM member") if name not in names]
    connection.executemany("DELETE FROM member WHERE name = ?", gone)
    rows = [(member.name, msgspec.json.encode(member).decode()) for member in members]
    connection.executemany(
        "INSERT INTO member VALUES (?, ?, '', NULL) ON CONFLICT (name) DO UPDATE SET listed = excluded.listed", rows
    )
    connection.commit()


def put_result(connection: sqlite3.Connection, result: MemberResult) -> None:
    """Keep what a member came to, at once."""
    text = msgspec.json.encode(result).decode()
    connection.execute("UPDATE member SET mark = ?, result = ? WHERE name = ?", (result.mark, text, result.name))
    connection.commit()


def known_marks(connection: sqlite3.Connection) -> dict[str, str]:
    """Return the marks of the members that are judged."""
    return dict(connection.execute("SELECT name, mark FROM member WHERE mark <> ''"))


def read_results(connection: sqlite3.Connection) -> list[tuple[Member, MemberResult]]:
    """Return all members with what they came to, by name; members that were never reached have no result and are left out."""
    rows = connection.execute("SELECT listed, result FROM member WHERE result IS NOT NULL ORDER BY name")
    decode = msgspec.json.decode
    return [(decode(listed, type=Member), decode(result, type=MemberResult)) for listed, result in rows]
