"""Every statement of every input ends as a statement, a directive or an unread span, and every one of them leaves a trace."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import hullsound.demo
from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.demo import SYSTEMS
from hullsound.sql.accounting import unaccounted
from hullsound.sql.dialect import ENGINES, load_dialect
from hullsound.sql.script import read_script
from hullsound.survey.files import ScriptFile, read_all

DEMO = Path(hullsound.demo.__file__).parent


def survey(text: str, engine: str) -> Catalog:
    return steps.survey_texts([ScriptFile("a.sql", text, "")], engine)


@pytest.mark.parametrize("engine", list(SYSTEMS))
def test_nothing_of_the_demo_is_lost(engine: str) -> None:
    for file in read_all(DEMO / engine)[0]:
        assert not unaccounted(read_script(file.text, load_dialect(engine))), file.name


PIECES = st.sampled_from(
    ["CREATE TABLE t (a INT", ");\n", "\nGO\n", "\n/\n", "BEGIN", "END;", "$$", "'", '"', "--", "/*", "*/",
     "INSERT INTO t VALUES (1)", "CREATE PROCEDURE p AS", "DELIMITER ;;\n", ";;", "SELECT 1", "(", ")", "DROP TABLE t",
     "IF x THEN", "\n", " ", "#", "`", "[", "]"]
)  # fmt: skip


@given(st.lists(PIECES, max_size=25), st.sampled_from(ENGINES))
def test_whatever_is_put_together_no_statement_is_lost(pieces: list[str], engine: str) -> None:
    assert not unaccounted(read_script(" ".join(pieces), load_dialect(engine)))


@pytest.mark.parametrize(
    ("engine", "text"),
    [
        ("postgresql", "CREATE FUNCTION f(a int) RETURNS int LANGUAGE sql AS $$SELECT a$$;"),
        ("postgresql", "CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$DECLARE r record; x int; BEGIN "
         "SELECT INTO x count(*) FROM t; SELECT INTO r.b, x a, f(b) FROM t; RETURN x; END$$;"),
        ("postgresql", "CREATE TABLE u (a int, r tsrange, EXCLUDE USING gist (a WITH =, r WITH &&) WHERE (a > 1));"),
        ("ase", "alter table t\ndrop constraint fk\nalter table u\ndrop column x\ngo\n"),
        ("sqlserver", "DECLARE @@x int\nSET @@x = 5\nSELECT @@x = max(a) FROM t\nGO\n"),
        ("sqlserver", "SELECT a go FROM t go WHERE go.a = 1\nGO\n"),
        ("db2", "-- see (the page) /\nCREATE TABLE t (a INT);\nCREATE TABLE u (a INT);"),
        ("db2", "SELECT * FROM (VALUES 1) AS x(a);\nSET TRANSACTION ISOLATION LEVEL SERIALIZABLE;\n"
         "CREATE UNIQUE INDEX i ON t (a) EXCLUDE NULL KEYS;"),
        ("oracle", "####\n# made by hand\nCREATE TABLE t (a NUMBER);\n"),
    ],
)  # fmt: skip
def test_forms_that_strangers_write_are_read_in_full(engine: str, text: str) -> None:
    assert not survey(text, engine).unread


def test_lines_of_the_client_do_not_swallow_what_follows() -> None:
    catalog = survey(
        "# made by hand\nCREATE TABLE t (a NUMBER);\n# drop table t\nCREATE TABLE u (a NUMBER);\n", "oracle"
    )
    assert list(catalog.objects) == ["table.t", "table.u"]


def test_only_the_schema_register_says_what_names_mean() -> None:
    catalog = survey(
        "SET CURRENT ISOLATION = UR;\nCREATE TABLE t (a INT);\nSET CURRENT SCHEMA pay;\nCREATE TABLE u (a INT);", "db2"
    )
    assert list(catalog.objects) == ["table.t", "pay.table.u"]


@pytest.mark.parametrize(
    ("engine", "text", "construct"),
    [
        ("mysql", "XA START 'x';", "survey.kept-nowhere"),
        ("sqlserver", "INSERT INTO t VALUES (1)\nGO 5\n", "survey.repeated-batch"),
        ("postgresql", "ALTER DEFAULT PRIVILEGES GRANT SELECT ON TABLES TO clerk;", "survey.kept-nowhere"),
    ],
)
def test_statements_that_no_object_holds_are_findings(engine: str, text: str, construct: str) -> None:
    assert construct in {sighting.construct for sighting in survey(text, engine).sightings}


def test_hints_of_other_engines_are_not_read_as_names() -> None:
    assert survey("INSERT IGNORE INTO t VALUES (1);", "oracle").unread
    assert not survey("INSERT IGNORE INTO t VALUES (1);", "mysql").unread


def test_a_sequence_that_breaks_off_leaves_the_next_statement_whole() -> None:
    text = "CREATE SEQUENCE s AS bigint MINVALUE 1 NO \nCREATE TABLE t (a int)\nGO\n"
    assert unaccounted(read_script(text, load_dialect("sqlserver"))) == []
