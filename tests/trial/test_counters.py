"""Sequences as MySQL gets them, a table of one row and a function: they count on a real MariaDB, which reads the same text."""

from typing import Any

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

SCRIPT = """
CREATE SEQUENCE calls_seq START WITH 100 INCREMENT BY 5;
CREATE TABLE calls (id NUMBER(9) PRIMARY KEY, note VARCHAR2(40));
CREATE OR REPLACE TRIGGER calls_bi BEFORE INSERT ON calls FOR EACH ROW
BEGIN
  IF :NEW.id IS NULL THEN SELECT calls_seq.NEXTVAL INTO :NEW.id FROM dual; END IF;
END;
/
CREATE OR REPLACE PROCEDURE add_call(p_note VARCHAR2) IS
  v NUMBER(9);
BEGIN
  v := calls_seq.NEXTVAL;
  INSERT INTO calls (id, note) VALUES (v, p_note);
  INSERT INTO calls (note) VALUES (p_note);
END;
/
"""


def case_of(script: str, engine: str = "oracle") -> Any:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("c.sql", script, "")], engine), "mysql:8.4")


@pytest.mark.server
def test_counters_count(mariadb: Any) -> None:
    drafts = case_of(SCRIPT).drafts.drafts
    assert all(draft.is_promised and draft.is_finished for draft in drafts)
    pieces = [
        piece
        for draft in drafts
        for piece in draft.text.replace("CREATE FUNCTION", "\x01CREATE FUNCTION").split("\x01")
    ]
    texts = [part for piece in pieces for part in ([piece] if "BEGIN" in piece else piece.split(";\n"))]
    start = ["CREATE OR REPLACE DATABASE yard_of_counters", "USE yard_of_counters"]
    calls = ["CALL add_call('a')", "CALL add_call('b')"]
    query = "SELECT GROUP_CONCAT(id ORDER BY id) FROM calls"
    assert (
        mariadb.value("\x01".join([*start, *(text for text in texts if text.strip()), *calls, query]))
        == "100,105,110,115"
    )


@pytest.mark.parametrize(
    ("statement", "reason"),
    [
        ("v := s.CURRVAL", "the value that a sequence gave last"),
        ("SELECT s.NEXTVAL, s.NEXTVAL INTO v, w FROM dual", "asks twice"),
        ("v := unknown_seq.NEXTVAL", "not in the source"),
    ],
)
def test_what_a_counter_does_not_do(statement: str, reason: str) -> None:
    code = f"v NUMBER; w NUMBER; BEGIN {statement}; END;"
    script = f"CREATE SEQUENCE s;\nCREATE OR REPLACE PROCEDURE p IS {code}\n/\n"
    case = case_of(script)
    draft = next(each for each in case.drafts.drafts if each.object.name == "P")
    assert not draft.is_promised or not draft.is_finished
    assert reason in " ".join(each.message for each in case.document.findings if each.construct == "draft.skipped")


@pytest.mark.parametrize("options", ["CYCLE MAXVALUE 9", "INCREMENT BY -1"])
def test_sequences_that_are_no_plain_counters(options: str) -> None:
    draft = case_of(f"CREATE SEQUENCE s {options};\n").drafts.drafts[0]
    assert not draft.is_finished


@pytest.mark.parametrize(
    ("target", "written"),
    [
        ("mysql:8.4", "next_s()"),
        ("mariadb:11.8", "NEXTVAL("),
        ("sqlserver:2022", "NEXT VALUE FOR"),
        ("oracle:19", ".NEXTVAL"),
    ],
)
def test_nextval_of_postgresql(target: str, written: str) -> None:
    code = "CREATE PROCEDURE p() LANGUAGE sql AS $$ INSERT INTO t VALUES (nextval('s')) $$;"
    script = f"CREATE SEQUENCE s;\nCREATE TABLE t (id int);\n{code}\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("c.sql", script, "")], "postgresql"), target)
    draft = next(each for each in case.drafts.drafts if each.object.name == "P")
    assert draft.is_promised and written in draft.text
