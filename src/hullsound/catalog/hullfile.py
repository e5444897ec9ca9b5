"""The hull file: one SQLite file with documented tables, written whole or not at all."""

import os
import sqlite3
import sys
import zlib
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final, NamedTuple

import msgspec

from hullsound.errors import SourceError

from .model import (
    Catalog,
    Column,
    Constraint,
    DataType,
    FileFacts,
    Index,
    Measure,
    Object,
    ObjectType,
    Parameter,
    Reference,
    RoutineFacts,
    Sighting,
    UnreadSpan,
)

APPLICATION_ID: Final = 0x48554C4C
"""'HULL', stored in the header of every hull file."""
SCHEMA_VERSION: Final = 7
_ASSESSMENTS_KEPT: Final = 10
"""How many assessments of earlier surveys stay."""


class Actual(NamedTuple):
    """What work on one object took."""

    object: str
    hours: float
    done: bool


SCHEMA: Final = """
-- One row per fact about the survey: engine, version, name, surveyed_at, tool, the fingerprint of all that it read, and what
-- the scripts call the default schema.
CREATE TABLE hull (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
-- The files that were read; digest is the SHA-256 of their bytes.
CREATE TABLE file (path TEXT PRIMARY KEY, lines INTEGER NOT NULL, statements INTEGER NOT NULL,
                   directives INTEGER NOT NULL, digest TEXT NOT NULL) WITHOUT ROWID;
-- The objects, in the order met. belongs_to is the table of a constraint, index or trigger.
-- details, constraint_json and index_json are JSON.
CREATE TABLE object (position INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, type TEXT NOT NULL, schema TEXT NOT NULL,
                     name TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL, lines INTEGER NOT NULL,
                     belongs_to TEXT NOT NULL, details TEXT NOT NULL, constraint_json TEXT, index_json TEXT,
                     comment TEXT NOT NULL,
                     default_schema TEXT NOT NULL, text TEXT NOT NULL);
-- The columns of tables and the attributes of types; arguments is a JSON array. definition is the
-- text of a column that ALTER TABLE brought.
CREATE TABLE column_ (object TEXT NOT NULL, position INTEGER NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL,
                      arguments TEXT NOT NULL, unit TEXT NOT NULL, nullable INTEGER NOT NULL, default_ TEXT NOT NULL,
                      default_on_null INTEGER NOT NULL, identity TEXT NOT NULL, generated TEXT NOT NULL,
                      comment TEXT NOT NULL, line INTEGER NOT NULL, definition TEXT NOT NULL,
                      PRIMARY KEY (object, position)) WITHOUT ROWID;
-- The routines inside code objects; parameters is a JSON array; complexity counts decisions plus one.
CREATE TABLE routine (object TEXT NOT NULL, name TEXT NOT NULL, form TEXT NOT NULL, line INTEGER NOT NULL,
                      lines INTEGER NOT NULL, complexity INTEGER NOT NULL, parameters TEXT NOT NULL,
                      returns TEXT NOT NULL, nested INTEGER NOT NULL);
-- What an object uses of another: kind is table, column, routine, sequence or type.
CREATE TABLE reference (object TEXT NOT NULL, kind TEXT NOT NULL, name TEXT NOT NULL, target TEXT NOT NULL,
                        line INTEGER NOT NULL);
-- Text that could not be read, and why; whole = 1 where a statement as a whole is unread.
CREATE TABLE unread (object TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL, column_ INTEGER NOT NULL,
                     end_line INTEGER NOT NULL, end_column INTEGER NOT NULL, lines INTEGER NOT NULL,
                     reason TEXT NOT NULL, excerpt TEXT NOT NULL, whole INTEGER NOT NULL);
-- Each occurrence of a construct; needs (JSON) says what must hold of columns for it to count.
CREATE TABLE sighting (construct TEXT NOT NULL, object TEXT NOT NULL, file TEXT NOT NULL, line INTEGER NOT NULL,
                       column_ INTEGER NOT NULL, end_line INTEGER NOT NULL, end_column INTEGER NOT NULL,
                       excerpt TEXT NOT NULL, detail TEXT NOT NULL, needs TEXT NOT NULL);
-- What was read of files that belong together (compressed MessagePack), so that unchanged files need not be read again.
CREATE TABLE part (key TEXT PRIMARY KEY, content BLOB NOT NULL) WITHOUT ROWID;
-- Settings of server and database, of a running source.
CREATE TABLE setting (name TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
-- What a profile found of columns (column_ = '' for a table): of seen rows out of total, count say yes; value is a greatest.
CREATE TABLE measure (object TEXT NOT NULL, column_ TEXT NOT NULL, question TEXT NOT NULL, count INTEGER NOT NULL,
                      value INTEGER NOT NULL, seen INTEGER NOT NULL, total INTEGER NOT NULL);
-- Assessments made: the whole document as JSON.
CREATE TABLE assessment (target TEXT NOT NULL, made_at TEXT NOT NULL, document TEXT NOT NULL);
-- What the last judgement for a target came to, and of each object its source and draft (compressed JSON); they hold as long
-- as survey, tool, decisions and trials are those that `mark` tells of.
CREATE TABLE kept (target TEXT PRIMARY KEY, mark TEXT NOT NULL, document BLOB NOT NULL) WITHOUT ROWID;
-- See kept.
CREATE TABLE look (target TEXT NOT NULL, object TEXT NOT NULL, content BLOB NOT NULL,
                   PRIMARY KEY (target, object)) WITHOUT ROWID;
-- What work on objects really took, in hours; done = 1 where it is finished.
CREATE TABLE actual (object TEXT PRIMARY KEY, hours REAL NOT NULL, done INTEGER NOT NULL) WITHOUT ROWID;
-- What drafting told by target: what it could not do after all (construct draft.skipped, with the reason) and what it converted.
-- The row of no object holds what the drafts were made with.
CREATE TABLE drafting (target TEXT NOT NULL, object TEXT NOT NULL, line INTEGER NOT NULL, construct TEXT NOT NULL,
                       reason TEXT NOT NULL);
-- The last trial by target: accepted 1 or 0, the engine's own message, and the source line it points at.
CREATE TABLE trial (target TEXT NOT NULL, engine TEXT NOT NULL, object TEXT NOT NULL, accepted INTEGER NOT NULL,
                    message TEXT NOT NULL, line INTEGER NOT NULL, milliseconds REAL NOT NULL);
-- The last comparison of behaviour by target: one row for each case, with the object that it tells of and where both differ.
CREATE TABLE behaviour (target TEXT NOT NULL, name TEXT NOT NULL, object TEXT NOT NULL, equal INTEGER NOT NULL,
                        difference TEXT NOT NULL);
"""


