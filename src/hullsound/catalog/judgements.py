"""What the hull file keeps beside the survey: assessments, drafts, trials, and the work done."""

import sqlite3
import zlib
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import NamedTuple

from hullsound.catalog.hull_connection import open_hull, writing
from hullsound.timing import step


class Actual(NamedTuple):
    """What work on one object took."""

    object: str
    hours: float
    done: bool


@step("write the hull file")
def add_assessment(path: Path, target: str, made_at: str, document: bytes) -> None:
    """Keep an assessment document with the survey it was made of."""
    with writing(path) as connection:
        connection.execute("INSERT INTO assessment VALUES (?, ?, ?)", (target, made_at, zlib.compress(document, 1)))


def put_actuals(path: Path, rows: Iterable[Actual]) -> None:
    """Record what work on objects took; what was recorded of the same objects before is replaced."""
    with writing(path) as connection:
        connection.executemany("INSERT OR REPLACE INTO actual VALUES (?, ?, ?)", rows)


def read_actuals(path: Path) -> list[Actual]:
    """Return what work on objects took, as far as it was recorded."""
    with open_hull(path) as connection:
        rows = connection.execute("SELECT object, hours, done FROM actual ORDER BY object")
        return [Actual(item, float(hours), bool(done)) for item, hours, done in rows]


def read_assessments(path: Path, target: str = "") -> Iterator[tuple[str, str, bytes]]:
    """Yield the assessments kept in a hull file, of all targets or of one, the earliest first: (target, time, document as JSON)."""
    with open_hull(path) as connection:
        query = "SELECT target, made_at, document FROM assessment WHERE ? IN ('', target) ORDER BY rowid"
        for name, made_at, document in connection.execute(query, (target,)):
            yield name, made_at, zlib.decompress(document)


def last_target(path: Path) -> str:
    """Return the target that was assessed last; '' if none was."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT target FROM assessment ORDER BY rowid DESC LIMIT 1").fetchone()
        return row[0] if row else ""


def judging_state(path: Path, target: str) -> bytes:
    """Return what a judgement of the survey for a target depends on within the file, as text that changes with it."""
    with open_hull(path) as connection:
        rows = [
            connection.execute("SELECT value FROM hull WHERE key IN ('surveyed_at', 'fingerprint', 'tool')").fetchall(),
            *(connection.execute(f"SELECT * FROM {table} WHERE target = ? ORDER BY rowid", (target,)).fetchall()
              for table in ("drafting", "trial", "behaviour")),
        ]  # fmt: skip
        return repr(rows).encode()


@step("write the hull file")
def put_kept(path: Path, target: str, mark: str, document: bytes, looks: Iterable[tuple[str, bytes]]) -> None:
    """Keep what a judgement came to, in the place of what was kept for the target."""
    with writing(path) as connection:
        connection.execute("DELETE FROM look WHERE target = ?", (target,))
        connection.execute("INSERT OR REPLACE INTO kept VALUES (?, ?, ?)", (target, mark, zlib.compress(document, 1)))
        connection.executemany(
            "INSERT INTO look VALUES (?, ?, ?)", ((target, item, zlib.compress(content, 1)) for item, content in looks)
        )


def read_kept(path: Path, target: str, mark: str) -> bytes | None:
    """Return the document that is kept for a target, if it still holds."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT document FROM kept WHERE target = ? AND mark = ?", (target, mark)).fetchone()
        return zlib.decompress(row[0]) if row else None


