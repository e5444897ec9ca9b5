"""WHERE CURRENT OF a cursor becomes a test of the key where the cursor has read it; defaults of a cursor go where it is opened."""

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

ORACLE = "CREATE TABLE bay (id NUMBER(9) PRIMARY KEY, kind VARCHAR2(9) NOT NULL, depth NUMBER(5,1))"
TSQL = "CREATE TABLE bay (id INT NOT NULL PRIMARY KEY, depth DECIMAL(5,1))"


def drafted(source: str, target: str, table: str, code: str) -> Draft:
    script = "\n".join(end_statement(each, source) for each in (table, code))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], source), target)
    return next(d for d in case.drafts.drafts if d.object.type == "procedure")


def looped(target: str, query: str, change: str) -> str:
    code = (
        f"CREATE PROCEDURE p IS CURSOR c IS {query}; BEGIN FOR r IN c LOOP {change} WHERE CURRENT OF c; END LOOP; END;"
    )
    draft = drafted("oracle", target, ORACLE, code)
    return " ".join(draft.text.split()) if draft.is_promised and draft.is_finished else ""


@pytest.mark.parametrize(
    ("target", "test"),
    [("mariadb:11.8", "WHERE id = r.id;"), ("mysql:8.4", "WHERE id = hs_r_id;"), ("sqlserver:2022", "WHERE id = @hs_r_id;"),
     ("postgresql:18", "WHERE CURRENT OF c;")],
)  # fmt: skip
@pytest.mark.parametrize(
    "query", ["SELECT id, depth FROM bay FOR UPDATE", "SELECT * FROM bay b WHERE depth > 3 FOR UPDATE OF depth"]
)
def test_a_loop_over_a_cursor(target: str, test: str, query: str) -> None:
    assert f"UPDATE bay SET depth = 1 {test}" in looped(target, query, "UPDATE bay SET depth = 1")
    assert test in looped(target, query, "DELETE FROM bay")


@pytest.mark.parametrize(
    ("query", "change"),
    [
        ("SELECT depth FROM bay FOR UPDATE", "UPDATE bay SET depth = 1"),
        ("SELECT id + 1 AS id FROM bay FOR UPDATE", "UPDATE bay SET depth = 1"),
        ("SELECT id, depth FROM bay FOR UPDATE", "UPDATE bay SET id = id + 1"),
        ("SELECT b.id FROM bay b JOIN bay o ON o.id = b.id FOR UPDATE", "UPDATE bay SET depth = 1"),
    ],
)
def test_rows_whose_key_is_not_known_are_not_promised(query: str, change: str) -> None:
    assert [looped(target, query, change) for target in ("mariadb:11.8", "sqlserver:2022")] == ["", ""]


FETCHED = """CREATE PROCEDURE p AS
DECLARE @id INT, @depth DECIMAL(5,1)
DECLARE c CURSOR FOR SELECT id, depth FROM bay FOR UPDATE OF depth
OPEN c FETCH NEXT FROM c INTO @id, @depth
WHILE @@FETCH_STATUS = 0 BEGIN
{between} UPDATE bay SET depth = @depth + 1 WHERE CURRENT OF c
FETCH NEXT FROM c INTO @id, @depth END
CLOSE c DEALLOCATE c"""


@pytest.mark.parametrize(("target", "variable"), [("mariadb:11.8", "v_id"), ("oracle:19", "v_id")])
def test_a_row_that_was_fetched_into_variables(target: str, variable: str) -> None:
    draft = drafted("sqlserver", target, TSQL, FETCHED.format(between=""))
    assert draft.is_promised
    assert f"WHERE id = {variable};" in draft.text
    assert not drafted("sqlserver", target, TSQL, FETCHED.format(between="SET @id = @id + 1")).text


def test_defaults_of_a_cursor_go_where_it_is_opened() -> None:
    code = """CREATE PROCEDURE p IS v NUMBER(9);
CURSOR c (k VARCHAR2 DEFAULT 'a', n NUMBER DEFAULT 3) IS SELECT id FROM bay WHERE kind = k AND depth > n;
BEGIN FOR r IN c LOOP v := r.id; END LOOP; OPEN c('b'); FETCH c INTO v; CLOSE c; OPEN c('b', 1); CLOSE c; END;"""
    text = drafted("oracle", "postgresql:18", ORACLE, code).text
    assert "c CURSOR (k text, n numeric) FOR" in text
    assert "FOR r IN c('a', 3) LOOP" in text
    assert "OPEN c('b', 3);" in text
    assert "OPEN c('b', 1);" in text


def test_values_of_a_cursor_by_name_beside_defaults_are_not_promised() -> None:
    code = """CREATE PROCEDURE p IS
CURSOR c (k VARCHAR2 DEFAULT 'a', n NUMBER DEFAULT 3) IS SELECT id FROM bay WHERE kind = k AND depth > n;
BEGIN OPEN c(n => 4); CLOSE c; END;"""
    draft = drafted("oracle", "postgresql:18", ORACLE, code)
    assert not (draft.is_promised and draft.is_finished)
