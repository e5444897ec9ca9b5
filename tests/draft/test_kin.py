"""Drafts between engines of one family: the source's own text with the few edits that the target asks for."""

import shutil

import pytest

from hullsound import steps
from hullsound.assess.model import Outcome
from hullsound.draft.files import prepare_text
from hullsound.draft.model import Draft
from hullsound.draft.write import draft_all
from hullsound.survey.files import ScriptFile


def drafted(text: str, target: str = "mariadb:10.11", engine: str = "mysql") -> dict[str, Draft]:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], engine, "8.0" if engine == "mysql" else "")
    case = steps.assess_catalog(catalog, target)
    return {draft.object.id: draft for draft in draft_all(case.catalog, case.assessment).drafts}


@pytest.mark.parametrize(
    ("target", "source", "written"),
    [
        ("mariadb:10.11", "utf8mb4_0900_ai_ci", "utf8mb4_uca1400_nopad_ai_ci"),
        ("mariadb:10.11", "utf8mb4_0900_bin", "utf8mb4_nopad_bin"),
        ("mariadb:10.6", "utf8mb4_0900_ai_ci", "utf8mb4_unicode_520_nopad_ci"),
    ],
)
def test_collations_of_mysql_8_become_the_nearest(target: str, source: str, written: str) -> None:
    draft = drafted(f"CREATE TABLE t (a VARCHAR(5) COLLATE {source});\n", target)["table.t"]
    assert draft.text == f"CREATE TABLE t (a VARCHAR(5) COLLATE {written})"
    assert draft.outcome is Outcome.CONFIRM


def test_a_collation_without_a_like_is_for_a_person() -> None:
    draft = drafted("CREATE TABLE t (a VARCHAR(5) COLLATE utf8mb4_0900_as_cs);\n", "mariadb:10.6")["table.t"]
    assert draft.outcome is Outcome.REWRITE


def test_a_character_set_alone_names_its_collation() -> None:
    drafts = drafted(
        "CREATE TABLE t (a INT) DEFAULT CHARSET=utf8mb4;\nCREATE TABLE u (a INT) DEFAULT CHARSET=latin1;\n"
    )
    assert drafts["table.t"].text.endswith("CHARSET=utf8mb4 COLLATE utf8mb4_uca1400_nopad_ai_ci")
    assert drafts["table.u"].text.endswith("CHARSET=latin1")


def test_json_arrows_and_share_locks_are_written_out() -> None:
    drafts = drafted(
        "CREATE VIEW v AS SELECT d->>'$.a' AS a, d->'$.b' AS b FROM t;\nCREATE TABLE t (d JSON);\n"
        "CREATE PROCEDURE p() SELECT d FROM t FOR SHARE NOWAIT;\n"
    )
    assert "JSON_UNQUOTE(JSON_EXTRACT(d, '$.a')) AS a, JSON_EXTRACT(d, '$.b') AS b" in drafts["view.v"].text
    assert drafts["procedure.p"].text.endswith("LOCK IN SHARE MODE NOWAIT;")


def test_what_needs_no_edit_stays_to_the_letter() -> None:
    text = "CREATE  procedure p ( )\nBEGIN  -- a remark\n  SELECT 1 ;\nEND"
    draft = drafted(f"DELIMITER //\n{text}//\n", "mysql:8.4")["procedure.p"]
    assert draft.text == text
    assert draft.outcome is Outcome.AS_IS


def test_marks_of_version_comments_go() -> None:
    head = "/*!50003 CREATE*/ /*!50017 DEFINER=`a`@`%`*/ /*!50003 TRIGGER `r` BEFORE INSERT ON `t`"
    dump = f"{head} FOR EACH ROW SET NEW.a = '*/' */;\n"
    draft = drafted(f"CREATE TABLE t (a VARCHAR(9));\n{dump}")["trigger.r"]
    assert "/*!" not in draft.text
    assert draft.text.count("*/") == 1
    assert "SET NEW.a = '*/'" in draft.text


def test_tables_take_in_what_later_statements_add() -> None:
    drafts = drafted(
        "CREATE TABLE t (a INT, CONSTRAINT c CHECK (a > 0));\nALTER TABLE t ADD COLUMN b INT NOT NULL DEFAULT 3, "
        "ADD CONSTRAINT d CHECK (b > 0);\n"
    )
    assert drafts["table.t"].text.endswith("\nALTER TABLE `t` ADD COLUMN b INT NOT NULL DEFAULT 3;")
    assert drafts["constraint.c"].is_in_table
    assert drafts["constraint.d"].text == "ALTER TABLE `t` ADD CONSTRAINT d CHECK (b > 0)"


def test_the_text_of_a_table_follows_later_statements() -> None:
    drafts = drafted(
        "CREATE TABLE t (a INT, gone INT, old VARCHAR(9) /* kept */ NOT NULL, KEY k (old));\nALTER TABLE t MODIFY a BIGINT, "
        "DROP COLUMN gone, CHANGE old fresh VARCHAR(20) NULL;\nRENAME TABLE t TO u;\n"
    )
    assert drafts["table.u"].text == "CREATE TABLE `u` (a BIGINT,  fresh VARCHAR(20) NULL, KEY k (`fresh`))"


