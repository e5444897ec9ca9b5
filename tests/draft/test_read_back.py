"""Drafts for engines that do not run here: what their grammar does not hold, or they do not have, is not promised."""

import pytest

from hullsound import steps
from hullsound.draft.write import Draft
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
        ("oracle", "sqlserver:2022", "CREATE VIEW v AS SELECT BITAND(id, 4) AS x FROM t", "bitand"),
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
        ("postgresql", "sqlserver:2022", "CASE WHEN b THEN 1 ELSE 0 END"),
        ("postgresql", "oracle:19", "CASE WHEN b AND id > 1 THEN 1 ELSE 0 END"),
        ("postgresql", "sqlserver:2022", "substring(s from 2 for 3)"),
        ("postgresql", "sqlserver:2022", "substring(s, 2)"),
        ("postgresql", "oracle:19", "extract(epoch from ts)"),
        ("postgresql", "oracle:19", "id::text"),
        ("postgresql", "oracle:19", "concat(s, s, s)"),
        ("mysql", "oracle:19", "TRUE"),
        ("mysql", "sqlserver:2022", "TRUE"),
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
