"""Columns that ignore case as the source's default collations do, where the project says so."""

import tempfile
from pathlib import Path

import psycopg
import pytest

from hullsound import steps
from hullsound.draft.collations import collation_statement
from hullsound.draft.write import draft_all, prepare_text
from hullsound.errors import UsageError
from hullsound.project import read_project
from hullsound.survey.files import ScriptFile
from tests.servers import debian_postgresql

TABLE = (
    "CREATE TABLE dbo.Pier (PierID int NOT NULL PRIMARY KEY, Name nvarchar(40) NOT NULL CONSTRAINT UQ_Pier UNIQUE,\n"
    "  Code varchar(10) COLLATE Latin1_General_BIN2 NULL, Length decimal(6,2) NULL)\nGO\n"
)


def project_of(folder: Path, text: str) -> Path:
    path = folder / "hullsound.toml"
    path.write_text(text, encoding="utf-8")
    return path


def test_columns_get_a_collation_where_the_project_says_so(tmp_path: Path) -> None:
    project = read_project(project_of(tmp_path, '[drafts]\ncase = "ignore"\n'))
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE, "")], "sqlserver")
    case = steps.assess_catalog(catalog, "postgresql:18", project=project)
    table = next(d.text for d in draft_all(catalog, case.assessment).drafts if d.object.type.value == "table")
    assert 'name varchar(40) COLLATE public."hs_ignoring_case" NOT NULL' in table
    assert "code varchar(10),\n  length numeric" in table


@pytest.mark.server
def test_drafts_can_be_tried_where_the_server_has_no_icu(tmp_path: Path, server_url: str) -> None:
    project = read_project(project_of(tmp_path, '[drafts]\ncase = "ignore"\n'))
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE, "")], "sqlserver")
    case = steps.assess_catalog(catalog, "postgresql:18", project=project)
    trial = steps.try_case(case, steps.draft_case(case), server_url)
    assert len(trial.accepted()) == 3


@pytest.mark.server
def test_the_collation_makes_text_equal_but_for_case() -> None:
    folder = tempfile.mkdtemp(prefix="hs", dir="/tmp")
    with debian_postgresql(Path(folder)) as url, psycopg.connect(url) as connection:
        connection.execute(collation_statement().encode())
        connection.execute('CREATE TABLE pier (name varchar(40) COLLATE public."hs_ignoring_case" UNIQUE)')
        connection.execute("INSERT INTO pier VALUES ('North Pier')")
        assert connection.execute("SELECT count(*) FROM pier WHERE name = 'NORTH pier'").fetchone() == (1,)
        with pytest.raises(psycopg.errors.UniqueViolation):
            connection.execute("INSERT INTO pier VALUES ('NORTH PIER')")


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
