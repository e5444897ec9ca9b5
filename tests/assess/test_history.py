"""Moves within a family: what later versions have taken out is said for those versions, and what is deprecated as well."""

import pytest

from hullsound import steps
from hullsound.knowledge.load import load_constructs
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

TABLES = {
    "mysql": "CREATE TABLE t (id int, a int, b int, name varchar(20));\n",
    "postgresql": "CREATE TABLE t (id int, a int);\nCREATE SEQUENCE tug_seq;\n",
    "oracle": "CREATE TABLE t (a NUMBER(9));\n",
    "sqlserver": "CREATE TABLE t (id int, a int);\nGO\n",
}


def worst(engine: str, target: str, statement: str, version: str = "") -> tuple[str, set[str]]:
    before = "" if " TABLE t " in statement else TABLES[engine]
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", f"{before}{statement}{end}", "")], engine, version), target
    )
    lines = before.count("\n")
    told = [f for f in case.document.findings if f.line > lines and not f.construct.startswith("improve.")]
    order = ["note", "warning", "blocker"]
    severity = max((f.severity.value for f in told), key=order.index, default="")
    return severity, {f.construct.partition(".")[2] for f in told}


@pytest.mark.parametrize(
    ("target", "statement", "construct", "severity"),
    [
        ("mysql:8.4", "CREATE TABLE t (id int, rank int)", "newly-reserved-name", "note"),
        ("mysql:8.4", "CREATE VIEW v AS SELECT id AS groups FROM t", "newly-reserved-name", "note"),
        ("mysql:8.4", "SELECT SQL_CACHE id FROM t", "query-cache", "warning"),
        ("mysql:8.4", "SET SESSION tx_isolation = 'READ-COMMITTED'", "gone-variable", "warning"),
        ("mysql:8.4", "GRANT SELECT ON d.* TO 'u'@'h' IDENTIFIED BY 'p'", "grant-identified", "warning"),
        ("mysql:8.4", "SELECT name FROM t WHERE name REGEXP '[[:<:]]a'", "old-word-boundary", "warning"),
        ("mysql:8.4", "CREATE TABLE t (id float auto_increment primary key)", "float-auto-increment", "warning"),
        ("mysql:8.0", "CREATE TABLE t (id float auto_increment primary key)", "float-auto-increment", "note"),
        ("mysql:8.4", "SHOW SLAVE STATUS", "slave-words", "warning"),
        ("mysql:8.0", "SHOW SLAVE STATUS", "slave-words", "note"),
        ("mysql:8.4", "CREATE TABLE t (a timestamp)", "bare-timestamp", "warning"),
        ("mysql:8.4", "CREATE TABLE t (id int) ENGINE=MyISAM PARTITION BY HASH (id) PARTITIONS 4", "partitioned-engine", "warning"),
        ("mysql:8.4", "CREATE TABLE t (id int) ENGINE=MyISAM", "storage-engine", "note"),
        ("mysql:8.4",
         "CREATE TABLE t (id int primary key, b int, key k (b));\nCREATE TABLE c (b int, FOREIGN KEY (b) REFERENCES t (b))",
         "loose-reference", "warning"),
        ("postgresql:18", "SELECT oid FROM t", "oid-column", "warning"),
        ("postgresql:18", "SELECT COALESCE(unnest(ARRAY[1]), 0)", "set-in-condition", "warning"),
        ("postgresql:18", "SET default_with_oids = true", "gone-setting", "warning"),
        ("postgresql:18", "SELECT last_value, increment_by FROM tug_seq", "sequence-columns", "warning"),
        ("oracle:19", "SELECT /*+ RULE */ a FROM t", "rule-hint", "warning"),
        ("oracle:19", "CREATE TABLE t (a LONG)", "type-long", "note"),
        ("sqlserver:2022", "RAISERROR 50001 'x'", "raiserror-number", "warning"),
        ("sqlserver:2022", "SELECT a FROM t WITH (FASTFIRSTROW)", "first-row-hint", "warning"),
        ("sqlserver:2022", "SET CONCAT_NULL_YIELDS_NULL OFF", "standard-setting-off", "note"),
        ("sqlserver:2022", "DBCC DBREINDEX('t')", "old-dbcc", "note"),
        ("sqlserver:2022", "SET ROWCOUNT 10", "set-rowcount", "note"),
    ],
)  # fmt: skip
def test_it_is_said_for_the_versions_it_holds_for(target: str, statement: str, construct: str, severity: str) -> None:
    told, constructs = worst(target.partition(":")[0], target, statement)
    assert construct in constructs
    assert told == severity


