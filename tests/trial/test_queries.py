"""Queries of every form, one view each: what is promised gives the same rows on the source's engine and on PostgreSQL."""

import shutil
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

pytestmark = pytest.mark.server

QUERIES = Path(__file__).parents[1] / "data" / "queries"


def case_of(engine: str) -> tuple[Case, dict[str, str]]:
    """Survey the tables at the head of a file and a view for each of its lines; return the queries by the ids of views."""
    lines = (QUERIES / f"{engine}.txt").read_text(encoding="utf-8").splitlines()
    script = "\n".join(line.removeprefix("# ") for line in lines if line.startswith("# ")) + "\n"
    queries: dict[str, str] = {}
    for line in lines:
        if line and not line.startswith("# "):
            name = f"v{len(queries)}"
            query = line if line.startswith(("SELECT", "WITH")) else f"SELECT {line} AS x FROM t"
            queries[f"view.{name}"] = line
            script += f"CREATE VIEW {name} AS {query};\n"
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), "postgresql:18"), queries


@pytest.mark.parametrize(
    ("engine", "promised"),
    [
        pytest.param("mysql", 0.95, marks=pytest.mark.skipif(not shutil.which("mariadbd"), reason="no MariaDB server")),
        ("sqlite", 0.93),
    ],
)
def test_promised_queries_give_the_same(engine: str, promised: float, server_url: str) -> None:
    case, queries = case_of(engine)
    outcomes = {each.id: each.outcome for each in case.document.objects}
    open_ones = [query for view, query in queries.items() if outcomes[view] in ("rewrite", "blocked")]
    assert len(open_ones) <= (1 - promised) * len(queries), open_ones
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    assert {queries[each.object]: each.difference for each in results if not each.is_equal} == {}
    assert len(results) >= promised * len(queries)