def test_a_dropped_key_in_the_text_of_its_table_is_for_a_person() -> None:
    draft = drafted("CREATE TABLE t (a INT, KEY k (a));\nALTER TABLE t DROP KEY k;\n")["table.t"]
    assert draft.outcome is Outcome.REWRITE


def test_schemas_of_one_engine_may_be_there() -> None:
    draft = drafted("CREATE SCHEMA pier;\n", "postgresql:18", "postgresql")["schema.pier"]
    assert draft.text == "CREATE SCHEMA IF NOT EXISTS pier"


def test_databases_compare_as_on_mysql_8() -> None:
    catalog = steps.survey_texts(
        [ScriptFile("a.sql", "CREATE DATABASE pier; USE pier; CREATE TABLE t (a INT);\n", "")], "mysql"
    )
    case = steps.assess_catalog(catalog, "mariadb:10.11")
    text = prepare_text(draft_all(case.catalog, case.assessment), "mariadb")
    assert text == "CREATE DATABASE IF NOT EXISTS pier CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_ai_ci;\n"


ONLY_MYSQL = """
CREATE TABLE t (id int PRIMARY KEY, s varchar(40), d date, n bigint, j json);
CREATE TABLE w1 (id INT PRIMARY KEY, v INT, CHECK (v > 0) NOT ENFORCED);
CREATE TABLE w2 (id INT PRIMARY KEY, g POINT SRID 4326 NOT NULL);
CREATE TABLE w3 (id INT PRIMARY KEY, a INT, b INT AS (a + 1) VIRTUAL NOT NULL);
CREATE TABLE w4 (id INT PRIMARY KEY, a INT, KEY ix (a) INVISIBLE);
CREATE TABLE w5 (id INT PRIMARY KEY, v INT INVISIBLE);
CREATE TABLE w6 (id INT PRIMARY KEY, FULLTEXT KEY (s) WITH PARSER ngram, s TEXT);
CREATE VIEW v1 AS SELECT NTH_VALUE(n, 2) FROM FIRST OVER (ORDER BY id) AS a FROM t;
CREATE VIEW v2 AS SELECT CAST(s AS YEAR) AS a FROM t;
CREATE VIEW v3 AS WITH RECURSIVE c AS (SELECT 1 AS n UNION ALL SELECT n + 1 FROM c LIMIT 5) SELECT * FROM c;
CREATE VIEW v4 AS SELECT JSON_VALUE(j, '$.a' RETURNING DECIMAL(4,2)) AS a FROM t;
CREATE VIEW v5 AS SELECT 1 MEMBER OF (j) AS a FROM t;
CREATE VIEW v6 AS SELECT COUNT(*) OVER (ORDER BY d RANGE BETWEEN INTERVAL 1 DAY PRECEDING AND CURRENT ROW) AS a FROM t;
CREATE VIEW v7 AS SELECT RANK() OVER w AS a, s REGEXP '^a' AS b FROM t WINDOW w AS (ORDER BY id);
DELIMITER $$
CREATE PROCEDURE p1() BEGIN SELECT id FROM t FOR UPDATE OF t NOWAIT; END$$
CREATE PROCEDURE p2() BEGIN EXPLAIN ANALYZE SELECT 1; END$$
CREATE PROCEDURE p3() BEGIN SELECT id FROM t FOR SHARE; END$$
DELIMITER ;
"""
PROMISED = {"t", "w2", "w3", "w4", "w5", "v1", "v7", "p3"}


@pytest.mark.skipif(not shutil.which("mariadbd"), reason="no MariaDB server")
def test_what_mysql_alone_has_is_written_otherwise_or_not_promised() -> None:
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", ONLY_MYSQL, "")], "mysql", "8.4"), "mariadb:10.11"
    )
    whole = (o for o in case.document.objects if o.type in ("table", "view", "procedure"))
    assert {o.name for o in whole if o.outcome not in ("rewrite", "blocked")} == PROMISED
    trial = steps.try_case(case, steps.draft_case(case))
    assert [(each.id, each.message) for each in trial.refused()] == []


def test_what_mariadb_alone_has_is_told_for_mysql() -> None:
    text = """CREATE TABLE u1 (id INT PRIMARY KEY, a UUID);
CREATE TABLE u2 (id INT PRIMARY KEY, a INT, KEY ix (a) IGNORED, b INT AS (a + 1) PERSISTENT, c TEXT DEFAULT 'y');
CREATE VIEW v AS SELECT id FROM u2 ORDER BY id FETCH FIRST 3 ROWS ONLY;
DELIMITER $$
CREATE OR REPLACE FUNCTION f(a INT) RETURNS INT RETURN a + 1$$
CREATE PROCEDURE p() BEGIN FOR i IN 1..3 DO DELETE FROM u1 WHERE id = i; END FOR; END$$
DELIMITER ;
"""
    made = drafted(text, "mysql:8.4", "mariadb")
    texts = {draft.object.name: draft.text for draft in made.values() if draft.is_promised}
    assert "KEY ix (a) INVISIBLE, b INT AS (a + 1) STORED, c TEXT DEFAULT ('y')" in texts["U2"]
    assert texts["F"].startswith("CREATE FUNCTION f")
    assert not {"U1", "V", "P"} & texts.keys()
