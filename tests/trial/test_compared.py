"""Expressions of engines that run here, asked of them and, as drafts, of a real MariaDB: what is promised is equal."""

import sqlite3
from collections.abc import Callable
from datetime import datetime, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import private_mariadb, root_connection
from hullsound.trial.postgresql import scratch_database

DATA: Final = Path(__file__).parents[1] / "data" / "compared"
TABLES: Final = {
    "sqlite": "id INTEGER PRIMARY KEY, a INTEGER, b INTEGER, m NUMERIC(10,2), f REAL, s TEXT, u TEXT, d DATE, e DATETIME, "
    "k BOOLEAN",
    "postgresql": "id integer PRIMARY KEY, a integer, b integer, m numeric(10,2), f double precision, s varchar(50), u text, "
    "d date, e timestamp, k boolean",
}
ROWS: Final = (
    "1, 7, 2, 70.50, 2.5, 'Quay Seven', 'quay', '2024-02-29', '2024-02-29 06:07:08', true",
    "2, -7, 3, -0.05, -0.5, '', 'a', '2023-12-31', '2023-12-31 23:59:59', false",
    "3, 0, 4, 0.00, 0.0, ' x ', ' ', '2024-01-01', '2024-01-01 00:00:00', false",
    "4, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL",
    "5, 100, -4, 99.99, 1e10, 'a,b,,c', ',', '1999-03-31', '1999-03-31 12:00:00', true",
    "6, 3, 5, 2.45, 0.1, '12abc', '12', '2024-07-15', '2024-07-15 13:30:00', true",
)
LEAST_PROMISED: Final = {"sqlite": 0.6, "postgresql": 0.7}
"""The share of expressions that are promised."""

COLLATION: Final = "SET NAMES utf8mb4 COLLATE utf8mb4_bin"

Ask = Callable[[str], list[tuple[Any, ...]]]


def shown(value: Any) -> str | None:
    """Write a value so that engines agree: numbers to nine digits, moments without a time of zero, truth as a number."""
    if value is None or isinstance(value, str):
        return value
    if isinstance(value, datetime):
        return value.isoformat(sep=" ", timespec="seconds").removesuffix(" 00:00:00")
    if isinstance(value, timedelta):
        seconds = int(value.total_seconds())
        return f"{seconds // 3600:02}:{seconds // 60 % 60:02}:{seconds % 60:02}"
    if isinstance(value, bytes):
        return value.decode("latin1")
    return f"{float(value) + 0.0:.9g}" if isinstance(value, int | float | Decimal) else str(value)


def asked(ask: Ask, expression: str) -> list[str | None] | None:
    """Return the values of an expression in each row; None where the source has none."""
    try:
        return [shown(row[0]) for row in ask(f"SELECT {expression} AS r FROM t ORDER BY id")]
    except Exception:  # the drivers' own
        return None


@pytest.fixture
def source(request: pytest.FixtureRequest) -> Any:
    """Open the source engine with the table and its rows; return its name and what asks it."""
    engine = request.param
    table = f"CREATE TABLE t ({TABLES[engine]})"
    rows = [f"INSERT INTO t VALUES ({row})" for row in ROWS]
    if engine == "sqlite":
        memory = sqlite3.connect(":memory:")
        for text in (table, *rows):
            memory.execute(text)
        yield engine, lambda text: memory.execute(text).fetchall()
        memory.close()
        return
    with scratch_database(request.getfixturevalue("server_url")) as connection:
        connection.autocommit = True
        for text in (table, *rows):
            connection.execute(text.encode())
        yield engine, lambda text: connection.execute(text.encode()).fetchall()


@pytest.mark.server
@pytest.mark.parametrize("source", ["sqlite", "postgresql"], indirect=True)
def test_promised_expressions_are_equal_on_mariadb(source: tuple[str, Ask], mariadb: Any) -> None:
    engine, ask = source
    lines = (DATA / f"{engine}.txt").read_text(encoding="utf-8").splitlines()[1:]
    values = {line: asked(ask, line) for line in lines}
    known = [line for line, given in values.items() if given is not None]
    script = f"CREATE TABLE t ({TABLES[engine]});\n" + "".join(
        f"CREATE VIEW v{at} AS SELECT id, {line} AS r FROM t;\n" for at, line in enumerate(known)
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), "mariadb:10.11")
    drafts = {each.object.name.lower(): each for each in steps.draft_case(case).drafts}
    promised, unequal = 0, []
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        for text in ("CREATE DATABASE public COLLATE utf8mb4_bin", "USE public", COLLATION, drafts["t"].text):
            cursor.execute(text)
        for row in ROWS:
            cursor.execute(f"INSERT INTO t VALUES ({row})")
        for at, line in enumerate(known):
            draft = drafts[f"v{at}"]
            if draft.outcome not in PROMISED:
                continue
            promised += 1
            cursor.execute(draft.text)
            cursor.execute(f"SELECT r FROM v{at} ORDER BY id")
            given = [shown(each[0]) for each in cursor.fetchall()]
            if given != values[line] and draft.outcome.value != "confirm":
                unequal.append((line, values[line], given, draft.text))
    assert not unequal
    assert promised >= LEAST_PROMISED[engine] * len(known)
