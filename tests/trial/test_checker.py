"""Trials on a PostgreSQL with plpgsql_check and libxml: bodies are looked into by the extension, and XML really runs."""

import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest

from hullsound import steps
from hullsound.demo import scripts_of
from hullsound.draft.model import DraftSet
from hullsound.survey.files import ScriptFile
from hullsound.trial.checker import check_created, load_checker
from tests.servers import debian_postgresql

pytestmark = pytest.mark.server


@pytest.fixture(scope="module")
def debian() -> Iterator[str]:
    kept = tempfile.TemporaryDirectory(prefix="hs", dir="/tmp", ignore_cleanup_errors=True)
    with kept as folder, debian_postgresql(Path(folder)) as url:
        yield url


def drafted(text: str, engine: str, version: int) -> tuple[steps.Case, DraftSet]:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], engine)
    case = steps.assess_catalog(catalog, f"postgresql:{version}")
    return case, steps.draft_case(case)


def version_of(url: str) -> int:
    with psycopg.connect(url) as connection:
        return connection.info.server_version // 10000


def test_the_checker_finds_what_planning_alone_would_not(debian: str) -> None:
    with psycopg.connect(debian) as connection:
        if not load_checker(connection):
            pytest.skip("plpgsql_check is not installed")
        text = (
            "CREATE OR REPLACE FUNCTION broken(a integer) RETURNS integer LANGUAGE plpgsql\nAS $hull$\nDECLARE r record;\nBEGIN\n"
            "  FOR r IN SELECT 1 AS one LOOP\n    RETURN r.two;\n  END LOOP;\n  RETURN a;\nEND;\n$hull$;"
        )
        connection.execute(text.encode())
        fault = check_created(connection, text)
        assert fault is not None
        assert '"two"' in fault.message
        assert text[fault.offset :].lstrip().startswith("RETURN r.two")
        sound = text.replace("broken", "sound").replace("r.two", "r.one")
        connection.execute(sound.encode())
        assert check_created(connection, sound) is None


@pytest.mark.parametrize("engine", ["oracle", "sqlserver", "mysql"])
def test_the_checker_accepts_what_is_promised_of_a_demo(engine: str, debian: str, tmp_path: Path) -> None:
    target = f"postgresql:{min(18, version_of(debian))}"
    case = steps.assess_catalog(steps.survey_scripts(scripts_of(engine), engine), target)
    trial = steps.try_case(case, steps.draft_case(case), debian)
    assert [(r.id, r.line, r.message) for r in trial.refused()] == []


XML = """
CREATE PROCEDURE dbo.uspLights @Doc xml AS
SELECT x.n.value('@code', 'varchar(10)') AS Code, x.n.value('@n', 'int') AS N, x.n.value('(c/text())[1]', 'varchar(20)') AS C,
  x.n.exist('c') AS HasC, CAST(x.n.query('c') AS nvarchar(max)) AS Inner_
FROM @Doc.nodes('/l/b') AS x(n)
GO
CREATE FUNCTION dbo.fnFirst(@Doc xml) RETURNS int AS BEGIN RETURN @Doc.value('(/l/b)[1]', 'int') END
GO
"""


def test_methods_of_xml_give_what_they_gave(debian: str) -> None:
    _, drafts = drafted(XML, "sqlserver", version_of(debian))
    document = '<l><b code="A" n="2"><c>red</c></b><b code="B"><c>a &amp; b</c></b></l>'
    with psycopg.connect(debian) as connection:
        connection.execute("CREATE SCHEMA dbo")
        for draft in drafts.drafts:
            assert draft.is_finished
            connection.execute(draft.text.encode())
        first = one(connection, "SELECT dbo.fnfirst('<l><b>7</b></l>')")
        assert first == 7
        cursor = one(connection, f"CALL dbo.usplights('{document}')")
        rows = connection.execute(f'FETCH ALL FROM "{cursor}"'.encode()).fetchall()
        connection.rollback()
    assert rows == [("A", 2, "red", 1, "<c>red</c>"), ("B", None, "a & b", 1, "<c>a &amp; b</c>")]


def one(connection: "psycopg.Connection[Any]", text: str) -> Any:
    row = connection.execute(text.encode()).fetchone()
    assert row is not None
    return row[0]