def read_look(path: Path, target: str, item: str) -> bytes | None:
    """Return what is kept of one object for a target."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT content FROM look WHERE target = ? AND object = ?", (target, item)).fetchone()
        return zlib.decompress(row[0]) if row else None


@step("write the hull file")
def put_drafting(
    path: Path, target: str, entries: Iterable[tuple[str, int, str, str]], mark: str, drafts: Iterable[bytes] = (), *,
    forget_trials: bool = False,
) -> None:  # fmt: skip
    """Replace what drafting told for a target: (object, line, construct, reason); `mark` tells what it was drafted with.

    `drafts` are the drafts themselves, in pieces. `forget_trials` takes away what trials and cases found of earlier drafts.
    """
    rows = [(target, *entry) for entry in entries] + [(target, "", 0, "", mark)]
    with writing(path) as connection:
        connection.execute("DELETE FROM drafting WHERE target = ?", (target,))
        connection.executemany("INSERT INTO drafting VALUES (?, ?, ?, ?, ?)", rows)
        _replace_drafts(connection, target, drafts)
        for table in ("trial", "behaviour") if forget_trials else ():
            connection.execute(f"DELETE FROM {table} WHERE target = ?", (target,))


def read_draft_mark(path: Path, target: str) -> str:
    """Return what the drafts for a target were last made with; '' if there are none."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT reason FROM drafting WHERE target = ? AND object = ''", (target,)).fetchone()
        return row[0] if row else ""


@step("write the hull file")
def put_drafts(path: Path, target: str, drafts: Iterable[bytes]) -> None:
    """Replace the pieces of the drafts for a target by others of the same drafts, with more in them."""
    with writing(path) as connection:
        _replace_drafts(connection, target, drafts)


def _replace_drafts(connection: sqlite3.Connection, target: str, drafts: Iterable[bytes]) -> None:
    connection.execute("DELETE FROM draft WHERE target = ?", (target,))
    rows = ((target, piece, content) for piece, content in enumerate(drafts))
    connection.executemany("INSERT INTO draft VALUES (?, ?, ?)", rows)


def read_drafts(path: Path, target: str) -> list[bytes]:
    """Return the pieces of the drafts that are kept for a target; nothing where none are."""
    with open_hull(path) as connection:
        rows = connection.execute("SELECT content FROM draft WHERE target = ? ORDER BY piece", (target,))
        return [content for (content,) in rows]


def put_trial(path: Path, target: str, engine: str, rows: Iterable[tuple[str, bool, str, int, float]]) -> None:
    """Replace the trial of a target: (object, accepted, message, line, milliseconds)."""
    with writing(path) as connection:
        connection.execute("DELETE FROM trial WHERE target = ?", (target,))
        connection.executemany(
            "INSERT INTO trial VALUES (?, ?, ?, ?, ?, ?, ?)", ((target, engine, *row) for row in rows)
        )


def put_cases(path: Path, target: str, rows: Iterable[tuple[str, str, bool, str]]) -> None:
    """Replace the comparison of behaviour for a target: (name, object, equal, difference)."""
    with writing(path) as connection:
        connection.execute("DELETE FROM behaviour WHERE target = ?", (target,))
        connection.executemany("INSERT INTO behaviour VALUES (?, ?, ?, ?, ?)", ((target, *row) for row in rows))


def read_cases(path: Path, target: str) -> list[tuple[str, str, bool, str]]:
    """Return the last comparison of behaviour for a target: (name, object, equal, difference)."""
    with open_hull(path) as connection:
        rows = connection.execute(
            "SELECT name, object, equal, difference FROM behaviour WHERE target = ?", (target,)
        ).fetchall()
        return [(name, item, bool(equal), difference) for name, item, equal, difference in rows]


def read_evidence(
    path: Path, target: str
) -> tuple[list[tuple[str, int, str, str]], list[tuple[str, str, int, str, int]]]:
    """Return what drafting told (object, line, construct, reason) and a trial said (engine, object, accepted, message, line)."""
    with open_hull(path) as connection:
        drafting = connection.execute(
            "SELECT object, line, construct, reason FROM drafting WHERE target = ? AND object <> ''", (target,)
        ).fetchall()
        tried = connection.execute(
            "SELECT engine, object, accepted, message, line FROM trial WHERE target = ?", (target,)
        ).fetchall()
        return drafting, tried
