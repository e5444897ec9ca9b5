"""Forms of queries that other engines have not: their drafts run on MariaDB and PostgreSQL, and give the rows that are stated.

The rows are stated by the manuals: Oracle Database 19c, "SQL Language Reference"; Transact-SQL reference.
"""

import json
import shutil
from pathlib import Path
from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import make_schemas, scratch_database
from tests.statements import end_statement
from tests.trial.test_compared import shown
from tests.trial.test_edges import on_mariadb

pytestmark = pytest.mark.server
DATA: Final = Path(__file__).parents[1] / "data" / "forms"
SOURCES: Final = ("oracle", "sqlserver")


def read(engine: str) -> tuple[list[str], dict[str, list[list[Any]]]]:
    """Return the statements that make the tables, and the rows of each query."""
    lines = (DATA / f"{engine}.txt").read_text(encoding="utf-8").splitlines()
    tables = [line.removeprefix("-- ").rstrip(";") for line in lines if line.startswith("-- ")]
    asked = [line.rpartition(" => ") for line in lines if " => " in line]
    return tables, {query: json.loads(rows) for query, _, rows in asked}


def drafted(engine: str, target: str) -> tuple[Any, list[str]]:
    """Return the drafts of the tables, and of each query as a view; '' for one that is not promised."""
    tables, queries = read(engine)
    owner = "dbo." if engine == "sqlserver" else ""
    views = [f"CREATE VIEW {owner}v{place} AS {query}" for place, query in enumerate(queries)]
    script = "".join(end_statement(text, engine) for text in (*tables, *views))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("forms.sql", script, "")], engine), target)
    drafts = steps.draft_case(case)
    texts = {d.object.name.lower(): d.text if d.outcome in PROMISED else "" for d in drafts.drafts}
    return drafts, [texts[f"v{place}"] for place in range(len(queries))]


def alike(rows: list[tuple[Any, ...]] | list[list[Any]], query: str) -> list[tuple[str | None, ...]]:
    found = [tuple(map(shown, row)) for row in rows]
    return found if "ORDER BY" in query.rpartition(")")[2] else sorted(found, key=repr)


def of_tables(drafts: Any) -> list[str]:
    return [d.text for d in drafts.drafts if d.text and d.object.type != "view"]


@pytest.mark.skipif(not shutil.which("mariadbd"), reason="no MariaDB server is installed")
@pytest.mark.parametrize("engine", SOURCES)
def test_rows_on_mariadb_are_those_of_the_source(engine: str) -> None:
    _, queries = read(engine)
    drafts, views = drafted(engine, "mariadb:10.11")
    assert all(views)
    place_of_tables = ["CREATE DATABASE dbo CHARACTER SET utf8mb4", "USE dbo"] if engine == "sqlserver" else []
    with on_mariadb([*place_of_tables, *of_tables(drafts)]) as ask:
        for place, (query, rows) in enumerate(queries.items()):
            ask(views[place])
            assert alike(ask(f"SELECT * FROM v{place}"), query) == alike(rows, query), views[place]


@pytest.mark.parametrize("engine", SOURCES)
def test_rows_on_postgresql_are_those_of_the_source(engine: str, server_url: str) -> None:
    _, queries = read(engine)
    drafts, views = drafted(engine, "postgresql:18")
    with scratch_database(server_url) as connection:
        make_schemas(connection, drafts)
        connection.execute("SET search_path TO dbo, public")
        for text in of_tables(drafts):
            connection.execute(text.encode())
        for place, (query, rows) in enumerate(queries.items()):
            if views[place]:
                connection.execute(views[place].encode())
                got = connection.execute(f"SELECT * FROM v{place}".encode()).fetchall()
                assert alike(got, query) == alike(rows, query), views[place]
    assert sum(map(bool, views)) >= len(views) - 1


@pytest.mark.parametrize(("engine", "target"), [("oracle", "sqlserver"), ("sqlserver", "oracle")])
def test_forms_are_drafted_for_engines_that_do_not_run_here(engine: str, target: str) -> None:
    """The drafts are read back by our own reader of the target, which refuses what it cannot read."""
    _, queries = read(engine)
    _, views = drafted(engine, target)
    left = [query for query, view in zip(queries, views, strict=True) if not view]
    assert len(left) <= 0.2 * len(queries), left
