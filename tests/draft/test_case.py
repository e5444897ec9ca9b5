"""Columns that ignore case as the source's default collations do, where the project says so."""

from pathlib import Path

import psycopg
import pytest

from hullsound import steps
from hullsound.draft.write import draft_all, prepare_text
from hullsound.errors import UsageError
from hullsound.project import read_project
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import scratch_database

TABLE = (
    "CREATE TABLE dbo.Pier (PierID int NOT NULL PRIMARY KEY, Name nvarchar(40) NOT NULL CONSTRAINT UQ_Pier UNIQUE,\n"
    "  Code varchar(10) COLLATE Latin1_General_BIN2 NULL, Length decimal(6,2) NULL)\nGO\n"
)


def project_of(folder: Path, text: str) -> Path:
    path = folder / "hullsound.toml"
    path.write_text(text, encoding="utf-8")
    return path


@pytest.mark.server
def test_text_is_equal_but_for_case_where_the_project_says_so(tmp_path: Path, server_url: str) -> None:
    project = read_project(project_of(tmp_path, '[drafts]\ncase = "ignore"\n'))
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE, "")], "sqlserver")
    case = steps.assess_catalog(catalog, "postgresql:18", project=project)
    drafts = draft_all(catalog, case.assessment)
    with scratch_database(server_url) as connection:
        connection.execute(prepare_text(drafts, "postgresql").encode())
        for draft in drafts.drafts:
            connection.execute(draft.text.encode())
        connection.execute("INSERT INTO dbo.pier VALUES (1, 'North Pier', 'Ab', 10)")
        count = "SELECT count(*) FROM dbo.pier WHERE {}"
        for condition, wanted in (("name = 'NORTH pier'", 1), ("name LIKE 'north%'", 1), ("code = 'AB'", 0)):
            assert connection.execute(count.format(condition).encode()).fetchone() == (wanted,)
        with pytest.raises(psycopg.errors.UniqueViolation):
            connection.execute("INSERT INTO dbo.pier VALUES (2, 'NORTH PIER', 'x', 1)")


def test_without_a_word_of_the_project_case_counts() -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE, "")], "sqlserver")
    drafts = steps.draft_case(steps.assess_catalog(catalog, "postgresql:18"))
    assert not any("hs_ignoring_case" in draft.text for draft in drafts.drafts)
    assert "COLLATION" not in prepare_text(drafts, "postgresql")


def test_before_version_18_such_tables_are_for_a_person(tmp_path: Path) -> None:
    project = read_project(project_of(tmp_path, '[drafts]\ncase = "ignore"\n'))
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE, "")], "sqlserver")
    case = steps.assess_catalog(catalog, "postgresql:17", project=project)
    assert next(o for o in case.document.objects if o.type == "table").outcome == "rewrite"


def test_another_word_is_refused(tmp_path: Path) -> None:
    with pytest.raises(UsageError, match="drafts"):
        read_project(project_of(tmp_path, '[drafts]\ncase = "maybe"\n'))
