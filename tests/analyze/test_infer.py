"""The family of each expression, by engine, with the catalogue at hand."""

import pytest

from hullsound import steps
from hullsound.analyze.infer import Types
from hullsound.analyze.subject import Subject
from hullsound.analyze.types import Family
from hullsound.catalog.references import Scope
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import Name, SelectItem
from hullsound.survey.files import ScriptFile

TABLES = {
    "oracle": "CREATE TABLE t (n NUMBER(9), q NUMBER(9, 2), s VARCHAR2(20), d DATE, m TIMESTAMP);\n",
    "sqlserver": "CREATE TABLE t (n int, q decimal(9, 2), s varchar(20), d date, m datetime2, f bit);\nGO\n",
    "mysql": "CREATE TABLE t (n int, q decimal(9, 2), s varchar(20), d date, m datetime, f boolean, j json);\n",
    "sqlite": "CREATE TABLE t (n integer, q real, s text);\n",
    "db2": "CREATE TABLE t (n INTEGER, q DECIMAL(9, 2), s VARCHAR(20), d DATE, m TIMESTAMP);\n",
}


def family(engine: str, expression: str, before: str = "") -> Family:
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLES[engine] + before, "")], engine)
    source = "v" if before else "t"
    read = next(read_script(f"SELECT {expression}\nFROM {source}", load_dialect(engine)).statements())
    return Types(Subject(read, Scope(read), engine), catalog, "").family(read.all(SelectItem)[-1].value)


@pytest.mark.parametrize(
    ("engine", "expression", "expected"),
    [
        ("oracle", "n", Family.INTEGER), ("oracle", "q", Family.NUMBER), ("oracle", "d", Family.TIMESTAMP),
        ("oracle", "SYSDATE", Family.TIMESTAMP), ("oracle", "TO_DATE(s, 'YYYY')", Family.TIMESTAMP),
        ("oracle", "d - d", Family.NUMBER), ("oracle", "d + 1", Family.TIMESTAMP), ("oracle", "s || n", Family.TEXT),
        ("oracle", "TRUNC(d)", Family.TIMESTAMP), ("oracle", "TRUNC(q)", Family.NUMBER), ("oracle", "ROUND(x)", Family.NUMBER),
        ("oracle", "NVL(s, 'none')", Family.TEXT), ("oracle", "DECODE(n, 1, 'a', 'b')", Family.TEXT),
        ("oracle", "n / 2", Family.NUMBER), ("oracle", "n * 2", Family.INTEGER), ("oracle", "ROWNUM", Family.INTEGER),
        ("oracle", "unknown", Family.UNKNOWN), ("oracle", "(SELECT MAX(d) FROM t)", Family.TIMESTAMP),
        ("sqlserver", "d", Family.DATE), ("sqlserver", "GETDATE()", Family.TIMESTAMP), ("sqlserver", "f", Family.BOOLEAN),
        ("sqlserver", "s + 'x'", Family.TEXT), ("sqlserver", "ISNULL(n, 0)", Family.INTEGER),
        ("sqlserver", "DATEADD(day, 1, s)", Family.TIMESTAMP), ("sqlserver", "CASE WHEN n = 1 THEN 2 ELSE 2.5 END", Family.NUMBER),
        ("sqlserver", "IIF(n = 1, s, 'x')", Family.TEXT), ("sqlserver", "m - m", Family.TIMESTAMP),
        ("mysql", "n = 1", Family.BOOLEAN), ("mysql", "IFNULL(n, s)", Family.TEXT), ("mysql", "IFNULL(n, '5')", Family.NUMBER),
        ("mysql", "DATE_ADD(d, INTERVAL 1 HOUR)", Family.TIMESTAMP), ("mysql", "DATE_ADD(d, INTERVAL 1 DAY)", Family.DATE),
        ("mysql", "j", Family.JSON), ("mysql", "CAST(s AS UNSIGNED)", Family.INTEGER), ("mysql", "MOD(n, q)", Family.NUMBER),
        ("sqlite", "date('now')", Family.TEXT), ("sqlite", "julianday('now')", Family.NUMBER), ("sqlite", "max(n)", Family.INTEGER),
        ("db2", "DAYS(d)", Family.INTEGER), ("db2", "CURRENT_DATE", Family.DATE), ("db2", "VALUE(s, 'x')", Family.UNKNOWN),
    ],
)  # fmt: skip
def test_family(engine: str, expression: str, expected: Family) -> None:
    assert family(engine, expression) is expected


def test_columns_of_views_have_the_families_of_their_values() -> None:
    view = "CREATE VIEW v AS SELECT n + 1 AS more, s || '!' AS loud, d AS d FROM t;\n"
    assert family("oracle", "v.d", view) is Family.TIMESTAMP


def test_a_query_that_reads_itself_has_no_family() -> None:
    text = "(WITH w (a) AS (SELECT a FROM w) SELECT a FROM w)"
    assert family("db2", text) is Family.UNKNOWN


def test_only_unknown_is_false() -> None:
    assert [each for each in Family if not each] == [Family.UNKNOWN]


def test_a_name_has_the_type_that_is_declared_nearest_around_it() -> None:
    text = (
        "CREATE PACKAGE BODY p IS FUNCTION a(v NUMBER) RETURN NUMBER IS BEGIN RETURN v; END; "
        "FUNCTION b RETURN DATE IS v DATE; BEGIN DECLARE v VARCHAR2(9); BEGIN v := 'x'; END; RETURN v; END; "
        "PROCEDURE c IS BEGIN FOR v IN (SELECT 1 AS n FROM dual) LOOP x := v; END LOOP; END; END;"
    )
    read = next(read_script(text, load_dialect("oracle")).statements())
    scope = Scope(read)
    uses = [name for name in read.all(Name) if name.parts == ("V",)]
    kinds = [scope.type_at("V", name) for name in uses]
    assert [kind.name if kind is not None else "" for kind in kinds] == ["NUMBER", "VARCHAR2", "DATE", ""]
