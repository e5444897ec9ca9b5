"""Values whose drafts for SQL Server and Oracle, which run nowhere here, are read instead: days, quotients, parts, truth."""

import pytest

from hullsound.catalog.catalog import Catalog
from hullsound.draft.probe import draft_text
from hullsound.knowledge.targets import parse_target
from hullsound.steps import survey_texts
from hullsound.survey.files import ScriptFile

TABLES = {
    "oracle": "CREATE TABLE t (a NUMBER(9), b NUMBER(9), n NUMBER, d DATE);",
    "teradata": "CREATE TABLE t (a INTEGER, b INTEGER, d DATE);",
    "postgresql": "CREATE TABLE t (a integer, b integer, big bigint, c varchar(9), d timestamp, i date);",
    "mysql": "CREATE TABLE t (a int, e decimal(10,2));",
    "sqlserver": "CREATE TABLE t (a int, b int, e decimal(10,2), d datetime);",
}


def value(engine: str, target: str, expression: str) -> str:
    catalog: Catalog = survey_texts([ScriptFile("t.sql", TABLES[engine], "")], engine)
    text = draft_text(f"SELECT {expression} AS r FROM t", catalog, parse_target(target))
    return text.partition("SELECT ")[2].partition(" AS r")[0]


@pytest.mark.parametrize(
    ("engine", "expression", "written"),
    [
        ("oracle", "d - a + 1 - b", "DATEADD(day, -b, DATEADD(day, 1, DATEADD(day, -a, d)))"),
        ("oracle", "d + 1 / 24", "DATEADD(second, CAST(ROUND((CAST(1 AS decimal(38, 12)) / 24) * 86400, 0) AS int), d)"),
        ("oracle", "TRUNC(d) - TRUNC(d, 'MM')",
         "DATEDIFF(day, CAST(DATEFROMPARTS(YEAR(d), MONTH(d), 1) AS datetime2(0)), CAST(CAST(d AS date) AS datetime2(0)))"),
        ("oracle", "LENGTH('ab') / 3", "CAST((LEN('ab' + 'x') - 1) AS decimal(38, 12)) / 3"),
        ("oracle", "EXTRACT(MONTH FROM d) / 2", "CAST(DATEPART(month, d) AS decimal(38, 12)) / 2"),
        ("oracle", "NVL(a, 0) / 2", "CAST(COALESCE(a, 0) AS decimal(38, 12)) / 2"),
        ("mysql", "e DIV 4", "CAST(e / 4 AS bigint)"),
        ("teradata", "d - EXTRACT(DAY FROM d) + 1", "DATEADD(day, 1, DATEADD(day, -DATEPART(day, d), d))"),
        ("teradata", "d + a * 2", "DATEADD(day, a * 2, d)"),
        ("postgresql", "EXTRACT(DAY FROM d) / 2", "CAST(DATEPART(day, d) AS float) / 2"),
        ("postgresql", "(EXTRACT(MONTH FROM d) + 2) / 3", "(CAST(DATEPART(month, d) AS float) + 2) / 3"),
        ("postgresql", "(SELECT sum(x.a * 3) FROM t x) / 2", "(SELECT SUM(CAST(x.a * 3 AS bigint)) FROM t x) / 2"),
        ("postgresql", "(SELECT sum(x.big) FROM t x) / 2", "(SELECT SUM(CAST(x.big AS decimal(38, 0))) FROM t x) / 2"),
        ("postgresql", "floor(a) / 2", "CAST(floor(a) AS float) / 2"),
        ("postgresql", "(a > b)::int", "CAST(((CASE WHEN a > b THEN 1 WHEN NOT (a > b) THEN 0 END)) AS int)"),
        ("postgresql", "right(c, -1)", "SUBSTRING(c, 2, 2147483647)"),
    ],
)  # fmt: skip
def test_values_on_sqlserver(engine: str, expression: str, written: str) -> None:
    assert value(engine, "sqlserver:2022", expression) == written


@pytest.mark.parametrize(
    ("engine", "expression", "written"),
    [
        ("postgresql", "(SELECT sum(x.a) FROM t x) / 2", "TRUNC((SELECT sum(x.a) FROM t x) / 2)"),
        ("postgresql", "(SELECT sum(x.big) FROM t x) / 2", "(SELECT sum(x.big) FROM t x) / 2"),
        ("postgresql", "EXTRACT(DAY FROM d) / 2", "EXTRACT(DAY FROM d) / 2"),
        ("postgresql", "d - TIMESTAMP '2024-02-28 10:00'", "d - TIMESTAMP '2024-02-28 10:00:00'"),
        ("postgresql", "(a > b)::int", "CAST(((CASE WHEN a > b THEN 1 WHEN NOT (a > b) THEN 0 END)) AS number(10))"),
        ("postgresql", "left(c, -1)", "SUBSTR(c, 1, LENGTH(c) - 1)"),
        ("sqlserver", "SUBSTRING('Quay', a, 2)", "SUBSTR('Quay', GREATEST(a, 1), LEAST(a, 1) + 1)"),
        ("sqlserver", "(SELECT AVG(a) FROM t) / 2", "TRUNC((SELECT TRUNC(AVG(a)) FROM t) / 2)"),
        ("sqlserver", "POWER(e, 2)", "ROUND(POWER(e, 2), 2)"),
        ("sqlserver", "POWER(a, b) / 3", "TRUNC(TRUNC(POWER(a, b)) / 3)"),
        ("sqlserver", "(a / b) / 2", "TRUNC((TRUNC(a / b)) / 2)"),
    ],
)
def test_values_on_oracle(engine: str, expression: str, written: str) -> None:
    assert value(engine, "oracle:19", expression).strip() == written
