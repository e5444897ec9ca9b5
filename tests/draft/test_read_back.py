"""Drafts for engines that do not run here: what their grammar does not hold, or they do not have, is not promised."""

import pytest

from hullsound import steps
from hullsound.draft.write import Draft
from hullsound.survey.files import ScriptFile


def drafted(source: str, target: str, script: str) -> Draft:
    end = "\nGO\n" if source == "sqlserver" else "\n/\n" if source == "oracle" else ";\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", script + end, "")], source, is_whole=False)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    return next(draft for draft in drafts if draft.object.type in ("view", "function"))


@pytest.mark.parametrize(
    ("source", "target", "script", "reason"),
    [
        ("oracle", "sqlserver:2022", "CREATE VIEW v AS SELECT d + INTERVAL '8' HOUR AS x FROM t", "HOUR AS x"),
        ("mysql", "oracle:19", "CREATE VIEW v AS SELECT x'4D' AS x FROM t", "'4D' AS x"),
        ("mysql", "oracle:19", "CREATE VIEW v AS SELECT JSON_SET(doc, '$.a', 1) AS x FROM t", "json_set"),
        ("oracle", "sqlserver:2022", "CREATE VIEW v AS SELECT BITAND(id, 4) AS x FROM t", "bitand"),
    ],
)
def test_what_the_target_cannot_read_or_lacks_is_taken_back(source: str, target: str, script: str, reason: str) -> None:
    draft = drafted(source, target, script)
    assert not draft.is_finished
    assert reason in "".join(text for _, _, text in draft.skipped) or not draft.is_promised


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
