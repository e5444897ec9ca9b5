"""Drafts for engines that do not run here: what their grammar does not hold, or they do not have, is not promised."""

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile


def judged(source: str, target: str, script: str) -> Case:
    end = "\nGO\n" if source == "sqlserver" else "\n/\n" if source == "oracle" else ";\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", script + end, "")], source, is_whole=False)
    return steps.assess_catalog(catalog, target)


def drafted(source: str, target: str, script: str) -> Draft:
    drafts = judged(source, target, script).drafts.drafts
    return next(draft for draft in drafts if draft.object.type in ("view", "function"))


@pytest.mark.parametrize(
    ("source", "target", "script", "reason"),
    [
        ("oracle", "sqlserver:2022", "CREATE VIEW v AS SELECT d + INTERVAL '8' HOUR AS x FROM t", "HOUR AS x"),
        ("mysql", "oracle:19", "CREATE VIEW v AS SELECT x'4D' AS x FROM t", "'4D' AS x"),
        ("mysql", "oracle:19", "CREATE VIEW v AS SELECT JSON_SET(doc, '$.a', 1) AS x FROM t", "json_set"),
        ("oracle", "sqlserver:2022", "CREATE VIEW v AS SELECT CAST(s AS NUMBER) AS x FROM t", "float"),
        (
            "oracle",
            "sqlserver:2022",
            "CREATE VIEW v AS SELECT TIMESTAMP '2024-02-03 04:05:06 Europe/Oslo' AS x FROM t",
            "zone",
        ),
    ],
)
def test_what_the_target_cannot_read_or_lacks_is_taken_back(source: str, target: str, script: str, reason: str) -> None:
    case = judged(source, target, script)
    assert not case.drafts.drafts[-1].is_finished
    told = [finding.message for finding in case.document.findings if finding.construct == "draft.skipped"]
    assert len(told) == 1 and reason in told[0]


def test_dates_as_constants_are_cast_for_sql_server() -> None:
    draft = drafted(
        "oracle",
        "sqlserver:2022",
        "CREATE VIEW v AS SELECT id FROM t WHERE d >= DATE '2024-02-03' AND s < TIMESTAMP '2024-02-03 04:05:06 +02:00'",
    )
    assert "CAST('2024-02-03' AS date)" in draft.text
    assert "CAST('2024-02-03 04:05:06 +02:00' AS datetimeoffset)" in draft.text


def test_queries_in_conditions_and_values_of_pl_sql_become_queries_of_their_own() -> None:
    script = """CREATE TABLE dbo.route (id int PRIMARY KEY)
GO
CREATE FUNCTION dbo.fn_n (@id int) RETURNS int AS
BEGIN
  DECLARE @n int
  SET @n = (SELECT COUNT(*) FROM dbo.route)
  IF EXISTS (SELECT * FROM dbo.route WHERE id = @id) SET @n = @n % 3
  RETURN @n
END"""
    text = " ".join(drafted("sqlserver", "oracle:19", script).text.split())
    assert "SELECT (SELECT COUNT(*) FROM dbo.route) INTO v_n FROM dual;" in text
    assert "THEN 1 ELSE 0 END INTO hs_test FROM dual; IF hs_test = 1 THEN v_n := MOD(v_n, 3);" in text


def test_json_of_mysql_is_built_by_oracle() -> None:
    draft = drafted(
        "mysql",
        "oracle:19",
        "CREATE VIEW v AS SELECT JSON_OBJECT('id', id, 'name', name) AS j, JSON_ARRAY(1, id) AS a FROM t",
    )
    assert "JSON_OBJECT('id' VALUE id, 'name' VALUE name)" in draft.text
    assert "JSON_ARRAY(1, id NULL ON NULL)" in draft.text


_TABLE = "CREATE TABLE t (id int PRIMARY KEY, f {number}(12,2), s varchar(40), d date, ts {moment}, b boolean)"


