"""What an older version of the target has not yet is not promised, within an engine and from others, and is said at its line.

The versions come from the release notes that `knowledge/targets/<engine>/newer.toml` names.
"""

import pytest

from hullsound import steps
from hullsound.knowledge.newer import load_newer
from hullsound.knowledge.targets import all_targets
from hullsound.survey.files import ScriptFile

PROMISED = ("as-is", "drafted", "confirm")


def refused(text: str, engine: str, version: str, target: str) -> dict[str, list[tuple[int, str]]]:
    """Return what is told of each object that is not promised, with its lines."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("x.sql", text, "")], engine, version), target)
    outcomes = {each.id: each.outcome for each in case.document.objects}
    return {
        each.object.id.rpartition(".")[2]: [(found.line, found.message) for found in each.findings]
        for each in case.assessment.objects
        if outcomes[each.object.id] not in PROMISED
    }


@pytest.mark.parametrize(
    ("engine", "version", "older", "since", "query", "told"),
    [
        ("sqlserver", "2022", "2016", "2017", "SELECT STRING_AGG(s, ',') AS x FROM dbo.t", "STRING_AGG"),
        ("sqlserver", "2022", "2019", "2022", "SELECT GREATEST(a, b) AS x FROM dbo.t", "GREATEST"),
        ("sqlserver", "2022", "2019", "2022", "SELECT a FROM dbo.t WHERE a IS DISTINCT FROM b", "IS DISTINCT FROM"),
        ("sqlserver", "2022", "2019", "2022", "SELECT value FROM STRING_SPLIT('a,b', ',', 1)", "STRING_SPLIT"),
        ("sqlserver", "2022", "2019", "2022", "SELECT SUM(a) OVER w AS x FROM dbo.t WINDOW w AS (ORDER BY b)", "the WINDOW clause"),
        ("sqlserver", "2022", "2016", "2016", "SELECT value FROM STRING_SPLIT('a,b', ',')", ""),
        ("oracle", "23", "19", "23", "SELECT 1 AS x", "a query without FROM"),
        ("oracle", "23", "19", "23", "SELECT TO_BOOLEAN(s) AS x FROM t", "TO_BOOLEAN"),
        ("oracle", "23", "19", "21", "SELECT a FROM t MINUS ALL SELECT b FROM t", "MINUS ALL"),
        ("oracle", "23", "19", "19", "SELECT LISTAGG(s, ',') WITHIN GROUP (ORDER BY a) AS x FROM t", ""),
        ("postgresql", "18", "15", "16", "SELECT any_value(a) AS x FROM t", "ANY_VALUE"),
        ("postgresql", "18", "16", "17", "SELECT random(1, 6) AS x FROM t", "RANDOM"),
        ("postgresql", "18", "14", "14", "SELECT random() AS x FROM t", ""),
        ("postgresql", "18", "17", "18", "SELECT uuidv7() AS x FROM t", "UUIDV7"),
        ("mariadb", "11.8", "10.6", "11.4", "SELECT JSON_KEY_VALUE('{}', '$') AS x FROM t", "JSON_KEY_VALUE"),
        ("sqlite", "3.50", "3.35", "3.46", "SELECT concat(s, a) AS x FROM t", "CONCAT"),
        ("sqlite", "3.50", "3.38", "3.40", "SELECT * FROM t WHERE a IS NOT DISTINCT FROM b", "IS NOT DISTINCT FROM"),
    ],
)  # fmt: skip
def test_older_versions_are_not_promised_what_they_lack(
    engine: str, version: str, older: str, since: str, query: str, told: str
) -> None:
    schema, end = ("dbo.", "\nGO\n") if engine == "sqlserver" else ("", ";\n")
    text = f"CREATE TABLE {schema}t (a int, b int, s varchar(20)){end}CREATE TABLE {schema}u (a int){end}"
    text += f"CREATE VIEW {schema}v AS\n{query}{end}"
    found = refused(text, engine, version, f"{engine}:{older}")
    if not told:
        assert not found
        return
    messages = found["v"]
    assert any(f"the target refuses: {told}" in message for _, message in messages), messages
    assert "v" not in refused(text, engine, version, f"{engine}:{since}")


def test_the_line_is_that_of_the_word() -> None:
    text = "CREATE TABLE dbo.t (a int)\nGO\nCREATE VIEW dbo.v AS\nSELECT a\nFROM dbo.t\nWHERE GREATEST(a, 1) > 2\nGO\n"
    assert [
        line for line, message in refused(text, "sqlserver", "2022", "sqlserver:2019")["v"] if "GREATEST" in message
    ] == [6]


def test_functions_of_the_source_itself_are_its_own() -> None:
    text = "CREATE FUNCTION any_value(a int) RETURNS int LANGUAGE sql AS 'SELECT a';\nCREATE VIEW v AS SELECT any_value(1) AS x;\n"
    assert not refused(text, "postgresql", "14", "postgresql:15")


def test_drafts_of_other_engines_keep_to_the_version() -> None:
    text = "CREATE TABLE t (a INT, s VARCHAR(20));\nCREATE VIEW v AS SELECT GROUP_CONCAT(s) AS x FROM t;\n"
    assert "v" in refused(text, "mysql", "8.4", "sqlserver:2016")
    assert "v" not in refused(text, "mysql", "8.4", "sqlserver:2022")


@pytest.mark.parametrize("engine", sorted({target.engine for target in all_targets()}))
def test_what_is_newer_than_every_version_is_not_listed(engine: str) -> None:
    newest = max(target.version for target in all_targets() if target.engine == engine)
    oldest = min(target.version for target in all_targets() if target.engine == engine)
    known = load_newer(engine)
    versions = {*known.calls.values(), *known.types.values(), *known.names.values()}
    assert versions and all(oldest < version <= newest for version in versions)


def test_queries_of_values_read_dual_before_oracle_23() -> None:
    text = """DELIMITER //
        CREATE PROCEDURE p1(x INT) BEGIN SELECT x; END//
        CREATE PROCEDURE p2() BEGIN SELECT CAST('2025-04-01' AS DATE) UNION ALL SELECT CURRENT_DATE; END//
        DELIMITER ;
        CREATE VIEW v AS SELECT 1;"""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("x.sql", text, "")], "mysql", "8.4"), "oracle:19")
    drafts = {draft.object.id: draft.text for draft in case.drafts.drafts}
    assert "OPEN hs_result FOR SELECT x FROM DUAL;" in drafts["procedure.p1"]
    assert drafts["procedure.p2"].count(" FROM DUAL") == 2
    assert drafts["view.v"].endswith('SELECT 1 AS "1" FROM DUAL;')
