"""The hull file: one SQLite file with documented tables, written whole or not at all."""

import os
import sqlite3
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Final, NamedTuple

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hull_connection import APPLICATION_ID, SCHEMA_VERSION, open_hull, writing
from hullsound.catalog.hull_schema import SCHEMA
from hullsound.catalog.judgements import Actual, read_actuals
from hullsound.catalog.model import (
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
from hullsound.errors import SourceError
from hullsound.timing import step

_ASSESSMENTS_KEPT: Final = 10
"""How many assessments of earlier surveys stay."""


@step("write the hull file")
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


def _earlier_assessments(path: Path, catalog: Catalog) -> list[tuple[str, str, bytes]]:
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


@step("read the hull file")
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
    catalog.fingerprint = facts.get("fingerprint", "")
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
    with writing(path) as connection:
        connection.execute("UPDATE hull SET value = ? WHERE key = 'surveyed_at'", (surveyed_at,))


def read_hull_facts(path: Path) -> tuple[str, str, str]:
    """Return engine, version and name of the source of a hull file. Raises SourceError as open_hull does."""
    with open_hull(path) as connection:
        facts = dict(connection.execute("SELECT key, value FROM hull WHERE key IN ('engine', 'version', 'name')"))
        return facts.get("engine", ""), facts.get("version", ""), facts.get("name", "")


def object_types(path: Path) -> dict[str, str]:
    """Return the ids of all objects with their types."""
    with open_hull(path) as connection:
        return dict(connection.execute("SELECT id, type FROM object ORDER BY position"))