@pytest.mark.parametrize(
    ("source", "target", "expression"),
    [
        ("mysql", "sqlserver:2022", "LENGTH(s)"),
        ("mysql", "sqlserver:2019", "TRIM(LEADING '0' FROM s)"),
    ],
)
def test_what_keeps_its_words_and_is_refused_or_gives_another_value(source: str, target: str, expression: str) -> None:
    table = _TABLE.format(number="numeric" if source == "postgresql" else "decimal", moment="timestamp NULL")
    end = ";\n"
    script = f"{table}{end}CREATE VIEW v AS SELECT {expression} AS x FROM t{end}"
    catalog = steps.survey_texts([ScriptFile("a.sql", script, "")], source)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    assert not next(draft for draft in drafts if draft.object.type == "view").is_finished


@pytest.mark.parametrize(
    ("source", "target", "expression", "written"),
    [
        ("postgresql", "sqlserver:2022", "log(id)", "LOG10(id)"),
        ("postgresql", "oracle:19", "log(id)", "LOG(10, id)"),
        ("postgresql", "mariadb:11.8", "log(id)", "LOG10(id)"),
        ("postgresql", "oracle:19", "current_date", "TRUNC(CURRENT_DATE)"),
        ("postgresql", "sqlserver:2022", "power(id, 2)", "POWER(CAST(id AS float), 2)"),
        ("mysql", "sqlserver:2022", "TRIM(LEADING '0' FROM s)", "TRIM(LEADING '0' FROM s)"),
    ],
)
def test_what_the_target_calls_otherwise(source: str, target: str, expression: str, written: str) -> None:
    assert written in drafted(source, target, f"CREATE VIEW v AS SELECT {expression} AS x FROM t").text


@pytest.mark.parametrize(
    ("source", "target", "expression", "written"),
    [
        ("mysql", "sqlserver:2022", "s IS NULL", "CASE WHEN s IS NULL THEN 1 ELSE 0 END"),
        ("mysql", "oracle:19", "f > 2", "CASE WHEN f > 2 THEN 1 WHEN NOT (f > 2) THEN 0 END"),
        ("postgresql", "oracle:19", "CASE WHEN b AND id > 1 THEN 1 ELSE 0 END", "CASE WHEN (b <> 0) AND id > 1 THEN 1"),
        ("mysql", "sqlserver:2022", "TRUE", "SELECT 1 AS x"),
        ("mysql", "oracle:19", "CASE WHEN TRUE THEN 1 END", "CASE WHEN (1 = 1) THEN 1 END"),
        ("mysql", "sqlserver:2022", "GREATEST(id, f)", "(CASE WHEN f IS NOT NULL THEN GREATEST(id, f) END)"),
        ("mysql", "sqlserver:2019", "LEAST(id, 7)", "CASE WHEN id <= 7 THEN id ELSE 7 END"),
        ("mysql", "sqlserver:2022", "CAST(f AS SIGNED)", "CAST(ROUND(f, 0) AS bigint)"),
        ("mysql", "oracle:19", "CAST(id AS CHAR)", "TO_CHAR(id)"),
        ("mysql", "sqlserver:2022", "DATE_SUB(ts, INTERVAL 2 HOUR)", "DATEADD(hour, -(2), ts)"),
        ("mysql", "oracle:19", "DATE_ADD(d, INTERVAL 1 MONTH)", "LEAST(EXTRACT(DAY FROM d), EXTRACT(DAY FROM LAST_DAY("),
        ("mysql", "sqlserver:2022", "TIMESTAMPDIFF(MINUTE, ts, ts)", "(DATEDIFF_BIG(second, ts, ts) / 60)"),
        ("mysql", "oracle:19", "TIMESTAMPDIFF(DAY, d, ts)", "TRUNC(ROUND((CAST(ts AS DATE) - CAST(d AS DATE)) * 86400) / 86400)"),
        ("mysql", "oracle:19", "UNIX_TIMESTAMP()", "TRUNC(SYS_EXTRACT_UTC(SYSTIMESTAMP), 'MI') - DATE '1970-01-01'"),
        ("postgresql", "sqlserver:2022", "extract(dow from d)", "((DATEPART(weekday, d) + @@DATEFIRST - 1) % 7)"),
        ("postgresql", "sqlserver:2022", "extract(epoch from now())", "DATEDIFF_BIG(microsecond, '1970-01-01', SYSDATE"),
        ("mysql", "oracle:19", "CASE WHEN s = '' THEN 1 END", "CASE WHEN s IS NULL THEN 1 END"),
    ],
)  # fmt: skip
def test_what_only_numbers_and_conditions_of_the_source_are(
    source: str, target: str, expression: str, written: str
) -> None:
    table = _TABLE.format(number="numeric" if source == "postgresql" else "decimal", moment="timestamp NULL")
    draft = drafted(source, target, f"{table};\nCREATE VIEW v AS SELECT {expression} AS x FROM t")
    assert draft.is_finished and written in draft.text


