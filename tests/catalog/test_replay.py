"""Scripts that change a schema over time: the catalogue holds the state after the last statement, in an order that is found."""

import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.survey.files import ScriptFile
from hullsound.survey.order import order_scripts


def survey(text: str, engine: str = "oracle") -> Catalog:
    return steps.survey_texts([ScriptFile("a.sql", text, "")], engine)


def columns(catalog: Catalog, table: str) -> list[tuple[str, str, bool, str]]:
    return [(c.name, str(c.type), c.nullable, c.default) for c in catalog.objects[table].columns]


def constructs(catalog: Catalog) -> set[str]:
    return {sighting.construct for sighting in catalog.sightings}


def test_columns_are_renamed_dropped_and_changed() -> None:
    catalog = survey(
        "CREATE TABLE berth (id NUMBER(9) PRIMARY KEY, depth NUMBER(5) DEFAULT 1 NOT NULL, old DATE, CHECK (depth > 0));\n"
        "CREATE INDEX ix ON berth (depth);\nCREATE INDEX ix_old ON berth (old);\n"
        "ALTER TABLE berth RENAME COLUMN depth TO metres;\nALTER TABLE berth MODIFY (metres NUMBER(7,2) NULL);\n"
        "ALTER TABLE berth DROP COLUMN old;\n"
    )
    assert columns(catalog, "table.berth") == [("ID", "NUMBER(9)", False, ""), ("METRES", "NUMBER(7,2)", True, "1")]
    check = catalog.objects["constraint.berth_ck"].constraint
    assert check is not None
    assert check.expression == "metres > 0"
    index = catalog.objects["index.ix"].index
    assert index is not None
    assert index.keys[0].text.startswith("metres")
    assert "index.ix_old" not in catalog.objects


def test_a_renamed_table_takes_along_what_belongs_to_it_and_who_refers_to_it() -> None:
    catalog = survey(
        "CREATE TABLE quay (id NUMBER(9) CONSTRAINT pk_quay PRIMARY KEY);\nCREATE INDEX ix ON quay (id);\n"
        "CREATE TABLE crane (quay_id NUMBER(9) REFERENCES quay (id));\nGRANT SELECT ON quay TO clerk;\n"
        "ALTER TABLE quay RENAME TO pier;\n"
    )
    assert "table.quay" not in catalog.objects
    assert catalog.objects["index.ix"].table == "table.pier"
    key = catalog.objects["constraint.crane_quay_id_fk"].constraint
    assert key is not None
    assert key.references == ("PIER",)
    assert catalog.objects["grant.quay"].details["target"] == "PIER"
    assert "survey.unresolved" not in constructs(catalog)


def test_a_table_that_is_built_anew_and_takes_the_old_name() -> None:
    catalog = survey(
        "CREATE TABLE tug (id INTEGER PRIMARY KEY, bad TEXT);\nINSERT INTO tug VALUES (1, 'x');\n"
        "CREATE TABLE tug_new (id INTEGER PRIMARY KEY, good TEXT);\nINSERT INTO tug_new SELECT id, bad FROM tug;\n"
        "DROP TABLE tug;\nALTER TABLE tug_new RENAME TO tug;\n",
        "sqlite",
    )
    assert [c.name for c in catalog.objects["table.tug"].columns] == ["ID", "GOOD"]
    assert not [i for i in catalog.objects if "change" in i or "data" in i]
    assert {"survey.past-statement", "survey.dropped"} <= constructs(catalog)


def test_dropped_objects_are_gone_with_what_was_seen_in_them() -> None:
    catalog = survey(
        "CREATE TABLE tmp (a LONG);\nCREATE VIEW v AS SELECT 1 a FROM dual;\nDROP VIEW v;\nDROP TABLE tmp;\n"
        "DROP TABLE kept;\nCREATE TABLE kept (a NUMBER);\n"
    )
    assert list(catalog.objects) == ["table.kept"]
    assert {s.object for s in catalog.sightings} <= {"database", "table.kept"}


