"""The yard of the demo on a private MariaDB, moved to a private PostgreSQL by a plain copy of its rows."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

import psycopg
import pymysql

from hullsound import steps
from hullsound.assess.model import Assessment
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.model import ObjectType
from hullsound.draft.cutover import cutover_files
from hullsound.draft.edits.names import names_of
from hullsound.draft.files import prepare_text
from hullsound.draft.write import draft_all
from hullsound.steps.live_demo import live_demo
from tests.servers import postgresql_with

CLEANING = (
    "SET sql_mode = ''",
    "UPDATE boat SET wishes_lift = NULL WHERE wishes_lift = '2024-00-00'",
    "UPDATE boat SET hull = 1 WHERE hull = ''",
    "UPDATE shift SET lasts = '08:00:00' WHERE lasts NOT BETWEEN '00:00:00' AND '23:59:59'",
    "UPDATE shift SET remark = REPLACE(remark, CHAR(0), '')",
    "CREATE TABLE tide_note (tide INT NOT NULL, word CHAR(4), height DECIMAL(6,2))",
    "INSERT INTO tide_note VALUES (1, 'high', 4.25), (1, 'low', 4.25), (2, 'high', 4.25), (2, 'low', 4.25), (3, NULL, -0.75)",
)
"""What no target takes is mended before the move, and a table without a key is added."""


class Moved(NamedTuple):
    """Both sides, with the hull file of the source."""

    hull: Path
    catalog: Catalog
    assessment: Assessment
    source_url: str
    target_url: str
    target: psycopg.Connection[Any]


@contextmanager
def moved_yard(folder: Path, server_url: str) -> Iterator[Moved]:
    """Yield the yard on both engines: tables from the drafts, rows copied as they are."""
    with live_demo(folder) as demo:
        socket = demo.address.partition("unix_socket=")[2]
        access = {"unix_socket": socket, "user": "root", "database": "yard", "charset": "utf8mb4"}
        with pymysql.connect(**access, autocommit=True) as source, source.cursor() as cursor:
            for statement in CLEANING:
                cursor.execute(statement)
        hull = folder / "yard.hull"
        steps.survey_live_into(hull, demo.address, name="yard", profile_seconds=60)
        case = steps.assess_hull(hull, "postgresql:18")
        catalog = case.catalog
        with postgresql_with(server_url) as (url, target):
            _create(case, target)
            with pymysql.connect(**access) as source:
                copy_rows(catalog, source, target)
            positions = cutover_files(case.drafts, catalog, case.assessment).get("cutover/sequences.sql", "")
            target.execute(positions.encode())
            target.commit()
            yield Moved(hull, read_hull(hull), case.assessment, demo.address, url, target)


def _create(case: Any, target: psycopg.Connection[Any]) -> None:
    drafts = draft_all(case.catalog, case.assessment)
    target.execute(prepare_text(drafts, "postgresql").encode())
    for draft in drafts.drafts:
        if draft.object.type in (ObjectType.TABLE, ObjectType.TYPE, ObjectType.DOMAIN) and draft.text:
            target.execute(draft.text.encode())
    target.commit()


def copy_rows(catalog: Catalog, source: Any, target: psycopg.Connection[Any]) -> None:
    """Copy all rows, each value as the other engine takes it."""
    names = names_of("postgresql")
    for table in catalog.objects.values():
        if table.type is not ObjectType.TABLE or table.details.get("temporary"):
            continue
        columns = [column.name for column in table.columns if not column.generated]
        with source.cursor() as cursor:
            cursor.execute(f"SELECT {', '.join(f'`{name.lower()}`' for name in columns)} FROM `{table.name.lower()}`")
            rows = cursor.fetchall()
        name = names.qualified(table.schema or "public", table.name)
        listed = ", ".join(names.write(column) for column in columns)
        kinds = {
            row[0]: f"bit {row[2]}" if row[1] == "bit" else row[1]
            for row in target.execute(
                "SELECT column_name, data_type, character_maximum_length FROM information_schema.columns WHERE table_name = %s",
                [table.name.lower()],
            ).fetchall()
        }
        wanted = [kinds[names.folded(column)] for column in columns]
        with target.cursor() as cursor:
            cursor.executemany(
                f"INSERT INTO {name} ({listed}) OVERRIDING SYSTEM VALUE VALUES ({', '.join(['%s'] * len(columns))})".encode(),
                [[adapted(value, kind) for value, kind in zip(row, wanted, strict=True)] for row in rows],
            )
    target.commit()


def adapted(value: Any, kind: str) -> Any:
    """Return a value of MariaDB as PostgreSQL takes it."""
    if isinstance(value, str) and value.startswith("0000-00-00"):
        return None
    if kind == "boolean" and value is not None:
        return value not in (0, b"\x00")
    if isinstance(value, bytes) and kind.startswith("bit "):
        return f"{int.from_bytes(value, 'big'):0{int(kind.split()[1])}b}"
    if isinstance(value, bytes) and kind != "bytea":
        return int.from_bytes(value, "big") if kind in ("smallint", "integer", "bigint", "numeric") else value.hex()
    return value