@pytest.mark.parametrize(
    ("target", "statement"),
    [
        ("mysql:8.4", "CREATE TABLE t (id int, `rank` int)"),
        ("mysql:8.4", "SELECT RANK() OVER (ORDER BY id) AS place FROM t"),
        ("mysql:8.4", "SELECT SQL_NO_CACHE id FROM t"),
        ("mysql:8.4", "CREATE TABLE t (id int) ENGINE=InnoDB PARTITION BY HASH (id) PARTITIONS 4"),
        ("mysql:8.4", "CREATE TABLE t (a timestamp NOT NULL DEFAULT CURRENT_TIMESTAMP)"),
        ("postgresql:18", "SELECT generate_series(1, 3)"),
        ("postgresql:18", "CREATE VIEW v AS SELECT id FROM t ORDER BY id LIMIT 5"),
        ("oracle:19", "CREATE VIEW v AS SELECT NVL(a, 0) x FROM t WHERE ROWNUM < 5"),
        ("sqlserver:2022", "CREATE VIEW v AS SELECT ISNULL(a, 0) x FROM t"),
        ("sqlserver:2022", "SET ANSI_NULLS ON"),
    ],
)
def test_nothing_is_said_where_nothing_differs(target: str, statement: str) -> None:
    assert worst(target.partition(":")[0], target, statement) == ("", set())


def test_name_that_became_reserved_is_quoted_in_the_draft() -> None:
    text = "CREATE TABLE t (id int, rank int);\nCREATE VIEW v AS SELECT t.rank, id AS groups FROM t;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "mysql"), "mysql:8.4")
    drafts = {d.object.type.value: d.text for d in case.drafts.drafts}
    assert "`rank` int" in drafts["table"]
    assert "SELECT t.rank, id AS `groups`" in drafts["view"]


@pytest.mark.parametrize(
    ("source", "target", "statement", "severity"),
    [
        ("mysql:5.7", "mysql:8.4", "CREATE USER 'u'@'%' IDENTIFIED BY 'x'", "warning"),
        ("mysql:8.0.36", "mysql:8.4", "CREATE USER 'u'@'%' IDENTIFIED BY 'x'", ""),
        ("mysql:8.0", "mysql:8.4", "CREATE USER 'u'@'%' IDENTIFIED WITH mysql_native_password BY 'x'", "warning"),
        ("mysql:8.0", "mysql:8.4", "START SLAVE", "warning"),
        ("mysql:8.0", "mysql:8.4", "START REPLICA", ""),
        ("mysql:8.0", "mysql:8.4", "SELECT a && b FROM t", "note"),
        ("oracle:11.2.0.4", "oracle:19", "GRANT CONNECT, RESOURCE TO clerk", "warning"),
        ("oracle:12.2", "oracle:19", "GRANT CONNECT, RESOURCE TO clerk", ""),
        ("oracle:19", "oracle:23", "AUDIT SELECT ON t BY ACCESS", "warning"),
        ("oracle:11", "oracle:19", "AUDIT SELECT ON t BY ACCESS", ""),
        ("sqlserver:2012", "sqlserver:2019", "CREATE ASSEMBLY a FROM 0x4D5A WITH PERMISSION_SET = SAFE", "warning"),
        ("sqlserver:14.0.3456.2", "sqlserver:2019", "CREATE ASSEMBLY a FROM 0x4D5A WITH PERMISSION_SET = SAFE", ""),
        ("sqlserver:2019", "sqlserver:2022", "RAISERROR 50001 'x'", "warning"),
        ("sqlserver:2019", "sqlserver:2022", "SELECT 'tug' = a FROM t", "note"),
        ("postgresql:13", "postgresql:18", "SELECT PG_STOP_BACKUP()", "warning"),
        ("postgresql:13", "postgresql:18", "SELECT PG_BACKEND_PID()", ""),
        ("postgresql:9.6", "postgresql:18", "CREATE OPERATOR !! (PROCEDURE = fac, LEFTARG = int)", "warning"),
        ("postgresql:13", "postgresql:18", "CREATE AGGREGATE mid (float8) (SFUNC = f, STYPE = float8)", ""),
    ],
)  # fmt: skip
def test_it_depends_on_the_version_of_the_source(source: str, target: str, statement: str, severity: str) -> None:
    engine, _, version = source.partition(":")
    assert worst(engine, target, statement, version)[0] == severity


@pytest.mark.parametrize("both", ["oracle:19", "sqlserver:2022", "mysql:8.4", "mariadb:11.4", "postgresql:18"])
def test_a_move_to_the_same_version_is_silent(both: str) -> None:
    """Whatever a construct is, the same version of its engine knows it; what could not be read is told all the same."""
    engine, _, version = both.partition(":")
    for construct in load_constructs(engine).values():
        text = end_statement(construct.example, engine)
        case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine, version), both)
        assert construct.id not in {finding.construct for finding in case.document.findings}, construct.example


def test_what_is_better_changed_later_is_counted_apart() -> None:
    """A deprecated form keeps its object as it is, and its minutes are none of the move."""
    text = "CREATE TABLE t (id int, body ntext)\nGO\n"
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlserver", "2012"), "sqlserver:2022"
    )
    summary = case.document.summary
    (finding,) = [f for f in case.document.findings if f.construct == "sqlserver.large-text-types"]
    assert (finding.way.value, finding.severity.value) == ("later", "note")
    assert summary.by_outcome["as-is"] == 1
    assert summary.later.places == 1 and summary.later.hours > 0
    assert not any(part.what == finding.construct for part in summary.effort_parts)
