"""Everyday expressions over every pair of types that their source takes: what is promised is accepted, and gives the same."""

import shutil
import tomllib
from functools import cache
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

pytestmark = pytest.mark.server

IDIOMS = Path(__file__).parents[1] / "data" / "idioms"
MYSQL_APART = ("DATE_ADD(", "DATEDIFF(")
"""Read a text as a date or number: an error where the source goes on with NULL or 0. Rows are made up, and no text is one."""


@cache
def case_of(engine: str, target: str) -> tuple[Case, dict[str, str]]:
    """Return the judged views of all expressions of an engine, and the expressions by the ids of the views."""
    told = tomllib.loads((IDIOMS / f"{engine}.toml").read_text(encoding="utf-8"))
    kinds = told["kinds"]
    expressions = dict.fromkeys(
        idiom["form"].format(a=a, b=b)
        for idiom in told["idiom"]
        for first, second in idiom["pairs"]
        for a in kinds.get(first, [first])
        for b in kinds.get(second, [second])
    )
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    key = "id, " if "id int" in told["table"].lower() and engine in ("mysql", "sqlite") else ""
    views = [f"CREATE VIEW v{n} AS SELECT {key}{text} AS r FROM t{end}" for n, text in enumerate(expressions)]
    script = ScriptFile("idioms.sql", f"{told['table']}{end}{''.join(views)}", "")
    case = steps.assess_catalog(steps.survey_texts([script], engine), target)
    by_number = list(expressions)
    ids = {o.id: by_number[int(o.name[1:])] for o in case.document.objects if o.type == "view"}
    assert len(ids) == len(expressions)
    return case, ids


def check(engine: str, target: str, promised: float, url: str) -> None:
    case, ids = case_of(engine, target)
    open_ones = [o for o in case.document.objects if o.outcome in ("rewrite", "blocked")]
    assert len(open_ones) <= (1 - promised) * len(ids)
    trial = steps.try_case(case, steps.draft_case(case), url)
    assert [(ids.get(each.id, each.id), each.message) for each in trial.refused()] == []


@pytest.mark.parametrize(
    ("engine", "promised"),
    [("oracle", 0.89), ("sqlserver", 0.94), ("mysql", 0.94), ("db2", 0.92), ("teradata", 0.95), ("sqlite", 0.83)],
)
def test_promised_idioms_are_accepted_by_postgresql(engine: str, promised: float, server_url: str) -> None:
    check(engine, "postgresql:18", promised, server_url)


@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
@pytest.mark.parametrize(("engine", "promised"), [("oracle", 0.93), ("sqlserver", 0.97)])
def test_promised_idioms_are_accepted_by_mariadb(engine: str, promised: float) -> None:
    check(engine, "mariadb:10.11", promised, "")


@pytest.mark.parametrize("engine", ["mysql", "sqlite"])
def test_promised_idioms_give_the_same(engine: str, server_url: str) -> None:
    if engine == "mysql" and shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    case, ids = case_of(engine, "postgresql:18")
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    assert len(results) > 500
    unequal = {ids[each.object] for each in results if not each.is_equal}
    assert {text for text in unequal if engine != "mysql" or not text.startswith(MYSQL_APART)} == set()