def write_hull(path: Path, catalog: Catalog, tool_version: str) -> None:
    """Write a catalogue to `path`, in one transaction in a new file that then takes the place of the old one.

    Raises SourceError when the folder, the disk or the rights do not allow it; `path` is then as it was.
    """
    fresh = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        fresh.unlink(missing_ok=True)
        connection = sqlite3.connect(fresh)
        try:
            connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            connection.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
            connection.execute("PRAGMA journal_mode = OFF")
            connection.execute("PRAGMA synchronous = OFF")
            connection.executescript("BEGIN;" + SCHEMA)
            _insert(connection, catalog, tool_version)
            connection.executemany("INSERT INTO assessment VALUES (?, ?, ?)", _earlier_assessments(path, catalog))
            connection.executemany("INSERT INTO actual VALUES (?, ?, ?)", _earlier_actuals(path))
            connection.commit()
        finally:
            connection.close()
        with fresh.open("rb") as written:
            os.fsync(written.fileno())
        fresh.replace(path)
    except (sqlite3.Error, OSError) as error:
        fresh.unlink(missing_ok=True)
        raise SourceError(
            f"cannot write the hull file: {_reason(error)}", where=str(path), hint="Is the disk full or read-only?"
        ) from error


def _reason(error: Exception) -> str:
    return (error.strerror or str(error)) if isinstance(error, OSError) else str(error)