@pytest.mark.parametrize(
    ("source", "target", "expression", "written"),
    [
        ("oracle", "sqlserver:2022", "DECODE(id, 1, 'a', s, 'b')", "WHEN (id = s OR (id IS NULL AND s IS NULL))"),
        ("oracle", "sqlserver:2022", "TRUNC(d, 'MM')", "CAST(DATEFROMPARTS(YEAR(d), MONTH(d), 1) AS datetime2(0))"),
        ("oracle", "sqlserver:2022", "TO_CHAR(d, 'DD.MM.YYYY HH24:MI')", "FORMAT(d, 'dd.MM.yyyy HH\\:mm', 'en-US')"),
        ("oracle", "sqlserver:2022", "TO_DATE(s, 'YYYY-MM-DD')", "CONVERT(datetime2(0), s, 23)"),
        ("oracle", "sqlserver:2022", "ADD_MONTHS(d, 1)", "CASE WHEN CAST(d AS date) = EOMONTH(d)"),
        ("sqlserver", "oracle:19", "CONVERT(varchar(10), d, 112)", "TO_CHAR(d, 'YYYYMMDD'), 1, 10)"),
        ("sqlserver", "oracle:19", "DATEDIFF(month, '20240101', d)", "EXTRACT(YEAR FROM DATE '2024-01-01')"),
        ("sqlserver", "oracle:19", "id ^ 4", "(id + 4 - 2 * BITAND(id, 4))"),
        ("sqlserver", "oracle:19", "id / 4", "TRUNC(id / 4)"),
        ("db2", "sqlserver:2022", "DECIMAL(f, 5, 1)", "CAST(ROUND(f, 1, 1) AS decimal(5,1))"),
        ("db2", "oracle:19", "INTEGER(f)", "TRUNC(f)"),
        ("db2", "mysql:8.4", "CURRENT DATE", "CURRENT_DATE"),
        ("sqlite", "sqlserver:2022", "strftime('%d.%m.%Y', d)", "FORMAT(d, 'dd.MM.yyyy', 'en-US')"),
        ("sqlite", "mysql:8.4", "date('now', 'start of month', '+1 month', '-1 day')", "(DAY, -1, TIMESTAMPADD(MONTH, 1,"),
    ],
)  # fmt: skip
def test_functions_that_the_target_lacks(source: str, target: str, expression: str, written: str) -> None:
    number, end = ("NUMBER(9)", "/\n") if source == "oracle" else ("int", "GO\n" if source == "sqlserver" else ";\n")
    table = f"CREATE TABLE t (id {number} NOT NULL, f decimal(12,2), s varchar(40), d date)\n{end}"
    draft = drafted(source, target, f"{table}CREATE VIEW v AS SELECT {expression} AS x FROM t")
    assert draft.is_finished and written in draft.text


def test_casts_to_whole_numbers_cut_or_round_as_the_source_does() -> None:
    table = "CREATE TABLE t (f decimal(9,2))"
    for source, target, written in (
        ("postgresql", "sqlserver:2022", "CAST(ROUND(f, 0) AS int)"),
        ("sqlserver", "oracle:19", "CAST(TRUNC(f) AS number(10))"),
    ):
        end = "\nGO\n" if source == "sqlserver" else ";\n"
        assert (
            written in drafted(source, target, f"{table}{end}CREATE VIEW v AS SELECT CAST(f AS int) AS x FROM t").text
        )


