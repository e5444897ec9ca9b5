"""Objects, references and sizes from scripts, in whatever order the files come."""

from pathlib import Path

import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.survey.files import ScriptFile


def survey(*texts: str, jobs: int = 1, engine: str = "oracle") -> Catalog:
    files = [ScriptFile(f"f{i}.sql", text, "") for i, text in enumerate(texts)]
    return steps.survey_texts(files, engine, jobs=jobs)


TABLES = """
CREATE TABLE harbour.vessels (id NUMBER(10) CONSTRAINT v_pk PRIMARY KEY, name VARCHAR2(80 CHAR) DEFAULT 'x' NOT NULL);
CREATE TABLE harbour.calls (id NUMBER(10), vessel_id NUMBER(10) REFERENCES harbour.vessels (id), eta DATE);
"""
CHANGES = """
ALTER TABLE harbour.calls ADD (note VARCHAR2(10), CONSTRAINT c_pk PRIMARY KEY (id));
ALTER TABLE harbour.calls MODIFY eta NOT NULL;
COMMENT ON TABLE harbour.calls IS 'visits';
COMMENT ON COLUMN harbour.calls.eta IS 'it''s announced';
"""


@pytest.mark.parametrize("texts", [(TABLES, CHANGES), (CHANGES, TABLES)], ids=["in order", "changes first"])
def test_changes_of_tables_count_whatever_the_order_of_files(texts: tuple[str, str]) -> None:
    catalog = survey(*texts)
    calls = catalog.objects["harbour.table.calls"]
    assert [(c.name, c.nullable, c.comment) for c in calls.columns] == [
        ("ID", False, ""), ("VESSEL_ID", True, ""), ("ETA", False, "it's announced"), ("NOTE", True, ""),
    ]  # fmt: skip
    assert calls.comment == "visits"
    assert "not created" not in calls.details
    forms = {o.name: o.constraint.form for o in catalog.objects.values() if o.constraint}
    assert forms == {"V_PK": "primary key", "CALLS_VESSEL_ID_FK": "foreign key", "C_PK": "primary key"}


def test_a_table_that_nobody_creates_is_a_finding() -> None:
    case = steps.assess_catalog(survey("ALTER TABLE ghost ADD CONSTRAINT g_ck CHECK (a > 0);"), "postgresql")
    assert {"survey.not-created"} <= {f.construct for f in case.document.findings}


def test_references_are_resolved_through_aliases_synonyms_and_packages() -> None:
    catalog = survey(
        TABLES,
        "CREATE SYNONYM harbour.ships FOR harbour.vessels;\n"
        "CREATE SEQUENCE harbour.s;\n"
        "CREATE FUNCTION harbour.f RETURN NUMBER IS BEGIN RETURN 1; END;\n/\n"
        "CREATE PACKAGE harbour.p IS PROCEDURE go; END;\n/\n"
        "ALTER SESSION SET CURRENT_SCHEMA = harbour;\n"
        "CREATE PROCEDURE harbour.q IS v vessels.name%TYPE; n NUMBER; BEGIN\n"
        "SELECT x.name INTO v FROM ships x WHERE x.id = f; p.go; n := s.NEXTVAL;\n"
        "UPDATE calls SET eta = NULL WHERE id = n;\nEND;\n/\n",
    )
    found = {(r.kind, r.target) for r in catalog.references if r.object == "harbour.procedure.q"}
    assert {
        ("table", "harbour.table.vessels"), ("table", "harbour.table.calls"), ("column", "harbour.table.vessels"),
        ("column", "harbour.table.calls"), ("routine", "harbour.function.f"), ("routine", "harbour.package.p"),
        ("sequence", "harbour.sequence.s"), ("type", "harbour.table.vessels"),
    } <= found  # fmt: skip


def test_names_that_lead_nowhere_are_sightings_and_built_in_ones_are_not() -> None:
    catalog = survey("CREATE VIEW v AS SELECT UPPER(a), lost_fn(b) FROM lost_table, user_tables, dual;")
    assert {s.detail for s in catalog.sightings if s.construct == "survey.unresolved"} == {
        "routine lost_fn",
        "table lost_table",
    }


def test_a_package_body_knows_what_its_specification_declares() -> None:
    catalog = survey(
        "CREATE PACKAGE p IS TYPE t IS RECORD (a NUMBER); FUNCTION f RETURN t; END;\n/\n",
        "CREATE PACKAGE BODY p IS FUNCTION f RETURN t IS r t; BEGIN RETURN r; END; END;\n/\n",
    )
    assert not [s for s in catalog.sightings if s.construct == "survey.unresolved"]


def test_routines_are_measured() -> None:
    catalog = survey(
        "CREATE PACKAGE BODY p IS\nPROCEDURE a(x NUMBER, y OUT DATE) IS\nBEGIN\n"
        "  IF x = 1 AND x < 2 THEN NULL; ELSIF x = 3 THEN NULL; END IF;\n  FOR i IN 1..2 LOOP EXIT WHEN i = 1; END LOOP;\nEND;\n"
        "FUNCTION b RETURN NUMBER IS BEGIN RETURN 1; END;\nEND;\n/\n"
    )
    facts = catalog.objects["package_body.p"].routines
    assert [(r.name, r.line, r.lines, r.complexity, len(r.parameters)) for r in facts] == [
        ("A", 2, 5, 6, 2),
        ("B", 7, 1, 1, 0),
    ]


