"""Rows, columns, keys, rights and schemas drafted for Oracle, SQL Server and MySQL, of which no server runs here."""

from typing import Final

import pytest

from hullsound import steps
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

TABLES: Final = {
    "postgresql": """CREATE TABLE t (id int PRIMARY KEY, s varchar(40), d date, tz timestamptz, b boolean, u uuid, y bytea,
        i interval)""".replace("\n", " "),
    "mysql": "CREATE TABLE t (id int PRIMARY KEY, s varchar(40), d date, ts datetime, y blob)",
    "sqlserver": """CREATE TABLE dbo.t (id int PRIMARY KEY, s varchar(40), d date, ts datetime, y varbinary(16), u uniqueidentifier,
        b bit, m money, f decimal(9, 2))""".replace("\n", " "),
    "oracle": "CREATE TABLE t (id NUMBER(9) PRIMARY KEY, s VARCHAR2(40), d DATE)",
}
ENDS: Final = {"oracle": "\n/\n", "sqlserver": "\nGO\n"}


def judged(source: str, target: str, statement: str) -> Case:
    end = ENDS.get(source, ";\n")
    script = f"{TABLES[source]}{end}{statement}{end}"
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], source), target)


def texts_of(source: str, target: str, statement: str) -> str:
    """Return what is promised of a statement; '' if any of its drafts is not."""
    drafts = [draft for draft in judged(source, target, statement).drafts.drafts if draft.object.line > 1]
    is_whole = all(draft.is_promised and draft.is_finished for draft in drafts)
    return " ".join(" ".join(draft.text for draft in drafts).split()) if is_whole else ""


@pytest.mark.parametrize(
    ("source", "target", "values", "written"),
    [
        ("postgresql", "oracle:19", "(id, y) VALUES (1, '\\x4d4e')", "VALUES (1, HEXTORAW('4D4E'))"),
        ("postgresql", "sqlserver:2022", "(id, y) VALUES (1, '\\x4d4e')", "VALUES (1, 0x4D4E)"),
        ("postgresql", "mysql:8.4", "(id, y) VALUES (1, 'MN')", "VALUES (1, 0x4D4E)"),
        ("postgresql", "oracle:19", "(id, u) VALUES (1, 'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11')",
         "HEXTORAW('A0EEBC999C0B4EF8BB6D6BB9BD380A11')"),
        ("postgresql", "oracle:19", "(id, d, b) VALUES (1, '2024-01-31', true)", "VALUES (1, DATE '2024-01-31', 1)"),
        ("postgresql", "sqlserver:2022", "(id, tz) VALUES (1, '2024-01-31 10:00:00+02')", "'2024-01-31 10:00:00 +02:00'"),
        ("mysql", "oracle:19", "(id, y) VALUES (1, 0x4D), (2, X'4E')",
         "VALUES (1, HEXTORAW('4D')); INSERT INTO t (id, y) VALUES (2, HEXTORAW('4E'));"),
        ("mysql", "sqlserver:2022", "(id, y) VALUES (1, _binary 'MN')", "VALUES (1, 0x4D4E)"),
        ("mysql", "postgresql:18", "(id, y) VALUES (1, _binary 'MN')", "VALUES (1, '\\x4d4e'::bytea)"),
        ("sqlserver", "oracle:19", "(id, d, y) VALUES (1, '20240131', 0x4D)", "(1, DATE '2024-01-31', HEXTORAW('4D'))"),
        ("sqlserver", "postgresql:18", "(id) VALUES (2.7), (2.5 * 3)", "VALUES (trunc(2.7)), (trunc(2.5 * 3))"),
        ("sqlserver", "mysql:8.4", "(id) VALUES (2.7)", "VALUES (TRUNCATE(2.7, 0))"),
        ("sqlserver", "oracle:19", "(id, b) VALUES (1, 'true'), (2, 5)", "VALUES (1, 1); INSERT INTO dbo.t (id, b) VALUES (2, 1)"),
        ("sqlserver", "oracle:19", "(id, s) VALUES (1, 12.50)", "VALUES (1, '12.50')"),
        ("sqlserver", "oracle:19", "(id, d) VALUES (1, GETDATE())", "VALUES (1, TRUNC(LOCALTIMESTAMP))"),
        ("postgresql", "oracle:19", "(id, d) VALUES (1, '2024-01-31 10:00')", "DATE '2024-01-31'"),
        ("postgresql", "sqlserver:2019", "(id) VALUES (2.5)", "VALUES (ROUND(2.5, 0))"),
    ],
)  # fmt: skip
def test_constants_in_rows(source: str, target: str, values: str, written: str) -> None:
    table = "dbo.t" if source == "sqlserver" else "t"
    assert written in texts_of(source, target, f"INSERT INTO {table} {values}")


