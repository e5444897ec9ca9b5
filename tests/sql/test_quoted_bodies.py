"""Bodies of routines in quotes are read as code, whatever stands around them, and nothing else is touched."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.sql.quoted_bodies import with_dollar_quotes
from hullsound.survey.files import ScriptFile


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        (
            "CREATE FUNCTION f() RETURNS int AS 'SELECT 1' LANGUAGE sql;",
            "CREATE FUNCTION f() RETURNS int AS $$SELECT 1$$ LANGUAGE sql;",
        ),
        (
            "create or replace function f() returns text language plpgsql as 'begin return ''a''; end';",
            "create or replace function f() returns text language plpgsql as $$begin return 'a'; end$$;",
        ),
        (
            "CREATE PROCEDURE p() AS 'SELECT ''$$'';' LANGUAGE 'sql'",
            "CREATE PROCEDURE p() AS $body$SELECT '$$';$body$ LANGUAGE 'sql'",
        ),
    ],
)
def test_bodies_that_are_read(text: str, wanted: str) -> None:
    assert with_dollar_quotes(text) == wanted


@pytest.mark.parametrize(
    "text",
    [
        "CREATE FUNCTION f(int) RETURNS int AS 'lib', 'sym' LANGUAGE c;",
        "CREATE FUNCTION f() RETURNS text AS 'a\\'b' LANGUAGE sql;",
        "SELECT 1 AS 'x';",
        "CREATE FUNCTION f() RETURNS int AS $$SELECT 1$$ LANGUAGE sql;\nSELECT 2 AS 'x';",
    ],
)
def test_what_is_left_as_it_stands(text: str) -> None:
    assert with_dollar_quotes(text) == text


@given(st.text(max_size=60))
def test_lines_stay_where_they_are(body: str) -> None:
    doubled = body.replace("'", "''")
    text = f"CREATE FUNCTION f() RETURNS int AS '{doubled}' LANGUAGE sql;\nSELECT 1;"
    assert with_dollar_quotes(text).count("\n") == text.count("\n")


def test_findings_are_told_inside_of_quotes_at_their_lines() -> None:
    body = "\n  SELECT DISTINCT ON (id) id\n    FROM t WHERE id = $1"
    script = f"CREATE TABLE t (id int);\nCREATE FUNCTION f(int) RETURNS SETOF int AS '{body}' LANGUAGE sql;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], "postgresql"), "mysql:8.4")
    assert ("postgresql.distinct-on", 3) in {(each.construct, each.line) for each in case.document.findings}
    assert not [each for each in case.document.findings if each.construct == "survey.unread"]
