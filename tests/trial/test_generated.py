"""Scripts put together at random: a real PostgreSQL accepts all that is promised, and MariaDB and SQLite do the same."""

import shutil

import pytest

from hullsound import steps
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

from .grammar import Grammar

pytestmark = pytest.mark.server


def case_of(engine: str, script: str) -> Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("made.sql", script, "")], engine), "postgresql:18")


def unread(case: Case) -> list[str]:
    return [finding.message for finding in case.document.findings if finding.construct == "survey.unread"]


@pytest.mark.parametrize(
    ("engine", "views", "routines", "promised"),
    [
        *(("oracle", 120, 80, 0.93), ("sqlserver", 120, 80, 0.93), ("mysql", 120, 80, 0.93)),
        *(("sqlite", 150, 0, 0.96), ("db2", 150, 0, 0.94), ("teradata", 150, 0, 0.94)),
    ],
)
def test_what_is_promised_is_accepted(engine: str, views: int, routines: int, promised: float, server_url: str) -> None:
    case = case_of(engine, Grammar(engine, seed=1).script(views, routines))
    assert unread(case) == []
    objects = case.document.objects
    assert sum(o.outcome not in ("rewrite", "blocked") for o in objects) >= promised * len(objects)
    trial = steps.try_case(case, steps.draft_case(case), server_url)
    assert [(each.id, each.line, each.message) for each in trial.refused()] == []


@pytest.mark.parametrize(("engine", "views", "routines"), [("mysql", 100, 60), ("sqlite", 150, 0)])
def test_what_is_promised_does_the_same(engine: str, views: int, routines: int, server_url: str) -> None:
    if engine == "mysql" and shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    case = case_of(engine, Grammar(engine, seed=2).script(views, routines))
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    apart = [(each.name, each.difference) for each in results if not each.is_equal]
    assert len(results) >= 100
    assert len(apart) <= 0.03 * len(results), apart


@pytest.mark.parametrize("engine", ["oracle", "sqlserver", "mysql", "sqlite", "db2", "teradata"])
def test_deep_nesting_is_read(engine: str) -> None:
    script = Grammar(engine, seed=3).script(30, 0, depth=5)
    assert unread(case_of(engine, script)) == []
    assert script == Grammar(engine, seed=3).script(30, 0, depth=5)
