"""Functions of SQL Server, which refuse to print, to raise errors, to change tables and to give another value at each call."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

ORACLE = """CREATE TABLE berth (id NUMBER(9) NOT NULL PRIMARY KEY, name VARCHAR2(20) NOT NULL);
CREATE OR REPLACE FUNCTION f(p NUMBER) RETURN VARCHAR2 IS
  v VARCHAR2(40);
BEGIN
  {body}
  RETURN v;
END;
/
"""


@pytest.mark.parametrize(
    ("body", "reason"),
    [
        ("v := TO_CHAR(p);", ""),
        ("FOR r IN (SELECT name FROM berth ORDER BY id) LOOP v := v || r.name; END LOOP;", ""),
        ("v := 'id ' || LENGTH(SYS_GUID());", "NEWID in a function"),
        ("DBMS_OUTPUT.PUT_LINE('in');", "PRINT in a function"),
    ],
)
def test_functions_without_side_effects_are_promised(body: str, reason: str) -> None:
    script = ORACLE.format(body=body)
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "oracle"), "sqlserver:2022")
    messages = [each.message for each in case.document.findings if each.construct == "draft.skipped"]
    assert (reason in messages[0]) if reason else not messages
