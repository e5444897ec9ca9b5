"""Constraints, indexes, triggers and counting columns keep all their parts on every target, or say which one they lose."""

from collections.abc import Callable

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED, Outcome
from hullsound.draft.model import Draft
from hullsound.draft.write import draft_all
from hullsound.survey.files import ScriptFile


def drafted(text: str, engine: str, target: str = "postgresql:18") -> dict[str, Draft]:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], engine)
    case = steps.assess_catalog(catalog, target)
    return {draft.object.id: draft for draft in draft_all(catalog, case.assessment).drafts}


def text_of(drafts: dict[str, Draft], part: str) -> str:
    return next(draft.text for key, draft in drafts.items() if part in key)


def test_referential_actions_of_both_events() -> None:
    script = (
        "CREATE TABLE p (a INT PRIMARY KEY);\nCREATE TABLE c (a INT, CONSTRAINT fk FOREIGN KEY (a) REFERENCES p (a) "
        "ON DELETE SET NULL ON UPDATE CASCADE);\n"
    )
    for engine in ("mysql", "sqlserver", "postgresql"):
        for target in ("postgresql:18", "mariadb:10.11", "sqlserver:2022"):
            if engine != target.partition(":")[0] and (engine, target) != ("mysql", "mariadb:10.11"):
                text = text_of(drafted(script, engine, target), "fk")
                assert "ON DELETE SET NULL ON UPDATE CASCADE" in text, (engine, target)
    assert text_of(drafted(script, "mysql", "oracle:23"), "constraint.fk") == ""


def test_parts_of_indexes() -> None:
    script = (
        "CREATE TABLE dbo.t (a INT NOT NULL, b INT NULL, c INT);\nGO\n"
        "CREATE UNIQUE INDEX i ON dbo.t (a, b) INCLUDE (c) WHERE c > 0;\nGO\n"
        "CREATE UNIQUE INDEX j ON dbo.t (a) WITH (IGNORE_DUP_KEY = ON);\nGO\nCREATE INDEX k ON dbo.t (a) INCLUDE (c);\nGO\n"
    )
    drafts = drafted(script, "sqlserver")
    assert text_of(drafts, ".i").endswith("(a, b) INCLUDE (c) NULLS NOT DISTINCT WHERE c > 0;")
    assert drafts["dbo.index.t.j"].outcome is Outcome.CONFIRM
    on_mariadb = drafted(script, "sqlserver", "mariadb:10.11")
    assert on_mariadb["dbo.index.t.i"].outcome not in PROMISED
    assert text_of(on_mariadb, ".k").endswith("(a, c);")


def test_a_unique_constraint_that_takes_one_null() -> None:
    script = "CREATE TABLE t (a INT NULL CONSTRAINT u UNIQUE, b INT NOT NULL CONSTRAINT w UNIQUE);\nGO\n"
    drafts = drafted(script, "sqlserver")
    assert "UNIQUE NULLS NOT DISTINCT (a)" in text_of(drafts, "constraint.u")
    assert "UNIQUE (b)" in text_of(drafts, "constraint.w")
    assert "NULLS" not in text_of(drafted(script, "sqlserver", "postgresql:14"), "constraint.u")


def test_constraints_that_are_not_checked() -> None:
    script = "CREATE TABLE t (a INT, CONSTRAINT c CHECK (a > 0) NOT ENFORCED);"
    assert text_of(drafted(script, "db2"), "constraint.c").endswith("CHECK (a > 0) NOT ENFORCED;")
    assert text_of(drafted(script, "db2", "postgresql:17"), "constraint.c").startswith("-- Not enforced in the source")
    script = (
        "CREATE TABLE t (a INT);\nALTER TABLE t WITH NOCHECK ADD CONSTRAINT c CHECK (a > 0);\nGO\n"
        "ALTER TABLE t ADD CONSTRAINT d CHECK (a < 9);\nALTER TABLE t NOCHECK CONSTRAINT d;\nGO\n"
    )
    drafts = drafted(script, "sqlserver")
    assert text_of(drafts, "constraint.c").endswith("NOT VALID;")
    assert text_of(drafts, "constraint.d").startswith("-- Disabled in the source")


def test_a_trigger_that_is_switched_off_stays_off() -> None:
    script = (
        "CREATE TABLE t (a NUMBER);\nCREATE TRIGGER tr BEFORE INSERT ON t FOR EACH ROW BEGIN :new.a := 1; END;\n/\n"
        "ALTER TRIGGER tr DISABLE;\n"
    )
    assert text_of(drafted(script, "oracle"), "trigger.tr").endswith("ALTER TABLE t DISABLE TRIGGER tr;")
    assert drafted(script, "oracle", "mariadb:10.11")["trigger.tr"].outcome not in PROMISED


def test_an_index_named_like_a_table_or_sequence() -> None:
    """Oracle keeps the names of indexes apart from those of tables; PostgreSQL does not."""
    source = (
        "CREATE TABLE berth (id NUMBER(9));\nCREATE SEQUENCE quay;\nCREATE TABLE stay (id NUMBER(9), place NUMBER(9));\n"
        "CREATE INDEX berth ON stay (id);\nCREATE INDEX quay ON stay (place);\nCREATE INDEX plain ON stay (place, id);\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", source, "")], "oracle"), "postgresql:18")
    indexes = [d.text.split(" ON ")[0] for d in case.drafts.drafts if d.object.type == "index"]
    assert sorted(indexes) == ["CREATE INDEX plain", "CREATE INDEX stay_berth", "CREATE INDEX stay_quay"]


