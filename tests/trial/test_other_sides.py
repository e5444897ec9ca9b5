"""Behaviour is compared between other engines than MySQL and PostgreSQL too: PostgreSQL as a source, MariaDB as a target."""

import shutil
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.demo import scripts_of
from hullsound.errors import TargetError
from hullsound.project import read_project
from hullsound.trial.behaviour import CaseResult
from hullsound.trial.run import run_cases

from .office import DATA

pytestmark = pytest.mark.server
needs_mariadb = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")

CASES = """
[[rows.berth]]
id = 1
name = "North"
depth = 4.5
[[case]]
name = "deep"
routine = "depth_class(numeric)"
arguments = [12.5]
[[case]]
name = "total"
routine = "total_depth(integer)"
arguments = [1]
[[case]]
name = "closing"
routine = "close_berth(integer)"
arguments = [1]
watch = ["berth"]
[[case]]
name = "a query"
query = "SELECT name || '!' AS n FROM berth WHERE free"
"""


def compared(folder: Path, source: str, target: str, **given: object) -> list[CaseResult]:
    case = steps.assess_catalog(steps.survey_scripts(folder, source), target)
    return steps.compare_behaviour(case, steps.draft_case(case), **given)  # type: ignore[arg-type]


def apart(results: list[CaseResult]) -> list[tuple[str, str]]:
    return [(each.name, each.difference) for each in results if not each.is_equal]


@needs_mariadb
def test_simple_routines_of_postgresql_do_the_same_on_mariadb(tmp_path: Path, server_url: str) -> None:
    file = tmp_path / "cases.toml"
    file.write_text(CASES, encoding="utf-8")
    given = compared(DATA / "berths.sql", "postgresql", "mariadb", path=file, source_url=server_url)
    made_up = compared(DATA / "berths.sql", "postgresql", "mariadb", source_url=server_url)
    assert apart(given) + apart(made_up) == []
    assert (len(given), len(made_up)) == (4, 14)
    assert not any(each.both_failed for each in given)


@needs_mariadb
def test_a_draft_that_does_otherwise_on_mariadb_is_told(tmp_path: Path, server_url: str) -> None:
    own = tmp_path / "overrides"
    own.mkdir()
    text = "CREATE FUNCTION public.depth_class(d decimal(10,2)) RETURNS longtext NO SQL BEGIN RETURN 'deep'; END;"
    (own / "public.function.depth_class(numeric).sql").write_text(text, encoding="utf-8")
    settings = tmp_path / "hullsound.toml"
    settings.write_text("", encoding="utf-8")
    case = steps.assess_catalog(
        steps.survey_scripts(DATA / "berths.sql", "postgresql"), "mariadb", project=read_project(settings)
    )
    told = apart(steps.compare_behaviour(case, steps.draft_case(case), source_url=server_url))
    assert {name.split("(")[0] for name, _ in told} == {"depth_class"}
    assert told[0][1] == "the source gives 'shallow', the target 'deep'"


@needs_mariadb
def test_the_yard_does_the_same_on_mariadb() -> None:
    results = compared(scripts_of("mysql"), "mysql", "mariadb")
    assert apart(results) == []
    assert len(results) >= 130


def test_a_newer_postgresql_does_the_same(server_url: str) -> None:
    results = compared(scripts_of("postgresql"), "postgresql", "postgresql:18", source_url=server_url, url=server_url)
    assert apart(results) == []
    assert sum(not each.both_failed for each in results) >= 15


def test_engines_that_do_not_run_here_are_named(server_url: str) -> None:
    case = steps.assess_catalog(steps.survey_scripts(DATA / "quays.sql", "sqlserver"), "postgresql:18")
    with pytest.raises(TargetError, match="from sqlserver to postgresql"):
        run_cases(case.catalog, steps.draft_case(case), "postgresql:18", url=server_url)