def test_the_last_day_of_oracle_keeps_its_time() -> None:
    for target, written in (
        ("sqlserver:2022", "DATEADD(day, DATEDIFF(day, d, EOMONTH(d)), d)"),
        ("mariadb:11.8", "TIMESTAMP(LAST_DAY(d), TIME(d))"),
    ):
        assert written in drafted("oracle", target, "CREATE VIEW v AS SELECT LAST_DAY(d) AS x FROM t").text


@pytest.mark.parametrize(("name", "outcome"), [("s", "confirm"), ("u", "as-is")])
def test_joined_texts_that_may_be_null_are_to_be_confirmed_for_oracle(name: str, outcome: str) -> None:
    script = f"CREATE TABLE t (s varchar(9), u varchar(9) NOT NULL);CREATE VIEW v AS SELECT u || {name} AS x FROM t"
    assert drafted("postgresql", "oracle:19", script).outcome == outcome


_TWO_TABLES = "CREATE TABLE t (a int PRIMARY KEY, b varchar(9));\nCREATE TABLE u (a int PRIMARY KEY, b varchar(9));\n"


def promised(source: str, target: str, query: str) -> str:
    """Return the draft of a view over the two tables on one line; empty text where it is not promised."""
    tables = (
        _TWO_TABLES.replace("varchar", "varchar2").replace("int", "number(9)") if source == "oracle" else _TWO_TABLES
    )
    draft = drafted(source, target, f"{tables}CREATE VIEW v AS {query}")
    return " ".join(draft.text.split()).partition(" AS ")[2].rstrip(";") if draft.is_promised else ""


@pytest.mark.parametrize(
    ("targets", "query"),
    [
        ("oracle:19", "SELECT *, 1 AS c FROM t NATURAL JOIN u"),
        ("oracle:19", "SELECT x.p FROM (SELECT a, b FROM t) AS x (p, q)"),
        ("oracle:19", "SELECT u.a FROM t JOIN u USING (a)"),
        ("oracle:19", "SELECT t.a FROM t NATURAL JOIN u"),
        ("sqlserver:2022", "SELECT x.a FROM (WITH w AS (SELECT a FROM t) SELECT a FROM w) AS x"),
        ("oracle:19 sqlserver:2022", "SELECT a FROM t WHERE a BETWEEN SYMMETRIC 5 AND 1"),
        ("oracle:19 sqlserver:2022", "SELECT a FROM t INTERSECT ALL SELECT a FROM u"),
        ("oracle:19 sqlserver:2022", "TABLE t"),
        ("oracle:19 sqlserver:2022", "SELECT a FROM ONLY t"),
        ("oracle:19 sqlserver:2022", "SELECT count(DISTINCT (a, b)) AS n FROM t"),
        ("oracle:19 sqlserver:2022", "SELECT a + 1 AS k, count(*) AS n FROM t, (SELECT 2) AS w GROUP BY k"),
        ("oracle:19 sqlserver:2022", "(SELECT a FROM t) UNION ALL (SELECT a FROM u ORDER BY a LIMIT 1)"),
        ("sqlserver:2022", "SELECT a FROM t UNION SELECT a FROM u LIMIT 3"),
        ("sqlserver:2022", "SELECT DISTINCT b FROM t LIMIT 3 OFFSET 1"),
    ],
)
def test_forms_of_queries_that_the_target_refuses_are_taken_back(targets: str, query: str) -> None:
    assert [promised("postgresql", target, query) for target in targets.split()] == ["" for _ in targets.split()]