def _insert(connection: sqlite3.Connection, catalog: Catalog, tool_version: str) -> None:
    encode = msgspec.json.encode
    facts = {
        "engine": catalog.engine, "version": catalog.version, "name": catalog.name,
        "surveyed_at": catalog.surveyed_at, "tool": tool_version, "fingerprint": catalog.fingerprint,
        "default_schema_alias": catalog.default_schema_alias,
    }  # fmt: skip
    many = connection.executemany
    many("INSERT INTO hull VALUES (?, ?)", facts.items())
    many("INSERT INTO file VALUES (?, ?, ?, ?, ?)",
         ((f.path, f.lines, f.statements, f.directives, f.digest) for f in catalog.files))  # fmt: skip
    many("INSERT INTO object VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", (
        (i, o.id, o.type.value, o.schema, o.name, o.file, o.line, o.lines, o.table, encode(o.details).decode(),
         encode(o.constraint).decode() if o.constraint else None, encode(o.index).decode() if o.index else None, o.comment,
         o.default_schema, o.text)
        for i, o in enumerate(catalog.objects.values())))  # fmt: skip
    many("INSERT INTO column_ VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", (
        (o.id, i, c.name, c.type.name, encode(c.type.arguments).decode(), c.type.unit, c.nullable, c.default,
         c.default_on_null, c.identity, c.generated, c.comment, c.line, c.definition)
        for o in catalog.objects.values() for i, c in enumerate(o.columns)))  # fmt: skip
    many("INSERT INTO routine VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", (
        (o.id, r.name, r.form, r.line, r.lines, r.complexity, encode(r.parameters).decode(), r.returns, r.is_nested)
        for o in catalog.objects.values() for r in o.routines))  # fmt: skip
    many("INSERT INTO reference VALUES (?, ?, ?, ?, ?)", (
        (r.object, r.kind, r.name, r.target, r.line) for r in catalog.references))  # fmt: skip
    many("INSERT INTO unread VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", (
        (u.object, u.file, u.line, u.column, u.end_line, u.end_column, u.lines, u.reason, u.excerpt, u.whole)
        for u in catalog.unread))  # fmt: skip
    many("INSERT INTO sighting VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", (
        (s.construct, s.object, s.file, s.line, s.column, s.end_line, s.end_column, s.excerpt, s.detail,
         encode(s.needs).decode() if s.needs else "")
        for s in catalog.sightings))  # fmt: skip
    many("INSERT INTO part VALUES (?, ?)", catalog.parts.items())
    many("INSERT INTO setting VALUES (?, ?)", catalog.settings.items())
    many("INSERT INTO measure VALUES (?, ?, ?, ?, ?, ?, ?)", map(msgspec.structs.astuple, catalog.measures))


def _earlier_actuals(path: Path) -> list[Actual]:
    """Return the hours that were recorded with an earlier survey."""
    try:
        return read_actuals(path)
    except SourceError:
        return []


def _earlier_assessments(path: Path, catalog: Catalog) -> list[tuple[str, str, str]]:
    """Return the last assessments of an earlier survey of the same source, so that what changed can be told."""
    if not path.is_file():
        return []
    try:
        with open_hull(path) as connection:
            facts = dict(connection.execute("SELECT key, value FROM hull"))
            if (facts.get("engine"), facts.get("name")) != (catalog.engine, catalog.name):
                return []
            return connection.execute(
                "SELECT target, made_at, document FROM (SELECT rowid AS place, * FROM assessment ORDER BY rowid DESC LIMIT ?) "
                "ORDER BY place", (_ASSESSMENTS_KEPT,)
            ).fetchall()  # fmt: skip
    except SourceError:
        return []


def read_parts(path: Path, keys: Iterable[str]) -> dict[str, bytes]:
    """Return the packed parts of a hull file that have these keys; nothing if there is no such file or it is unusable."""
    if not path.is_file():
        return {}
    wanted = set(keys)
    try:
        with open_hull(path) as connection:
            return {
                key: content for key, content in connection.execute("SELECT key, content FROM part") if key in wanted
            }
    except SourceError:
        return {}


class Stock(NamedTuple):
    """How much a hull file holds."""

    fingerprint: str
    objects: int
    statements: int
    files: int
    unread: int


def read_stock(path: Path) -> Stock | None:
    """Return how much a hull file holds; None if there is no such file or it is unusable."""
    if not path.is_file():
        return None
    try:
        with open_hull(path) as connection:
            row = connection.execute(
                "SELECT (SELECT value FROM hull WHERE key = 'fingerprint'), (SELECT count(*) FROM object), "
                "(SELECT coalesce(sum(statements), 0) FROM file), (SELECT count(*) FROM file), (SELECT count(*) FROM unread)"
            ).fetchone()
            return Stock(row[0] or "", *row[1:])
    except SourceError:
        return None


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
    except (sqlite3.DatabaseError, msgspec.DecodeError, OSError) as error:
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


