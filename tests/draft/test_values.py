"""Values that expressions have in their own engine, stated by hand from its manual: drafts give the same on real servers."""

from collections.abc import Iterator
from contextlib import ExitStack
from decimal import Decimal, InvalidOperation
from functools import cache
from pathlib import Path
from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.draft.probe import draft_text
from hullsound.knowledge.targets import parse_target
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

VALUES: Final = Path(__file__).parents[1] / "data" / "values"
TABLES: Final = {
    "oracle": "id NUMBER(10) NOT NULL, a NUMBER(10), b NUMBER(10), e NUMBER(10,2), g BINARY_DOUBLE, n NUMBER, c VARCHAR2(50), "
    "z VARCHAR2(50), d DATE, i TIMESTAMP(6), k CHAR(6), s NUMBER(4), m NUMBER(9)",
    "sqlserver": "id INT NOT NULL, a INT, b INT, e DECIMAL(10,2), g FLOAT, f BIT, h BIT, c VARCHAR(50), z VARCHAR(50), d DATETIME, "
    "i DATE, k CHAR(6)",
    "db2": "id INTEGER NOT NULL, a INTEGER, b INTEGER, e DECIMAL(10,2), g DOUBLE, c VARCHAR(50), z VARCHAR(50), "
    "d TIMESTAMP, i DATE, k CHAR(6)",
    "teradata": "id INTEGER NOT NULL, a INTEGER, b INTEGER, e DECIMAL(10,2), g FLOAT, c VARCHAR(50), z VARCHAR(50), "
    "d TIMESTAMP(6), i DATE, k CHAR(6)",
    "mysql": "id INT NOT NULL, a INT, b INT, e DECIMAL(10,2), g DOUBLE, f TINYINT(1), c VARCHAR(50), z VARCHAR(50), "
    "d DATETIME, i DATE, m INT",
    "postgresql": "id integer NOT NULL, a integer, b integer, e numeric(10,2), g double precision, f boolean, c varchar(50), "
    "z varchar(50), d timestamp, i date",
    "sqlite": "id INTEGER NOT NULL, a INTEGER, b INTEGER, e REAL, c TEXT, z TEXT, d DATETIME, i DATE",
}
"""The columns of the one table, by engine."""
ROW: Final = {"id": "1", "a": "7", "b": "2", "e": "70.50", "c": "'Quay'", "d": "'2024-02-29 06:00:00'"}
MORE: Final[dict[str, dict[str, str]]] = {
    "oracle": {"i": "'2024-03-15 18:30:00'", "g": "2.5", "n": "7.5", "k": "'ab'", "s": "9999", "m": "999999999"},
    "sqlserver": {"i": "'2024-03-15'", "g": "2.5", "f": "{true}", "h": "{false}", "k": "'ab'"},
    "db2": {"i": "'2024-03-15'", "g": "2.5", "k": "'ab'"},
    "teradata": {"i": "'2024-03-15'", "g": "2.5", "k": "'ab'"},
    "mysql": {"i": "'2024-03-15'", "g": "2.5", "f": "1", "m": "2000000000"},
    "postgresql": {"i": "'2024-03-15'", "g": "2.5", "f": "{true}"},
    "sqlite": {"i": "'2024-03-15'"},
}
"""The one row of the table; z is NULL."""


def cases(target: str) -> list[Any]:
    """Read the files of a target: one `expression => value` to a line."""
    found = []
    for path in sorted(VALUES.glob(f"*-{target}.txt")):
        for line in path.read_text(encoding="utf-8").splitlines():
            if line and not line.startswith("# "):
                expression, _, value = line.rpartition(" => ")
                found.append(
                    pytest.param(path.stem.partition("-")[0], expression, value, id=f"{path.stem}: {expression}")
                )
    return found


@cache
def case_of(engine: str, target: str) -> steps.Case:
    """Return the one table of an engine, drafted for a target."""
    script = ScriptFile("t.sql", end_statement(f"CREATE TABLE t ({TABLES[engine]})", engine), "")
    return steps.assess_catalog(steps.survey_texts([script], engine), target)


def drafted(engine: str, target: str, expression: str) -> list[str]:
    """Return the drafts of the table and of a query for the value of an expression."""
    case = case_of(engine, target)
    table = next(d.text for d in case.drafts.drafts if d.object.type.value == "table")
    query = draft_text(f"SELECT {expression} AS r FROM t", case.catalog, parse_target(target))
    return [text.replace("dbo.", "").replace("public.", "") for text in (table, query)]


def row_of(engine: str, true: str, false: str) -> str:
    row = ROW | MORE[engine]
    return f"INSERT INTO t ({', '.join(row)}) VALUES ({', '.join(row.values())})".format(true=true, false=false)


def is_same(given: Any, stated: str) -> bool:
    """Whether a value is the stated one: a number without idle zeros, a moment without a time of zero."""
    if given is None or isinstance(given, bool):
        return stated == ("NULL" if given is None else str(int(given)))
    text = str(given)
    if text == stated or text.removesuffix(".000000").removesuffix(".000").removesuffix(" 00:00:00") == stated:
        return True
    try:
        digits = max(6, len(stated.partition(".")[2]))
        return not isinstance(given, str) and round(Decimal(text), digits) == Decimal(stated)
    except InvalidOperation:
        return False


@pytest.fixture(scope="module")
def connections(server_url: str) -> Iterator[dict[str, Any]]:
    """Open a database for each source engine, which holds its one table with its row."""
    from hullsound.trial.postgresql import scratch_database

    with ExitStack() as stack:
        opened = {}
        for engine in sorted(set(TABLES) - {"postgresql"}):
            connection = stack.enter_context(scratch_database(server_url))
            connection.execute(drafted(engine, "postgresql:18", "1")[0].encode())
            connection.execute(row_of(engine, "TRUE", "FALSE").encode())
            opened[engine] = connection
        yield opened


@pytest.mark.server
@pytest.mark.parametrize(("engine", "expression", "value"), cases("postgresql"))
def test_value_on_postgresql(engine: str, expression: str, value: str, connections: dict[str, Any]) -> None:
    query = drafted(engine, "postgresql:18", expression)[1]
    with connections[engine].transaction():
        given = connections[engine].execute(query.encode()).fetchall()[0][0]
    assert is_same(given, value), (given, query)


@pytest.fixture(scope="module")
def yards(mariadb: Any) -> dict[str, str]:
    """Make a database for each source engine, which holds its one table with its row; return their names."""
    made = {}
    for engine in TABLES:
        if engine not in ("mysql",):
            made[engine] = f"yard_of_{engine}"
            options = case_of(engine, "mariadb:10.11").drafts.database_options or "CHARACTER SET utf8mb4"
            start = f"CREATE OR REPLACE DATABASE {made[engine]} {options}\x01USE {made[engine]}"
            table = drafted(engine, "mariadb:10.11", "1")[0]
            mariadb.value("\x01".join((start, table, row_of(engine, "1", "0"), "SELECT 1")))
    return made


@pytest.mark.parametrize(("engine", "expression", "value"), cases("mariadb"))
def test_value_on_mariadb(engine: str, expression: str, value: str, mariadb: Any, yards: dict[str, str]) -> None:
    query = drafted(engine, "mariadb:10.11", expression)[1]
    text = mariadb.value(f"USE {yards[engine]}\x01{query}")
    given: Any = Decimal(text) if text.replace(".", "", 1).isdigit() and not value.startswith("0") else text
    assert is_same(given, value) or text == value, (text, query)
