"""Columns that ignore case as the source's default collations do, where the project says so."""

import tempfile
from pathlib import Path

import psycopg
import pytest

from hullsound import steps
from hullsound.draft.conversions.collations import collation_statement
from hullsound.draft.files import prepare_text
from hullsound.draft.write import draft_all
from hullsound.errors import UsageError
from hullsound.project import read_project
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import scratch_database
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


OFFICE = (
    "CREATE TABLE dbo.Slip (SlipID int NOT NULL PRIMARY KEY, Name nvarchar(40) NOT NULL, Town varchar(30) NULL,\n"
    "  Kind varchar(10) NULL, Note varchar(80) NULL, Label varchar(20) NULL)\nGO\n"
    "CREATE UNIQUE INDEX UX_Slip ON dbo.Slip (Name)\nGO\n"
    "CREATE VIEW dbo.Kinds AS SELECT Kind, COUNT(*) AS N FROM dbo.Slip GROUP BY Kind\nGO\n"
    "CREATE FUNCTION dbo.SlipsIn (@Town varchar(30)) RETURNS int AS\nBEGIN\n"
    "  RETURN (SELECT COUNT(*) FROM dbo.Slip AS s WHERE s.Town = @Town)\nEND\nGO\n"
)
SEARCH = "CREATE VIEW dbo.Marked AS SELECT SlipID FROM dbo.Slip WHERE Label LIKE 'x%'\nGO\n"


def compared(folder: Path, script: str, target: str) -> steps.Case:
    project = read_project(project_of(folder, '[drafts]\ncase = "compared"\n'))
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver")
    return steps.assess_catalog(catalog, target, project=project)


def collated(case: steps.Case) -> set[str]:
    table = next(d.text for d in steps.draft_case(case).drafts if d.object.type.value == "table")
    return {line.split()[0] for line in table.splitlines() if "hs_ignoring_case" in line}


def test_only_what_code_and_keys_compare_ignores_case(tmp_path: Path) -> None:
    assert collated(compared(tmp_path, OFFICE, "postgresql:18")) == {"name", "town", "kind"}
    assert collated(compared(tmp_path, OFFICE + SEARCH, "postgresql:18")) == {"name", "town", "kind", "label"}


def test_a_name_of_a_view_means_every_column_of_that_name(tmp_path: Path) -> None:
    through = "CREATE VIEW dbo.Few AS SELECT N FROM dbo.Kinds AS k WHERE k.Kind = 'a' OR k.Note = 'b'\nGO\n"
    assert "note" in collated(compared(tmp_path, OFFICE + through, "postgresql:18"))


def test_before_version_18_only_searched_columns_are_for_a_person(tmp_path: Path) -> None:
    outcomes = [
        next(o.outcome for o in compared(tmp_path, script, "postgresql:15").document.objects if o.type == "table")
        for script in (OFFICE, OFFICE + SEARCH)
    ]
    assert outcomes[0] != "rewrite"
    assert outcomes[1] == "rewrite"


@pytest.mark.server
def test_compared_columns_behave_as_in_the_source(tmp_path: Path) -> None:
    case = compared(tmp_path, OFFICE, "postgresql:15")
    drafts = steps.draft_case(case)
    folder = tempfile.mkdtemp(prefix="hs", dir="/tmp")
    with debian_postgresql(Path(folder)) as url:
        trial = steps.try_case(case, drafts, url)
        assert not trial.refused()
        with psycopg.connect(url) as connection:
            connection.execute(prepare_text(drafts, "postgresql").encode())
            connection.execute("SET search_path = dbo, public")
            for draft in drafts.drafts:
                connection.execute(draft.text.encode())
            connection.execute(
                "INSERT INTO slip VALUES (1, 'North', 'Kestrel Bay', 'Dry', 'a'), (2, 'South', 'KESTREL BAY', 'DRY', 'A')"
            )
            assert connection.execute("SELECT slipsin('kestrel bay')").fetchone() == (2,)
            assert connection.execute("SELECT n FROM kinds").fetchall() == [(2,)]
            assert connection.execute("SELECT count(*) FROM slip WHERE note = 'a'").fetchone() == (1,)
            with pytest.raises(psycopg.errors.UniqueViolation):
                connection.execute("INSERT INTO slip VALUES (3, 'NORTH')")


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


def lowered(query: str, setting: str = "lower", tmp_path: Path | None = None) -> str:
    """Return the draft of a condition over the office's table, with the setting of a project."""
    script = OFFICE + f"CREATE VIEW dbo.Asked AS SELECT s.SlipID FROM dbo.Slip AS s WHERE {query}\nGO\n"
    project = read_project(project_of(tmp_path, f'[drafts]\ncase = "{setting}"\n')) if tmp_path else None
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver")
    case = steps.assess_catalog(catalog, "postgresql:18", project=project)
    view = next(d.text for d in steps.draft_case(case).drafts if d.object.name == "ASKED")
    return view.partition(" WHERE ")[2].strip().rstrip(";")


