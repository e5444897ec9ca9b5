"""The demo on a running engine: a private server with the yard system, or a file with the pilot's tablet."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path
from typing import Final, NamedTuple

import hullsound.demo
from hullsound.catalog.model import ObjectType
from hullsound.demo import SYSTEMS, scripts_of
from hullsound.errors import TargetError
from hullsound.trial.mariadb import private_mariadb, root_connection

from .assess import assess_catalog
from .prove import draft_case
from .scripts import survey_scripts

_LIKE: Final = "mariadb:10.11"
"""What the yard's MySQL becomes, so that a MariaDB takes it."""

_BEFORE: Final = (
    "CREATE DATABASE yard CHARACTER SET utf8mb4", "USE yard", "CREATE USER 'yard'@'%'", "GRANT ALL ON *.* TO 'yard'@'%'",
    "SET SESSION foreign_key_checks = 0", "SET SESSION sql_mode = 'NO_AUTO_VALUE_ON_ZERO'",
)  # fmt: skip
_RUN: Final = frozenset((ObjectType.CHANGE, ObjectType.QUERY, ObjectType.BLOCK, ObjectType.DATA))
"""What scripts run rather than make, such as a DELETE: not wanted here. Rows come from the dump itself: a survey keeps none."""

_AFTER_ROWS: Final = (ObjectType.INDEX, ObjectType.VIEW, ObjectType.TRIGGER)


class LiveDemo(NamedTuple):
    """A running demo: where it is, what it holds, and how much of it the engine took."""

    address: str
    engine: str
    name: str
    made: int
    refused: int


@contextmanager
def live_demo(folder: Path) -> Iterator[LiveDemo]:
    """Run the demo on a private MariaDB while the context lasts; where none is installed, on an SQLite file in `folder`.

    The rows hold what years of use leave behind: each kind of trouble that a profile asks for on that engine.
    """
    try:
        with private_mariadb() as socket:
            yield _load_yard(socket)
            return
    except TargetError as error:
        if "not found" not in error.what:
            raise
    yield _load_tablet(folder)


def _load_yard(socket: Path) -> LiveDemo:
    import pymysql

    case = assess_catalog(survey_scripts(scripts_of("mysql"), "mysql", SYSTEMS["mysql"].version, name="yard"), _LIKE)
    made = refused = 0
    with root_connection(socket) as connection, connection.cursor() as cursor:
        for text in _BEFORE:
            cursor.execute(text)
        drafts = [draft for draft in draft_case(case).drafts if draft.text and draft.object.type not in _RUN]
        tables = [draft.text for draft in drafts if draft.object.type is ObjectType.TABLE]
        others = [draft.text for draft in drafts if draft.object.type is not ObjectType.TABLE]
        for text in [*tables, *_dumped_rows("mysql", "schema.sql"), *others, *_problems("mysql")]:
            try:
                cursor.execute(text)
                while cursor.nextset():
                    pass
                made += 1
            except pymysql.MySQLError:
                refused += 1
        cursor.execute("ANALYZE TABLE customer, boat")
    return LiveDemo(f"mariadb://root@localhost/yard?unix_socket={socket}", "mariadb", "yard", made, refused)


def _load_tablet(folder: Path) -> LiveDemo:
    path = folder.resolve() / "tablet.db"
    path.unlink(missing_ok=True)
    made = refused = 0
    connection = sqlite3.connect(path)
    try:
        catalog = survey_scripts(scripts_of("sqlite"), "sqlite", name="tablet")
        tables = [item.text for item in catalog.objects.values() if item.type is ObjectType.TABLE]
        others = [item.text for item in catalog.objects.values() if item.type in _AFTER_ROWS]
        for text in [*tables, *_dumped_rows("sqlite", "dump.sql"), *others, *_problems("sqlite")]:
            try:
                connection.execute(text)
                made += 1
            except sqlite3.Error:
                refused += 1
        connection.commit()
    finally:
        connection.close()
    return LiveDemo(f"sqlite:///{path}", "sqlite", "tablet", made, refused)


def _dumped_rows(engine: str, file: str) -> list[str]:
    """Return the INSERT statements of a system's dump, which stand in one line each."""
    dump = (scripts_of(engine) / file).read_text(encoding="utf-8")
    return [line for line in dump.split("\n") if line.startswith("INSERT INTO")]


def _problems(engine: str) -> list[str]:
    text = (files(hullsound.demo) / "live" / f"{engine}.sql").read_text(encoding="utf-8")
    return [line for line in text.split("\n") if line.strip() and not line.startswith("--")]