def test_names_that_two_tables_share() -> None:
    script = (
        "CREATE TABLE a (x INT, UNIQUE KEY uk (x));\nCREATE TABLE b (x INT, UNIQUE KEY uk (x));\n"
        "CREATE TABLE c (x INT, UNIQUE KEY a (x));\n"
    )
    drafts = drafted(script, "mysql")
    texts = [draft.text for key, draft in drafts.items() if "constraint" in key]
    assert len(texts) == 3
    assert [text.split()[5] for text in texts] == ["uk", "b_uk", "c_a"]


COMMENTED = "CREATE TABLE t (a INT COMMENT 'the \\'key\\'', b INT) COMMENT = 'all of it';"


def test_comments_inside_of_tables() -> None:
    text = text_of(drafted(COMMENTED, "mysql"), "table.t")
    assert "COMMENT ON TABLE t IS 'all of it';" in text
    assert "COMMENT ON COLUMN t.a IS 'the ''key''';" in text


@pytest.mark.parametrize(
    ("engine", "script", "target", "expected"),
    [
        ("mysql", "CREATE TABLE t (id INT AUTO_INCREMENT PRIMARY KEY) AUTO_INCREMENT=17;",
         "postgresql:18", "IDENTITY (START WITH 17)"),
        ("mysql", "CREATE TABLE t (id INT AUTO_INCREMENT PRIMARY KEY);"
         "\nALTER TABLE t AUTO_INCREMENT = 40;",
         "sqlserver:2022", "IDENTITY(40,1)"),
        ("postgresql", "CREATE TABLE t (id serial PRIMARY KEY, a int);",
         "mariadb:10.11", "NOT NULL AUTO_INCREMENT"),
        ("postgresql", "CREATE TABLE t (id bigserial PRIMARY KEY, a int);",
         "sqlserver:2022", "bigint IDENTITY(1,1)"),
        ("postgresql", "CREATE TABLE t (id int);"
         "\nALTER TABLE t ALTER id ADD GENERATED ALWAYS AS IDENTITY (START WITH 7);",
         "oracle:23", "IDENTITY (START WITH 7 INCREMENT BY 1)"),
        ("sqlserver", "CREATE TABLE t (id INT IDENTITY(1,2));"
         "\nGO"
         "\nDBCC CHECKIDENT ('t', RESEED, 99);"
         "\nGO"
         "\n",
         "postgresql:18", "(START WITH 100 INCREMENT BY 2)"),
        ("db2", "CREATE TABLE t (id INT NOT NULL GENERATED ALWAYS AS IDENTITY);"
         "\nALTER TABLE t ALTER COLUMN id RESTART WITH 50;",
         "postgresql:18", "(START WITH 50)"),
    ],
)  # fmt: skip
def test_counting_goes_on_behind_the_last_number(engine: str, script: str, target: str, expected: str) -> None:
    assert expected in text_of(drafted(script, engine, target), "table.t")


def test_sequences_go_on_behind_the_last_number() -> None:
    script = "CREATE SEQUENCE s START WITH 5;\nSELECT setval('s', 41);\nCREATE SEQUENCE r;\nALTER SEQUENCE r RESTART WITH 9;\n"
    drafts = drafted(script, "postgresql", "mariadb:10.11")
    assert "START WITH 42" in text_of(drafts, "sequence.s")
    assert "START WITH 9" in text_of(drafts, "sequence.r")


@pytest.mark.server
def test_what_is_written_is_accepted(server_url: str, mariadb: Callable[..., str]) -> None:
    from hullsound.trial.run import run_trial

    script = (
        "CREATE TABLE p (a INT AUTO_INCREMENT PRIMARY KEY, b INT, UNIQUE KEY uk (b)) AUTO_INCREMENT = 9 COMMENT 'x';\n"
        "CREATE TABLE c (a INT, UNIQUE KEY uk (a), CONSTRAINT fk FOREIGN KEY (a) REFERENCES p (a) ON UPDATE CASCADE);\n"
    )
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], "mysql")
    case = steps.assess_catalog(catalog, "postgresql:18")
    trial = run_trial(catalog, case.drafts, "postgresql:18", server_url)
    assert not trial.refused()


@pytest.mark.parametrize(
    ("source", "reason"),
    [
        ("CREATE TABLE t (a VARCHAR2(400), b VARCHAR2(400));\nCREATE INDEX ix ON t (a, b);\n", "up to 3,200 bytes"),
        ("CREATE TABLE t (" + ", ".join(f"c{n} VARCHAR2(2000)" for n in range(9)) + ");\n", ": 72,000 bytes"),
    ],
)
def test_keys_and_rows_that_mariadb_takes_no_longer_are_left_to_a_person(source: str, reason: str) -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", source, "")], "oracle")
    case = steps.assess_catalog(catalog, "mariadb:10.11")
    assert any(reason in finding.message for finding in case.assessment.findings())