@pytest.mark.parametrize(
    ("source", "draft"),
    [
        ("s.Town = 'Kestrel Bay'", "lower(rtrim(s.Town)) = 'kestrel bay'"),
        ("s.Town IN ('Quay', N'Bay ')", "lower(rtrim(s.Town)) IN ('quay', 'bay')"),
        ("s.Note LIKE 'A%'", "s.Note ILIKE 'A%'"),
        ("s.Note LIKE '[AB]%'", "s.Note ~* '^[AB].*$'"),
        ("CHARINDEX('Bay', s.Town) > 0", "strpos(lower(s.Town), 'bay') > 0"),
        ("REPLACE(s.Town, 'Bay', '') > ''", "regexp_replace(s.Town, 'Bay', '', 'gi') > ''"),
        ("s.Name = 'Moe'", "s.Name = 'Moe'"),  # an index begins with it
        ("s.Town = '7'", "s.Town = '7'"),
        ("s.Note LIKE '7%'", "s.Note LIKE '7%'"),
        ("UPPER(s.Town) = 'QUAY'", "UPPER(s.Town) = 'QUAY'"),
        ("s.Town COLLATE Latin1_General_BIN2 = 'Quay'", "s.Town COLLATE \"C\" = 'Quay'"),
        ("REPLACE(s.Town, '-', '') > ''", "REPLACE(s.Town, '-', '') > ''"),
    ],
)
def test_texts_compare_without_case_where_no_index_serves(source: str, draft: str) -> None:
    assert lowered(source) == draft


@pytest.mark.parametrize("setting", ["keep", "compared"])
def test_code_stays_as_it_is_where_the_project_says_so(setting: str, tmp_path: Path) -> None:
    assert lowered("s.Town = 'Quay'", setting, tmp_path) == "s.Town = 'Quay'"


def test_columns_of_listed_values_keep_their_case() -> None:
    script = "CREATE TABLE slip (kind ENUM('Dry', 'Wet'), town VARCHAR(20));\n" + (
        "CREATE VIEW asked AS SELECT 1 AS n FROM slip WHERE kind = 'Dry' AND town = 'Quay';\n"
    )
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], "mysql")
    drafts = steps.draft_case(steps.assess_catalog(catalog, "postgresql:18")).drafts
    assert "kind = 'Dry' AND lower(town) = 'quay'" in next(d.text for d in drafts if d.object.name.lower() == "asked")


COMPARED = {
    "name = 'NORTH'": 2,
    "name <> 'north'": 1,
    "name IN ('NORTH', 'x')": 2,
    "name BETWEEN 'M' AND 'O'": 2,
    "name LIKE 'NO%'": 2,
    "name = ANY (SELECT label FROM signs)": 2,
    "name <> ALL (SELECT label FROM signs)": 1,
    "name IN (SELECT label FROM signs)": 2,
    "EXISTS (SELECT 1 FROM signs s WHERE s.label = p.name)": 2,
    "NULLIF(name, 'NORTH') IS NULL": 2,
    "CASE name WHEN 'NORTH' THEN 1 ELSE 0 END = 1": 2,
    "CHARINDEX('TH', name) > 0": 3,
    "name COLLATE Latin1_General_BIN2 = 'North'": 1,
}
"""Conditions of SQL Server with how many of the piers North, NORTH and South meet them under its default collation."""


@pytest.mark.server
def test_conditions_meet_the_rows_that_they_meet_without_case(server_url: str) -> None:
    tables = "CREATE TABLE piers (id int, name varchar(10))\nGO\nCREATE TABLE signs (label varchar(10))\nGO\n"
    views = "".join(
        f"CREATE VIEW v{place} AS SELECT COUNT(*) AS n FROM piers p WHERE {condition}\nGO\n"
        for place, condition in enumerate(COMPARED)
    )
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", tables + views, "")], "sqlserver"), "postgresql:18"
    )
    promised = {each.id: each.outcome.value for each in case.document.objects}
    with scratch_database(server_url) as connection:
        connection.execute("CREATE SCHEMA dbo")
        connection.execute("SET search_path = dbo")
        for draft in sorted(case.drafts.drafts, key=lambda each: each.object.type.value):
            connection.execute(draft.text.encode())
        connection.execute("INSERT INTO piers VALUES (1, 'North'), (2, 'NORTH'), (3, 'South')")
        connection.execute("INSERT INTO signs VALUES ('north'), ('West')")
        counts = {}
        for place, condition in enumerate(COMPARED):
            if promised[f"dbo.view.v{place}"] in ("as-is", "drafted"):
                row = connection.execute(f"SELECT n FROM v{place}".encode()).fetchone()
                counts[condition] = row[0] if row else None
    assert len(counts) >= len(COMPARED) - 1
    assert counts == {condition: COMPARED[condition] for condition in counts}


def test_rows_that_a_trigger_compares_have_the_columns_of_its_table() -> None:
    script = (
        "CREATE TABLE piers (id int, name varchar(10))\nGO\nCREATE TRIGGER renamed ON piers AFTER UPDATE AS\n"
        "DELETE FROM piers WHERE id IN (SELECT i.id FROM inserted i JOIN deleted d ON i.id = d.id WHERE i.name <> d.name)\nGO\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver"), "postgresql:18")
    trigger = next(each.text for each in case.drafts.drafts if each.object.type.value == "trigger")
    assert "lower(rtrim(i.name)) <> lower(rtrim(d.name))" in trigger


@pytest.mark.parametrize("target", ["postgresql:18", "oracle:19"])
def test_a_list_of_one_value_stays_a_list(target: str) -> None:
    script = (
        "CREATE TABLE dbo.stay (id int NOT NULL PRIMARY KEY, a varchar(10), b varchar(10));\nGO\n"
        "CREATE VIEW dbo.v AS SELECT id FROM dbo.stay WHERE b NOT IN ('X') AND a IN (b);\nGO\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver"), target)
    view = next(each for each in steps.draft_case(case).drafts if each.object.name.lower() == "v")
    assert "lower(rtrim(b)) NOT IN ('x') AND lower(rtrim(a)) IN (lower(rtrim(b)))" in view.text