def test_a_column_that_is_there_is_not_added_twice() -> None:
    catalog = survey("CREATE TABLE t (a NUMBER);\nALTER TABLE t ADD a DATE;\nALTER TABLE t ADD b DATE;\n")
    assert [c[:2] for c in columns(catalog, "table.t")] == [("A", "NUMBER"), ("B", "DATE")]
    assert "survey.column-exists" in constructs(catalog)


def test_of_two_tables_of_one_name_in_one_script_the_first_holds() -> None:
    catalog = survey("CREATE TABLE t (a NUMBER PRIMARY KEY);\nCREATE TABLE t (b NUMBER CONSTRAINT k PRIMARY KEY);\n")
    assert [c[0] for c in columns(catalog, "table.t")] == ["A"]
    assert "constraint.k" not in catalog.objects


@pytest.mark.parametrize(
    ("engine", "text", "expected"),
    [
        ("sqlserver", "CREATE TABLE t (a INT, b INT NOT NULL);\nALTER TABLE t ADD CONSTRAINT df DEFAULT (5) FOR a\nGO\n"
         "ALTER TABLE t ALTER COLUMN b BIGINT NULL\nGO\n", [("A", "INT", True, "(5)"), ("B", "BIGINT", True, "")]),
        ("sqlserver", "CREATE TABLE t (a INT CONSTRAINT df DEFAULT 5);\nALTER TABLE t DROP CONSTRAINT df\nGO\n",
         [("A", "INT", True, "")]),
        ("mysql", "CREATE TABLE t (a INT DEFAULT 4, PRIMARY KEY (a));\nALTER TABLE t CHANGE a b BIGINT, ALTER b SET DEFAULT 9;\n",
         [("B", "BIGINT", False, "9")]),
        ("postgresql", "CREATE TABLE t (a int NOT NULL DEFAULT 3);\nALTER TABLE t ALTER a DROP NOT NULL, ALTER a DROP DEFAULT, "
         "ALTER a TYPE bigint;\n", [("A", "BIGINT", True, "")]),
        ("db2", "CREATE TABLE t (a INT NOT NULL WITH DEFAULT, b CHAR(4) NOT NULL WITH DEFAULT, c DATE WITH DEFAULT);\n",
         [("A", "INT", False, "0"), ("B", "CHAR(4)", False, "''"), ("C", "DATE", True, "CURRENT DATE")]),
    ],
)  # fmt: skip
def test_defaults_types_and_nulls_of_later_statements(
    engine: str, text: str, expected: list[tuple[str, str, bool, str]]
) -> None:
    assert columns(survey(text, engine), next(i for i in survey(text, engine).objects if "table.t" in i)) == expected


def test_what_supplied_procedures_say_of_tables() -> None:
    catalog = survey(
        "CREATE TABLE dbo.gate (id INT IDENTITY(1,1), note VARCHAR(9));\nGO\n"
        "EXEC sp_addextendedproperty @name = N'MS_Description', @value = N'Who''s in', @level0type = N'SCHEMA', "
        "@level0name = N'dbo', @level1type = N'TABLE', @level1name = N'gate', @level2type = N'COLUMN', @level2name = N'note'\n"
        "GO\nEXEC sp_rename 'dbo.gate.note', 'remark', 'COLUMN'\nGO\nDBCC CHECKIDENT ('dbo.gate', RESEED, 41)\nGO\n",
        "sqlserver",
    )
    table = catalog.objects["dbo.table.gate"]
    assert [(c.name, c.comment) for c in table.columns] == [("ID", ""), ("REMARK", "Who's in")]
    assert table.details["next identity"] == "42"