@pytest.mark.parametrize(
    ("source", "target", "values"),
    [
        ("postgresql", "oracle:19", "(id, y) VALUES (1, 'é')"),
        ("postgresql", "oracle:19", "(id, i) VALUES (1, '1 day')"),
        ("sqlserver", "oracle:19", "(id, m) VALUES (1, '$5.00')"),
        ("sqlserver", "oracle:19", "(id, y) VALUES (1, CAST('ab' AS varbinary(4)))"),
        ("sqlserver", "oracle:19", "(id, s) SELECT id, f FROM dbo.t"),
        ("mysql", "oracle:19", "(id, s) VALUES (1, CURRENT_DATE)"),
        ("postgresql", "mysql:8.4", "(id, tz) VALUES (1, '2024-01-31 10:00:00+02')"),
        ("postgresql", "oracle:19", "(id, d) VALUES (1, 'tomorrow')"),
        ("mysql", "sqlserver:2022", "(id, s) VALUES (1, 0x4D)"),
        ("mysql", "postgresql:18", "(id, y) VALUES (1, _binary 'a\\0b')"),
        ("oracle", "mysql:8.4", "(id, d) VALUES (1, '31-JAN-24')"),
    ],
)
def test_constants_that_wait_for_a_person(source: str, target: str, values: str) -> None:
    assert not texts_of(source, target, f"INSERT INTO t {values}")


@pytest.mark.parametrize(
    ("source", "target", "statement", "written"),
    [
        ("postgresql", "oracle:19", "CREATE TABLE n (id int, d date DEFAULT '2024-01-31', b boolean NOT NULL DEFAULT true)",
         "d date DEFAULT DATE '2024-01-31', b number(1) DEFAULT 1 NOT NULL"),
        ("mysql", "sqlserver:2022", "CREATE TABLE n (id int, at timestamp DEFAULT CURRENT_TIMESTAMP)",
         "at datetimeoffset(0) DEFAULT SYSDATETIMEOFFSET()"),
        ("sqlserver", "oracle:19", "CREATE TABLE dbo.n (id int, twice AS (id * 2))", "twice GENERATED ALWAYS AS (id * 2) VIRTUAL"),
        ("postgresql", "sqlserver:2022", "CREATE SCHEMA ops", "IF SCHEMA_ID(N'ops') IS NULL EXEC(N'CREATE SCHEMA ops');"),
        ("mysql", "postgresql:18", "GRANT SELECT ON t TO 'bob'@'%', anna@localhost", "GRANT SELECT ON t TO bob, anna;"),
        ("mysql", "oracle:19", "CREATE INDEX i ON t (s)", "CREATE INDEX t_i ON t (s);"),
        ("mysql", "sqlserver:2022", "CREATE INDEX i ON t (s)", "CREATE INDEX i ON t (s);"),
    ],
)  # fmt: skip
def test_definitions(source: str, target: str, statement: str, written: str) -> None:
    assert written in texts_of(source, target, statement)


@pytest.mark.parametrize("target", ["oracle:19", "mysql:8.4"])
def test_a_query_sorts_by_what_it_gives_once(target: str) -> None:
    assert not texts_of("postgresql", target, "CREATE VIEW v AS SELECT DISTINCT s FROM t ORDER BY d")
    assert "t.s" in texts_of("postgresql", target, "CREATE VIEW v AS SELECT DISTINCT s FROM t ORDER BY t.s, 1")


def test_a_null_in_part_of_a_unique_key_is_told_for_oracle() -> None:
    found = judged("postgresql", "oracle:19", "CREATE TABLE n (a int NOT NULL, b int, UNIQUE (a, b))").document.findings
    assert [f.construct for f in found if f.construct.startswith("limit.")] == ["limit.null-in-part"]
    alone = judged("postgresql", "oracle:19", "CREATE TABLE n (b int UNIQUE)").document.findings
    assert not [f for f in alone if f.construct.startswith("limit.")]


@pytest.mark.parametrize(
    ("target", "written"),
    [("oracle:19", "SELECT 1 AS n FROM DUAL"), ("sqlserver:2019", "SELECT 1 AS n ;"), ("mysql:8.4", "FROM DUAL")],
)
def test_the_table_of_one_row(target: str, written: str) -> None:
    script = "CREATE VIEW v AS SELECT 1 AS n FROM SYSIBM.SYSDUMMY1;"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "db2"), target)
    (draft,) = case.drafts.drafts
    assert draft.is_promised and written in draft.text


@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.8", "sqlserver:2022", "oracle:19"])
def test_a_table_that_is_made_like_another_is_not_made_without_columns(target: str) -> None:
    script = "CREATE MULTISET TABLE t (id INTEGER NOT NULL) PRIMARY INDEX (id);\nCREATE TABLE copy AS t WITH NO DATA;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "teradata"), target)
    assert next(each for each in case.document.objects if each.id == "table.copy").outcome == "rewrite"


@pytest.mark.parametrize(("stated", "written"), [("", "NOT NULL"), (" NULL", ""), (" NOT NULL", "NOT NULL")])
@pytest.mark.parametrize("target", ["mysql:8.4", "oracle:19", "postgresql:18"])
def test_columns_of_an_alias_type_take_null_as_it_says(target: str, stated: str, written: str) -> None:
    script = f"CREATE TYPE dbo.code FROM varchar(10) NOT NULL\nGO\nCREATE TABLE dbo.copy (k dbo.code{stated})\nGO\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlserver"), target)
    table = next(each for each in case.drafts.drafts if each.object.type == "table")
    assert table.is_promised and ("NOT NULL" in table.text) == bool(written)