def test_a_second_definition_counts_and_is_reported() -> None:
    case = steps.assess_catalog(
        survey("CREATE VIEW v AS SELECT 1 a FROM dual;", "CREATE OR REPLACE VIEW v AS SELECT 2 b FROM dual;"),
        "postgresql",
    )
    assert [o.id for o in case.document.objects] == ["view.v"]
    assert "survey.defined-twice" in {f.construct for f in case.document.findings}


def test_runs_of_rows_are_one_object_and_queries_one_each() -> None:
    catalog = survey("INSERT INTO t VALUES (1);\nINSERT INTO t VALUES (2);\nSELECT 1 FROM dual;\nDELETE FROM t;\n")
    assert [(o.type, o.lines) for o in catalog.objects.values()] == [
        (ObjectType.DATA, 2), (ObjectType.QUERY, 1), (ObjectType.CHANGE, 1),
    ]  # fmt: skip


def test_queries_changes_and_blocks_that_cannot_be_read_are_objects_all_the_same() -> None:
    catalog = survey("SELECT FROM;\nUPDATE SET;\nMERGE t;\n")
    assert [o.type for o in catalog.objects.values()] == [ObjectType.QUERY, ObjectType.CHANGE, ObjectType.CHANGE]
    assert [span.object for span in catalog.unread] == list(catalog.objects)


def test_called_scripts_inherit_schema_and_missing_ones_are_reported(tmp_path: Path) -> None:
    (tmp_path / "sub").mkdir()
    (tmp_path / "install.sql").write_text(
        "ALTER SESSION SET CURRENT_SCHEMA = kb;\n@@sub/tables\n@lost.sql\n", encoding="utf-8"
    )
    (tmp_path / "sub" / "tables.sql").write_text("CREATE TABLE t (a NUMBER);\n@@more.sql\n", encoding="utf-8")
    (tmp_path / "sub" / "more.sql").write_text("CREATE VIEW v AS SELECT a FROM t;\n", encoding="utf-8")
    catalog = steps.survey_scripts(tmp_path, "oracle")
    assert list(catalog.objects) == ["kb.table.t", "kb.view.v"]
    assert [s.detail for s in catalog.sightings if s.construct == "survey.missing-script"] == ["lost.sql"]


def test_the_result_does_not_depend_on_the_number_of_processes(
    demo_scripts: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import msgspec

    from hullsound.steps import scripts as step
    from hullsound.survey import scripts

    monkeypatch.setattr(step, "_WORTH_A_PROCESS", 0)
    monkeypatch.setattr(scripts, "GROUP_SIZE", 2000)
    files = [ScriptFile(p.name, p.read_text(encoding="utf-8"), "") for p in sorted((demo_scripts / "tables").iterdir())]
    one, two = (steps.survey_texts(files, "oracle", jobs=jobs) for jobs in (1, 2))
    assert msgspec.json.encode(list(one.objects.values())) == msgspec.json.encode(list(two.objects.values()))
    assert one.sightings == two.sightings
    assert one.references == two.references


@pytest.mark.parametrize(
    "text",
    [
        "EXEC sys.sp_addlinkedserver @server = N'TIDES'",
        "EXEC msdb.dbo.sp_add_job @job_name = N'night'",
        "CREATE LOGIN bob WITH PASSWORD = 'x'",
    ],
)
def test_what_changes_the_server_stands_under_server(text: str) -> None:
    catalog = steps.survey_texts([ScriptFile("f.sql", text + "\nGO\n", "")], "sqlserver")
    assert {sighting.object for sighting in catalog.sightings} == {"server"}


def test_indexes_without_names_over_one_column_are_all_kept() -> None:
    text = "CREATE TABLE t (a text, b int, FULLTEXT KEY (a), KEY (a(20)), KEY (b));"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "mysql")
    assert [o.id for o in catalog.objects.values() if o.index] == ["index.t.a", "index.t.a_2", "index.t.b"]


ALIASED = (
    "CREATE TABLE phones (id INT);\nCREATE TABLE persons (id INT);\n",
    "CREATE PROCEDURE p AS DELETE FROM example.phones; DELETE FROM example.persons\nGO\n",
)


def test_a_qualifier_that_no_script_creates_is_the_default_schema() -> None:
    catalog = survey(*ALIASED, engine="sqlserver")
    assert catalog.default_schema_alias == "EXAMPLE"
    assert not [s for s in catalog.sightings if s.construct.startswith("survey.unresolved")]
    assert {r.target for r in catalog.references if r.kind == "table"} == {"dbo.table.phones", "dbo.table.persons"}


@pytest.mark.parametrize(
    "other",
    [
        "CREATE PROCEDURE q AS DELETE FROM archive.phones\nGO\n",  # another qualifier leads nowhere as well
        "CREATE PROCEDURE q AS DELETE FROM example.lost\nGO\n",  # a name that no object bears
        "CREATE PROCEDURE q AS INSERT INTO persons SELECT id FROM example.phones\nGO\n",  # with it and without it at once
    ],
)
def test_a_qualifier_is_not_taken_for_the_default_schema_where_something_speaks_against_it(other: str) -> None:
    catalog = survey(*ALIASED, other, engine="sqlserver")
    assert catalog.default_schema_alias == ""
    assert [s for s in catalog.sightings if s.construct == "survey.unresolved-in-code"]