@pytest.mark.parametrize(
    ("targets", "query"),
    [
        ("mysql:8.0 mariadb:10.11", "SELECT a FROM t WHERE a BETWEEN SYMMETRIC 5 AND 1"),
        ("mysql:8.0 mariadb:10.11", "SELECT count(DISTINCT (a, b)) AS n FROM t"),
        ("mariadb:10.11", "SELECT x.p FROM (SELECT a, b FROM t) AS x (p, q)"),
        ("mariadb:10.11", "SELECT x.k FROM t, LATERAL (SELECT t.a + 1 AS k) AS x"),
        ("mariadb:10.11", "TABLE t"),
    ],
)
def test_forms_of_queries_that_mysql_and_mariadb_refuse_are_taken_back(targets: str, query: str) -> None:
    assert [promised("postgresql", target, query) for target in targets.split()] == ["" for _ in targets.split()]


@pytest.mark.parametrize(
    ("targets", "query"),
    [
        ("sqlserver:2022 mysql:8.0 mariadb:10.11", "SELECT a FROM t FETCH FIRST 3 ROWS WITH TIES"),
    ],
)
def test_forms_of_oracle_that_the_target_refuses_are_taken_back(targets: str, query: str) -> None:
    assert [promised("oracle", target, query) for target in targets.split()] == ["" for _ in targets.split()]


@pytest.mark.parametrize("target", ["sqlserver:2022", "mysql:8.0", "postgresql:18"])
def test_older_signs_for_unequal_are_written_alone(target: str) -> None:
    assert "WHERE a<>3" in promised("oracle", target, "SELECT b FROM t WHERE a^=3")


@pytest.mark.parametrize("target", ["oracle:19", "sqlserver:2022"])
def test_tables_of_mysql_in_brackets_are_joined(target: str) -> None:
    assert "FROM (t CROSS JOIN u)" in promised("mysql", target, "SELECT a FROM (t, u)")


@pytest.mark.parametrize(
    ("target", "query", "drafted_query"),
    [
        ("oracle:19", "SELECT x.a, s.n FROM t AS x, (SELECT a AS n FROM u) AS s",
         "SELECT x.a, s.n FROM t x, (SELECT a AS n FROM u) s"),
        ("oracle:19", "SELECT a FROM t EXCEPT SELECT a FROM u", "SELECT a FROM t MINUS SELECT a FROM u"),
        ("oracle:21", "SELECT a FROM t EXCEPT SELECT a FROM u", "SELECT a FROM t EXCEPT SELECT a FROM u"),
        ("sqlserver:2022", "SELECT a FROM t LIMIT 3 OFFSET 2",
         "SELECT a FROM t ORDER BY (SELECT NULL) OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY"),
        ("sqlserver:2022", "SELECT a FROM t UNION SELECT a FROM u ORDER BY a LIMIT 3",
         "SELECT a FROM t UNION SELECT a FROM u ORDER BY a OFFSET 0 ROWS FETCH NEXT 3 ROWS ONLY"),
        ("sqlserver:2022", "SELECT a AS k FROM t GROUP BY a HAVING count(*) > 1",
         "SELECT a AS k FROM t GROUP BY a HAVING count(*) > 1"),
    ],
)  # fmt: skip
def test_forms_of_queries_are_written_as_the_target_reads_them(target: str, query: str, drafted_query: str) -> None:
    assert promised("postgresql", target, query) == drafted_query


@pytest.mark.parametrize("target", ["oracle:19", "sqlserver:2022", "postgresql:18"])
def test_words_of_mysql_behind_select_go(target: str) -> None:
    query = "SELECT SQL_NO_CACHE DISTINCTROW a FROM t"
    assert promised("mysql", target, query).split() == ["SELECT", "DISTINCT", "a", "FROM", "t"]


def test_a_limit_with_a_comma_is_written_once() -> None:
    assert promised("mysql", "oracle:19", "SELECT a FROM t LIMIT 2, 3").endswith(
        "FROM t OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY"
    )