def read_hull(path: Path) -> Catalog:
    """Read the whole catalogue of a hull file. Raises SourceError as open_hull does."""
    with open_hull(path) as connection:
        return _read(connection)


_NUMBERS: Final = {
    "object": ("line", "lines"), "column_": ("line", "nullable"), "sighting": ("line", "column_", "end_line", "end_column"),
    "unread": ("line", "end_line", "lines"), "reference": ("line",), "file": ("lines", "statements"),
}  # fmt: skip
"""Columns that are reckoned with, by table."""


def _check_numbers(connection: sqlite3.Connection) -> None:
    """Raise ValueError for a text where a number is wanted, which SQLite would keep."""
    for table, names in _NUMBERS.items():
        wrong = " OR ".join(f"typeof({name}) <> 'integer'" for name in names)
        if connection.execute(f"SELECT 1 FROM {table} WHERE {wrong} LIMIT 1").fetchone():
            raise ValueError(f"no number in {table}")


def _read(connection: sqlite3.Connection) -> Catalog:
    _check_numbers(connection)
    decode = msgspec.json.decode
    rows = connection.execute
    facts = dict(rows("SELECT key, value FROM hull"))
    catalog = Catalog(facts.get("engine", ""), facts.get("version", ""), facts.get("name", ""))
    catalog.surveyed_at = facts.get("surveyed_at", "")
    catalog.default_schema_alias = facts.get("default_schema_alias", "")
    catalog.files = [FileFacts(*row) for row in rows("SELECT * FROM file ORDER BY path")]
    for row in rows(
        "SELECT id, type, schema, name, file, line, text, lines, belongs_to, constraint_json, index_json, "
        "details, comment, default_schema FROM object ORDER BY position"
    ):
        catalog.objects[row[0]] = Object(
            row[0], ObjectType(row[1]), row[2], row[3], sys.intern(row[4]), row[5], row[6], row[7], row[8], [],
            decode(row[9], type=Constraint) if row[9] else None, decode(row[10], type=Index) if row[10] else None,
            decode(row[11], type=dict[str, str]), row[12], [], row[13],
        )  # fmt: skip
    for row in rows("SELECT * FROM column_ ORDER BY object, position"):
        catalog.objects[row[0]].columns.append(
            Column(row[2], DataType(row[3], decode(row[4], type=tuple[str, ...]), row[5]), bool(row[6]), row[7],
                   bool(row[8]), row[9], row[10], row[11], row[12], row[13])
        )  # fmt: skip
    for row in rows("SELECT * FROM routine ORDER BY rowid"):
        catalog.objects[row[0]].routines.append(
            RoutineFacts(
                row[1], row[2], row[3], row[4], row[5], decode(row[6], type=list[Parameter]), row[7], bool(row[8])
            )
        )
    catalog.references = [Reference(*row) for row in rows("SELECT * FROM reference ORDER BY rowid")]
    catalog.unread = [UnreadSpan(*row) for row in rows("SELECT * FROM unread ORDER BY rowid")]
    catalog.settings = dict(rows("SELECT name, value FROM setting"))
    catalog.measures = [Measure(*row) for row in rows("SELECT * FROM measure ORDER BY rowid")]
    needs = tuple[tuple[str, str, str], ...]
    catalog.sightings = [
        Sighting(r[0], r[1], r[2], r[3], r[4], r[5], r[6], r[7], r[8], decode(r[9], type=needs) if r[9] else ())
        for r in rows("SELECT * FROM sighting ORDER BY rowid")
    ]
    return catalog


# --- what later steps add ---


def put_surveyed_at(path: Path, surveyed_at: str) -> None:
    """Note that the source was looked at again and had not changed."""
    with _writing(path) as connection:
        connection.execute("UPDATE hull SET value = ? WHERE key = 'surveyed_at'", (surveyed_at,))


def add_assessment(path: Path, target: str, made_at: str, document: bytes) -> None:
    """Keep an assessment document with the survey it was made of."""
    with _writing(path) as connection:
        connection.execute("INSERT INTO assessment VALUES (?, ?, ?)", (target, made_at, document.decode()))


def put_actuals(path: Path, rows: Iterable[Actual]) -> None:
    """Record what work on objects took; what was recorded of the same objects before is replaced."""
    with _writing(path) as connection:
        connection.executemany("INSERT OR REPLACE INTO actual VALUES (?, ?, ?)", rows)


