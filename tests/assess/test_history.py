"""Moves within a family: what later versions have taken out is said for those versions, and what is deprecated as well."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLES = {
    "mysql": "CREATE TABLE t (id int, a int, b int, name varchar(20));\n",
    "postgresql": "CREATE TABLE t (id int, a int);\nCREATE SEQUENCE tug_seq;\n",
    "oracle": "CREATE TABLE t (a NUMBER(9));\n",
    "sqlserver": "CREATE TABLE t (id int, a int);\nGO\n",
}


def worst(engine: str, target: str, statement: str) -> tuple[str, set[str]]:
    before = "" if " TABLE t " in statement else TABLES[engine]
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", f"{before}{statement}{end}", "")], engine), target
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
        ("mysql:8.0", "CREATE TABLE t (id float auto_increment primary key)", "float-auto-increment", "warning"),
        ("mysql:8.4", "SHOW SLAVE STATUS", "slave-words", "warning"),
        ("mysql:8.0", "SHOW SLAVE STATUS", "slave-words", "warning"),
        ("mysql:8.4", "CREATE TABLE t (a timestamp)", "bare-timestamp", "warning"),
        ("mysql:8.4", "CREATE TABLE t (id int) ENGINE=MyISAM PARTITION BY HASH (id) PARTITIONS 4", "partitioned-engine", "warning"),
        ("mysql:8.4", "CREATE TABLE t (id int) ENGINE=MyISAM", "storage-engine", "warning"),
        ("mysql:8.4",
         "CREATE TABLE t (id int primary key, b int, key k (b));\nCREATE TABLE c (b int, FOREIGN KEY (b) REFERENCES t (b))",
         "loose-reference", "warning"),
        ("postgresql:18", "SELECT oid FROM t", "oid-column", "warning"),
        ("postgresql:18", "SELECT COALESCE(unnest(ARRAY[1]), 0)", "set-in-condition", "warning"),
        ("postgresql:18", "SET default_with_oids = true", "gone-setting", "warning"),
        ("postgresql:18", "SELECT last_value, increment_by FROM tug_seq", "sequence-columns", "warning"),
        ("oracle:19", "SELECT /*+ RULE */ a FROM t", "rule-hint", "warning"),
        ("oracle:19", "CREATE TABLE t (a LONG)", "type-long", "warning"),
        ("sqlserver:2022", "RAISERROR 50001 'x'", "raiserror-number", "warning"),
        ("sqlserver:2022", "SELECT a FROM t WITH (FASTFIRSTROW)", "first-row-hint", "warning"),
        ("sqlserver:2022", "SET CONCAT_NULL_YIELDS_NULL OFF", "standard-setting-off", "warning"),
        ("sqlserver:2022", "DBCC DBREINDEX('t')", "old-dbcc", "warning"),
        ("sqlserver:2022", "SET ROWCOUNT 10", "set-rowcount", "warning"),
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
