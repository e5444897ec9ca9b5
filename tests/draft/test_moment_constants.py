"""Texts and numbers that stand for moments, wherever code of SQL Server keeps, compares, hands over or returns them."""

from typing import Final

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

SCRIPT: Final = """CREATE TABLE p (id int NOT NULL, d datetime DEFAULT 'Jan 1 1900', i date, t time)
GO
CREATE PROCEDURE kept @d datetime AS UPDATE p SET d = @d
GO
{0}
GO
"""
FORMS: Final = {
    "mariadb:11.8": "'{}'", "mysql:8.4": "'{}'", "postgresql:18": "'{}'", "oracle:19": "DATE '{}'",
}  # fmt: skip


def drafts_of(statement: str, target: str) -> dict[str, str]:
    """Return what is promised by the name of the object; '' for what is not."""
    catalog = steps.survey_texts([ScriptFile("a.sql", SCRIPT.format(statement), "")], "sqlserver")
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    return {each.object.id: each.text if each.is_promised and each.is_finished else "" for each in drafts}


@pytest.mark.parametrize("target", FORMS)
@pytest.mark.parametrize(
    "statement",
    [
        "CREATE PROCEDURE x AS UPDATE p SET d = '5 Jan 2024'",
        "CREATE PROCEDURE x AS DELETE p WHERE d < 'Jan 5 2024'",
        "CREATE PROCEDURE x AS INSERT INTO p (id, d) VALUES (1, 'Jan 5, 2024')",
        "CREATE PROCEDURE x AS EXEC kept 'Jan 5 2024'",
        "CREATE PROCEDURE x AS EXEC kept @d = '5-Jan-2024'",
        "CREATE PROCEDURE x AS BEGIN DECLARE @d datetime = '1/5/24'; UPDATE p SET d = @d END",
        "CREATE FUNCTION x() RETURNS datetime AS BEGIN RETURN 'January 5 2024' END",
        "CREATE VIEW x AS SELECT id FROM p WHERE d IN ('Jan 5 2024', '20230101')",
        "CREATE VIEW x AS SELECT id FROM p WHERE d = 45294",
    ],
)
def test_constant_is_written_as_the_target_reads_it(statement: str, target: str) -> None:
    found = next(text for key, text in drafts_of(statement, target).items() if key.endswith(".x"))
    written = FORMS[target].format("2024-01-05")
    assert written in found or "TIMESTAMP '2024-01-05 00:00:00'" in found
    assert "Jan" not in found


@pytest.mark.parametrize("target", FORMS)
def test_default_of_a_column(target: str) -> None:
    if target == "oracle:19":  # which has no type for the time
        return
    assert f"DEFAULT {FORMS[target].format('1900-01-01')}" in drafts_of("", target)["dbo.table.p"]


@pytest.mark.parametrize("target", FORMS)
@pytest.mark.parametrize("test", ["d = 'next week'", "d > id", "d = '2024-13-01'", "d > 9999999"])
def test_what_is_no_moment_is_not_promised(test: str, target: str) -> None:
    assert not drafts_of(f"CREATE VIEW x AS SELECT id FROM p WHERE {test}", target)["dbo.view.x"]


def test_order_of_day_and_month_is_told() -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", SCRIPT.format("CREATE VIEW x AS SELECT id FROM p WHERE d > '3/4/2024'"), "")],
                                 "sqlserver")  # fmt: skip
    document = steps.assess_catalog(catalog, "postgresql:18").document
    assert "convert.session-date" in {each.construct for each in document.findings}


def test_days_of_mysql_are_compared_as_moments() -> None:
    script = "CREATE TABLE p (id int, i date);\nCREATE VIEW x AS SELECT id FROM p WHERE i < '2024-01-05 10:00:00';\n"
    drafts = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", script, "")], "mysql"), "postgresql:18"
    ).drafts
    assert "i < TIMESTAMP '2024-01-05 10:00:00'" in next(
        each.text for each in drafts.drafts if each.object.name.lower() == "x"
    )