def test_switched_off_constraints_and_triggers() -> None:
    catalog = survey(
        "CREATE TABLE t (a NUMBER CONSTRAINT ck CHECK (a > 0), b NUMBER CONSTRAINT ck2 CHECK (b > 0) DISABLE);\n"
        "CREATE TRIGGER tr BEFORE INSERT ON t FOR EACH ROW BEGIN NULL; END;\n/\n"
        "ALTER TABLE t DISABLE CONSTRAINT ck ENABLE CONSTRAINT ck2;\nALTER TRIGGER tr DISABLE;\n"
    )
    assert catalog.objects["trigger.tr"].details["disabled"] == "yes"
    assert catalog.objects["constraint.ck"].constraint.disabled  # type: ignore[union-attr]


def names(*paths: str) -> tuple[list[str], dict[str, str]]:
    order = order_scripts([ScriptFile(path, "CREATE TABLE t (a INT);", "") for path in paths])
    return [file.name for file in order.files], order.left_out


def test_order_by_versions_numbers_and_dates() -> None:
    assert names("10_c.sql", "2_b.sql", "1_a.sql")[0] == ["1_a.sql", "2_b.sql", "10_c.sql"]
    assert names("upgrade-1.9-1.10.sql", "schema.sql", "upgrade-1.8-1.9.sql")[0] == [
        "schema.sql", "upgrade-1.8-1.9.sql", "upgrade-1.9-1.10.sql",
    ]  # fmt: skip
    assert names("V2__b.sql", "V10__c.sql", "V1__a.sql")[0] == ["V1__a.sql", "V2__b.sql", "V10__c.sql"]
    assert names("2026-02-01-x.sql", "2025-12-24-y.sql")[0] == ["2025-12-24-y.sql", "2026-02-01-x.sql"]
    assert names("b.sql", "a.sql") == (["b.sql", "a.sql"], {})


def test_scripts_that_undo_others_are_passed_over_and_said() -> None:
    kept, left_out = names("1.up.sql", "1.down.sql", "2.up.sql")
    assert kept == ["1.up.sql", "2.up.sql"]
    assert list(left_out) == ["1.down.sql"]
    clearing = [ScriptFile("create.sql", "CREATE TABLE t (a INT);", ""), ScriptFile("drop.sql", "DROP TABLE t;", "")]
    assert list(order_scripts(clearing).left_out) == ["drop.sql"]
    assert not order_scripts(clearing[1:]).left_out


def test_a_drop_in_another_file_of_no_known_order_takes_nothing_away() -> None:
    files = [ScriptFile("alpha.sql", "CREATE TABLE t (a NUMBER);", ""), ScriptFile("beta.sql", "DROP TABLE t;", "")]
    catalog = steps.survey_texts(files, "oracle")
    assert list(catalog.objects) == ["table.t"]
    assert "survey.order-unclear" in constructs(catalog)


def test_constraints_of_one_name_in_tables_of_different_files_all_stay() -> None:
    files = [
        ScriptFile(f"{name}.sql", f"CREATE TABLE {name} (x INT, CONSTRAINT uk UNIQUE (x));", "")
        for name in ("a", "b", "c", "d")
    ]
    catalog = steps.survey_texts(files, "mysql")
    constraints = [item for item in catalog.objects.values() if item.constraint is not None]
    assert {item.table for item in constraints} == {"table.a", "table.b", "table.c", "table.d"}
    assert len(constraints) == 4


def test_dropped_routines_with_parameters_in_their_ids() -> None:
    script = (
        "CREATE FUNCTION f(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';\nDROP FUNCTION f(int);\n"
        "CREATE FUNCTION g(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';\n"
        "CREATE FUNCTION g(a text) RETURNS int LANGUAGE sql AS 'SELECT 1';\nDROP FUNCTION g(int);\n"
    )
    catalog = survey(script, "postgresql")
    assert not [each for each in catalog.objects if ".f(" in each]
    assert len([each for each in catalog.objects if ".g(" in each]) == 2
    assert "survey.change-unknown" in constructs(catalog)


