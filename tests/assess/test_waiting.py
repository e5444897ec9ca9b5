"""A promise holds only where all that an object stands on is promised, or is in a placeholder."""

from hullsound import steps
from hullsound.assess.model import Outcome
from hullsound.survey.files import ScriptFile


def outcomes(text: str, engine: str = "oracle", target: str = "postgresql:18") -> dict[str, Outcome]:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    return {entry.object.id: entry.outcome for entry in case.assessment.objects}


def test_what_stands_on_an_unread_table_waits() -> None:
    found = outcomes(
        "CREATE TABLE t (a NUMBER NOT NULL !! b);\nCREATE INDEX i ON t (a);\nINSERT INTO t VALUES (1);\n"
        "CREATE VIEW v AS SELECT a FROM t;\nCREATE VIEW w AS SELECT a FROM v;\n"
        "CREATE PROCEDURE p IS n NUMBER; BEGIN SELECT a INTO n FROM t; END;\n/\n"
    )
    assert set(found.values()) == {Outcome.REWRITE}


def test_a_table_for_a_person_has_a_placeholder_for_what_stands_on_it() -> None:
    found = outcomes("CREATE TABLE t (a NUMBER(9), b BFILE);\nCREATE INDEX i ON t (a);\n")
    assert found["table.t"] is Outcome.BLOCKED
    assert found["index.i"] is Outcome.AS_IS


def test_a_foreign_key_waits_for_the_key_that_it_refers_to() -> None:
    script = (
        "CREATE TABLE p (a text CONSTRAINT pk PRIMARY KEY);\nCREATE TABLE c (a text CONSTRAINT fk REFERENCES p (a));\n"
    )
    found = outcomes(script, "postgresql", "mariadb:10.11")
    assert found["public.constraint.pk"] is Outcome.REWRITE
    assert found["public.constraint.fk"] is Outcome.REWRITE


def test_rows_that_leave_out_what_must_be_given() -> None:
    table = "CREATE TABLE t (id NUMBER(9) NOT NULL, a NUMBER(9));\nINSERT INTO t (a) VALUES (1);\n"
    assert outcomes(table)["data.a:2"] is Outcome.REWRITE
    trigger = (
        "CREATE SEQUENCE s;\nCREATE TRIGGER tr BEFORE INSERT ON t FOR EACH ROW BEGIN :new.id := s.NEXTVAL; END;\n/\n"
    )
    assert outcomes(table + trigger)["data.a:2"] is Outcome.AS_IS


def test_an_unread_tail_takes_the_promise_of_the_whole() -> None:
    assert outcomes("DELETE FROM t WHERE a = 1 ?? b;\nCREATE TABLE t (a NUMBER);\n")["change.a:1"] is Outcome.REWRITE