def read_actuals(path: Path) -> list[Actual]:
    """Return what work on objects took, as far as it was recorded."""
    with open_hull(path) as connection:
        rows = connection.execute("SELECT object, hours, done FROM actual ORDER BY object")
        return [Actual(item, float(hours), bool(done)) for item, hours, done in rows]


def read_assessments(path: Path) -> list[tuple[str, str, str]]:
    """Return the assessments kept in a hull file, the earliest first: (target, time, document as JSON)."""
    with open_hull(path) as connection:
        return connection.execute("SELECT target, made_at, document FROM assessment ORDER BY rowid").fetchall()


def read_hull_facts(path: Path) -> tuple[str, str, str]:
    """Return engine, version and name of the source of a hull file. Raises SourceError as open_hull does."""
    with open_hull(path) as connection:
        facts = dict(connection.execute("SELECT key, value FROM hull WHERE key IN ('engine', 'version', 'name')"))
        return facts.get("engine", ""), facts.get("version", ""), facts.get("name", "")


def last_target(path: Path) -> str:
    """Return the target that was assessed last; '' if none was."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT target FROM assessment ORDER BY rowid DESC LIMIT 1").fetchone()
        return row[0] if row else ""


def object_types(path: Path) -> dict[str, str]:
    """Return the ids of all objects with their types."""
    with open_hull(path) as connection:
        return dict(connection.execute("SELECT id, type FROM object ORDER BY position"))


def judging_state(path: Path, target: str) -> bytes:
    """Return what a judgement of the survey for a target depends on within the file, as text that changes with it."""
    with open_hull(path) as connection:
        rows = [
            connection.execute("SELECT value FROM hull WHERE key IN ('surveyed_at', 'fingerprint', 'tool')").fetchall(),
            *(connection.execute(f"SELECT * FROM {table} WHERE target = ? ORDER BY rowid", (target,)).fetchall()
              for table in ("drafting", "trial", "behaviour")),
        ]  # fmt: skip
        return repr(rows).encode()


def put_kept(path: Path, target: str, mark: str, document: bytes, looks: Iterable[tuple[str, bytes]]) -> None:
    """Keep what a judgement came to, in the place of what was kept for the target."""
    with _writing(path) as connection:
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


def put_drafting(
    path: Path, target: str, entries: Iterable[tuple[str, int, str, str]], mark: str, *, forget_trials: bool = False
) -> None:
    """Replace what drafting told for a target: (object, line, construct, reason); `mark` tells what it was drafted with.

    `forget_trials` takes away what trials and cases found of earlier drafts.
    """
    rows = [(target, *entry) for entry in entries] + [(target, "", 0, "", mark)]
    with _writing(path) as connection:
        connection.execute("DELETE FROM drafting WHERE target = ?", (target,))
        connection.executemany("INSERT INTO drafting VALUES (?, ?, ?, ?, ?)", rows)
        for table in ("trial", "behaviour") if forget_trials else ():
            connection.execute(f"DELETE FROM {table} WHERE target = ?", (target,))


def read_draft_mark(path: Path, target: str) -> str:
    """Return what the drafts for a target were last made with; '' if there are none."""
    with open_hull(path) as connection:
        row = connection.execute("SELECT reason FROM drafting WHERE target = ? AND object = ''", (target,)).fetchone()
        return row[0] if row else ""


def put_trial(path: Path, target: str, engine: str, rows: Iterable[tuple[str, bool, str, int, float]]) -> None:
    """Replace the trial of a target: (object, accepted, message, line, milliseconds)."""
    with _writing(path) as connection:
        connection.execute("DELETE FROM trial WHERE target = ?", (target,))
        connection.executemany(
            "INSERT INTO trial VALUES (?, ?, ?, ?, ?, ?, ?)", ((target, engine, *row) for row in rows)
        )


def put_cases(path: Path, target: str, rows: Iterable[tuple[str, str, bool, str]]) -> None:
    """Replace the comparison of behaviour for a target: (name, object, equal, difference)."""
    with _writing(path) as connection:
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


@contextmanager
def _writing(path: Path) -> Iterator[sqlite3.Connection]:
    """Open a hull file to add to it, in one transaction. Raises SourceError if it cannot be written."""
    with open_hull(path) as connection:
        try:
            with connection:
                yield connection
        except sqlite3.OperationalError as error:
            raise SourceError(
                f"cannot write to the hull file: {error}", where=str(path), hint="Is the disk full or read-only?"
            ) from error
