"""One view per expression, for the expressions that each source's own manual lists: what is promised is accepted and alike."""

import re
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.steps import Case

pytestmark = pytest.mark.server

EXPRESSIONS = Path(__file__).parents[1] / "data" / "expressions"
_SAID = re.compile(r"/\* (.*?) \*/", re.DOTALL)


def case_of(engine: str) -> Case:
    return steps.assess_catalog(steps.survey_scripts(EXPRESSIONS / f"{engine}.sql", engine), "postgresql:18")


def expressions(case: Case, ids: Iterator[str]) -> set[str]:
    """Return the expressions that views are made of, by the ids of the views."""
    found = {each: _SAID.search(case.catalog.objects[each].text) for each in ids}
    return {said[1] if said is not None else each for each, said in found.items()}


@pytest.mark.parametrize(
    ("engine", "promised"),
    [("mysql", 0.96), ("sqlserver", 0.95), ("oracle", 0.92), ("sqlite", 0.95), ("db2", 0.79), ("teradata", 0.86)],
)
def test_promised_expressions_are_accepted(engine: str, promised: float, server_url: str) -> None:
    case = case_of(engine)
    objects = case.document.objects
    assert sum(o.outcome not in ("rewrite", "blocked") for o in objects) >= promised * len(objects)
    trial = steps.try_case(case, steps.draft_case(case), server_url)
    assert [(each.id, each.message) for each in trial.refused()] == []


MYSQL_APART = {
    # What the session, the server or chance gives.
    "RAND()", "UUID()", "DATABASE()", "VERSION()", "CONNECTION_ID()", "LAST_INSERT_ID()", "ROW_COUNT()",
    # Bytes that the draft gives as text, or as a number; no finding says so.
    "CHAR(65)", "BINARY c",
    # A text or number that is no date: an error where the source goes on; the finding of STR_TO_DATE says so.
    "STR_TO_DATE(c, '%d/%m/%Y')", "FROM_DAYS(a)",
    # The private source has no table of time zones.
    "CONVERT_TZ(d, 'UTC', 'Europe/Oslo')",
    # MariaDB, which stands in, gives 0 where MySQL gives NULL for a missing path.
    "JSON_CONTAINS(h, '1', '$.a')",
}  # fmt: skip
SQLITE_APART = {
    "random()", "abs(random()) % 10", "CURRENT_TIMESTAMP", "last_insert_rowid()",
    # Functions that a program adds, or newer versions have.
    "c REGEXP 'a'", "string_agg(c, ',')",
    # For NULL, SQLite 3.40.1 gives 0, and the draft NULL.
    "json_valid(c)",
}  # fmt: skip


@pytest.mark.parametrize(("engine", "apart"), [("mysql", MYSQL_APART), ("sqlite", SQLITE_APART)])
def test_promised_expressions_give_the_same(engine: str, apart: set[str], server_url: str) -> None:
    if engine == "mysql" and shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    case = case_of(engine)
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    assert len(results) > 150
    assert expressions(case, (each.object for each in results if not each.is_equal)) <= apart