@pytest.mark.parametrize(
    ("source", "target", "change", "expected"),
    [
        ("postgresql", "oracle:19", "UPDATE t AS x SET b = 'q' WHERE x.a = 3", "UPDATE t x SET b = 'q' WHERE x.a = 3"),
        ("postgresql", "oracle:19", "DELETE FROM t AS x WHERE x.a = 3", "DELETE FROM t x WHERE x.a = 3"),
        ("postgresql", "sqlserver:2022", "UPDATE t AS x SET b = 'q' WHERE x.a = 3",
         "UPDATE x SET x.b = 'q' FROM t AS x WHERE x.a = 3"),
        ("mysql", "sqlserver:2022", "DELETE FROM t AS x WHERE x.a = 3", "DELETE x FROM t AS x WHERE x.a = 3"),
        ("sqlite", "mariadb:10.11", "DELETE FROM t AS x WHERE x.a = 3", "DELETE x FROM t AS x WHERE x.a = 3"),
        ("mysql", "oracle:19", "DELETE x FROM t AS x JOIN u ON x.a = u.a",
         "DELETE FROM t x WHERE EXISTS (SELECT 1 FROM u WHERE (x.a = u.a))"),
        ("mysql", "sqlserver:2022", "DELETE t FROM t JOIN u ON t.a = u.a", "DELETE t FROM t JOIN u ON t.a = u.a"),
        ("mysql", "oracle:19", "UPDATE LOW_PRIORITY t SET b = 'x'", "UPDATE t SET b = 'x'"),
        ("mysql", "sqlserver:2022", "INSERT DELAYED INTO t SELECT a, b FROM u", "INSERT INTO t SELECT a, b FROM u"),
        ("mysql", "oracle:19", "UPDATE t SET a = a + 1, b = a", ""),
        ("mysql", "oracle:19", "DELETE FROM t, u USING t JOIN u ON t.a = u.a", ""),
        ("mysql", "sqlserver:2022", "UPDATE t, u SET t.b = u.b WHERE t.a = u.a", ""),
        ("postgresql", "oracle:19", "UPDATE t SET (a, b) = (1, 'x')", "UPDATE t SET a = 1, b = 'x'"),
        ("postgresql", "sqlserver:2022", "UPDATE t SET (a, b) = (SELECT a, b FROM u)",
         "UPDATE t SET a = (SELECT a FROM u), b = (SELECT b FROM u)"),
        ("postgresql", "mysql:8.0", "UPDATE t SET (a, b) = (1, 'x')", "UPDATE t SET a = 1, b = 'x'"),
        ("postgresql", "mysql:8.0", "UPDATE t SET (a, b) = (SELECT u.a, t.b FROM u WHERE u.a = t.a)", ""),
        ("postgresql", "mysql:8.0", "UPDATE t SET a = 2, b = concat('q', abs(a + 1))", ""),
        ("oracle", "mysql:8.0", "DELETE FROM t WHERE ROWNUM = 2", ""),
        ("sqlserver", "oracle:19", "UPDATE t SET a += 2.5", ""),
        ("sqlserver", "oracle:19", "UPDATE t SET a += 2", "UPDATE t SET a = a + ( 2)"),
        ("sqlserver", "oracle:19", "UPDATE x SET a = u.a FROM t x LEFT JOIN u ON u.a = x.a WHERE x.a > 1",
         "MERGE INTO t x USING (SELECT x.ROWID AS hs_row, u.a AS hs_value1 FROM t x LEFT JOIN u ON u.a = x.a WHERE x.a > 1) "
         "hs_read ON (x.ROWID = hs_read.hs_row) WHEN MATCHED THEN UPDATE SET x.a = hs_read.hs_value1"),
        ("postgresql", "mariadb:10.11", "WITH x AS (SELECT a FROM u) DELETE FROM t WHERE a IN (SELECT a FROM x)", ""),
        ("oracle", "mysql:8.0", "UPDATE t x SET x.b = 'q' WHERE x.a = 3", "UPDATE t x SET x.b = 'q' WHERE x.a = 3"),
    ],
)  # fmt: skip
def test_changes_are_written_as_the_target_reads_them_or_not_promised(
    source: str, target: str, change: str, expected: str
) -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", f"{_TWO_TABLES}{change};\n", "")], source, is_whole=False)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    draft = next(draft for draft in drafts if draft.object.type == "change")
    assert (" ".join(draft.text.split()).rstrip(";") if draft.is_promised else "") == expected


