"""Variables of a package keep their values for the session on a real MariaDB, and begin with those that the package gives them.

Source: Oracle Database 19c, "PL/SQL Language Reference", "Package State".
"""

import shutil
from collections.abc import Iterator

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

from .test_routines_on_mariadb import Server, drafted


@pytest.fixture
def session(mariadb_socket: str) -> Iterator[Server]:
    yield from drafted("session.sql", "oracle", mariadb_socket, "hs_session")


@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")
def test_variables_begin_once_and_are_kept(session: Server) -> None:
    assert session.value("SELECT pk_who()") == "nobody"
    session.rows("CALL pk_set_user('joe')")
    assert session.value("SELECT pk_who()") == "JOE"
    assert [session.value("SELECT pk_next_no()") for _ in range(2)] == [11.5, 23]
    session.rows("INSERT INTO t (a, b) VALUES (41, 'x')")
    session.rows("CALL pk_set_user('jim')")
    assert session.value("SELECT pk_next_no()") == 42 * 21.5


@pytest.mark.parametrize(
    ("declared", "code", "reason"),
    [
        ("g DATE", "g := SYSDATE;", "whose type the session does not keep"),
        ("g NUMBER(5,2)", "g := 1;", "whose type the session does not keep"),
        ("g NUMBER := 2 * 3", "g := 1;", "which does not begin with a constant"),
        ("g NUMBER", "OPEN c; FETCH c INTO g; CLOSE c;", "a FETCH into a variable of a package"),
    ],
)
def test_what_the_session_does_not_keep_is_not_promised(declared: str, code: str, reason: str) -> None:
    text = f"""CREATE TABLE t (a NUMBER(9));
CREATE PACKAGE pk IS PROCEDURE p; END pk;
/
CREATE PACKAGE BODY pk IS
  {declared};
  PROCEDURE p IS
    CURSOR c IS SELECT a FROM t;
  BEGIN
    {code}
  END;
END pk;
/
"""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("p.sql", text, "")], "oracle"), "mariadb:11.8")
    body = next(each for each in case.assessment.objects if each.object.id == "package_body.pk")
    assert body.outcome.value == "rewrite"
    assert any(reason in each.message for each in body.findings)
