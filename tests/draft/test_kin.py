"""Drafts between engines of one family: the source's own text with the few edits that the target asks for."""

import pytest

from hullsound import steps
from hullsound.assess.model import Outcome
from hullsound.draft.files import prepare_text
from hullsound.draft.write import Draft, draft_all
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