def test_first_and_after_say_where_a_column_stands() -> None:
    catalog = survey(
        "CREATE TABLE t (a INT, b INT);\nALTER TABLE t ADD COLUMN c INT AFTER a, ADD d INT FIRST;\n"
        "ALTER TABLE t MODIFY b INT FIRST;\nALTER TABLE t CHANGE c cc INT AFTER d;\nALTER TABLE t ADD e INT AFTER lost;\n",
        "mysql",
    )
    assert [column.name for column in catalog.objects["table.t"].columns] == ["B", "D", "CC", "A", "E"]


def test_between_mysql_and_mariadb_added_columns_keep_their_place() -> None:
    text = "CREATE TABLE t (a INT, b INT);\nALTER TABLE t ADD COLUMN c INT AFTER a, ADD d INT FIRST, ADD e INT;\n"
    case = steps.assess_catalog(survey(text, "mysql"), "mariadb:10.11")
    draft = case.drafts.drafts[0].text
    assert draft.endswith("ALTER TABLE `t` ADD COLUMN d INT FIRST, ADD COLUMN c INT AFTER `a`, ADD COLUMN e INT;")
    moved = steps.assess_catalog(survey(text + "ALTER TABLE t MODIFY b INT FIRST;\n", "mysql"), "mariadb:10.11")
    assert moved.assessment.objects[0].outcome.value == "rewrite"


@pytest.mark.parametrize(
    ("engine", "drops", "left"),
    [
        ("postgresql", ["CONSTRAINT t_pkey", "CONSTRAINT t_b_key", "CONSTRAINT t_c_fkey", "CONSTRAINT t_d_check"], []),
        ("mysql", ["FOREIGN KEY t_ibfk_1", "INDEX b", "CHECK t_chk_1"], ["primary key"]),
    ],
)
def test_parts_without_a_name_are_dropped_by_the_one_that_the_engine_gave(
    engine: str, drops: list[str], left: list[str]
) -> None:
    text = "CREATE TABLE t (a INT PRIMARY KEY, b INT, c INT, d INT CHECK (d > 0), UNIQUE (b), FOREIGN KEY (c) REFERENCES o (id));\n"
    catalog = survey(text + "".join(f"ALTER TABLE t DROP {drop};\n" for drop in drops), engine)
    assert [item.constraint.form for item in catalog.objects.values() if item.constraint is not None] == left
    assert "survey.change-unknown" not in constructs(catalog)


def test_a_part_that_no_script_makes_and_one_drops_is_said() -> None:
    catalog = survey("CREATE TABLE t (a NUMBER);\nALTER TABLE t DROP CONSTRAINT lost;\n")
    assert [s.detail for s in catalog.sightings if s.construct == "survey.change-unknown"] == [
        "drop of constraint lost"
    ]
    first = "CREATE TABLE t (a NUMBER);\nALTER TABLE t DROP CONSTRAINT ck;\n"
    catalog = survey(first + "ALTER TABLE t ADD CONSTRAINT ck CHECK (a > 0);\n")
    assert "survey.change-unknown" not in constructs(catalog)


def test_a_comment_in_double_quotes_is_read() -> None:
    catalog = survey('CREATE TABLE t (a INT);\nCOMMENT ON TABLE t IS "it is told";\n', "mysql")
    assert catalog.objects["table.t"].comment == "it is told"


def test_between_kin_a_default_that_is_set_later_is_in_the_draft() -> None:
    text = (
        "CREATE TABLE t (a INT, b VARCHAR(9));\nALTER TABLE t CHANGE b b VARCHAR(20) NOT NULL;\n"
        "ALTER TABLE t ALTER COLUMN b SET DEFAULT 'x';\n"
    )
    case = steps.assess_catalog(survey(text, "mysql"), "mariadb:10.11")
    assert case.drafts.drafts[0].text == "CREATE TABLE t (a INT, `b` VARCHAR(20) NOT NULL DEFAULT 'x')"