def test_sequences_that_begin_anew_need_their_bounds_written() -> None:
    text = "CREATE SEQUENCE s1 CYCLE;\nCREATE SEQUENCE s2 MINVALUE 3 MAXVALUE 9 CYCLE;\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "postgresql")
    for target in ("oracle:19", "sqlserver:2022"):
        outcomes = {each.name: each.outcome for each in steps.assess_catalog(catalog, target).document.objects}
        assert (outcomes["s1"], outcomes["s2"]) == ("rewrite", "drafted")


def test_set_null_is_not_promised_for_a_column_that_takes_none() -> None:
    text = "CREATE TABLE p (a int PRIMARY KEY);\nCREATE TABLE c (a int REFERENCES p (a) ON DELETE SET NULL, b int NOT NULL{});\n"
    for rest, expected in (("", "as-is"), (", PRIMARY KEY (a)", "rewrite")):
        catalog = steps.survey_texts([ScriptFile("a.sql", text.format(rest), "")], "postgresql")
        for target in ("mysql:8.0", "mariadb:10.11", "sqlserver:2022"):
            found = {each.name: each.outcome for each in steps.assess_catalog(catalog, target).document.objects}
            assert found["c_a_fk"] == expected


def test_rows_of_defaults_are_promised_where_the_target_reads_them() -> None:
    text = "CREATE TABLE t (a int, b int);\nINSERT INTO t DEFAULT VALUES;\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "postgresql")
    for target, expected in (
        ("oracle:19", "rewrite"),
        ("mysql:8.0", "rewrite"),
        ("mariadb:10.11", "rewrite"),
        ("sqlserver:2022", "as-is"),
    ):
        found = {each.type: each.outcome for each in steps.assess_catalog(catalog, target).document.objects}
        assert found["data"] == expected
    replaced = steps.survey_texts([ScriptFile("a.sql", text.replace("INSERT", "REPLACE"), "")], "sqlite")
    found = {each.type: each.outcome for each in steps.assess_catalog(replaced, "mariadb:10.11").document.objects}
    assert found["data"] == "rewrite"


def test_names_without_a_schema_are_not_looked_up_in_one_that_is_attached() -> None:
    text = "ATTACH DATABASE 'x.db' AS x;\nCREATE TABLE x.t (a INTEGER PRIMARY KEY);\nCREATE TABLE t (a INTEGER PRIMARY KEY);\n"
    for script, default in ((text, ""), (text.rpartition("CREATE")[0], "X")):
        case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "sqlite"), "mariadb:10.11")
        assert case.drafts.default_schema == default


def test_an_index_on_an_expression_over_a_large_object_is_not_promised() -> None:
    text = (
        "CREATE TABLE t (s text, d varchar(9));\nCREATE INDEX i1 ON t (lower(s));\nCREATE INDEX i2 ON t (lower(d));\n"
    )
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "postgresql")
    found = {each.name: each.outcome for each in steps.assess_catalog(catalog, "oracle:19").document.objects}
    assert (found["i1"], found["i2"]) == ("rewrite", "as-is")


def test_forms_of_db2_that_the_target_refuses_are_taken_back() -> None:
    assert promised("db2", "sqlserver:2022", "VALUES (1, 2)") == ""
    assert "FROM (VALUES (1, 2)) AS v" in promised(
        "db2", "sqlserver:2022", "SELECT v.a FROM (VALUES (1, 2)) AS v (a, b)"
    )
    correlated = "SELECT t.a, q.m FROM t, TABLE (SELECT MAX(b) AS m FROM t u WHERE u.a = t.a) AS q"
    assert [promised("db2", target, correlated) for target in ("oracle:19", "sqlserver:2022")] == ["", ""]
