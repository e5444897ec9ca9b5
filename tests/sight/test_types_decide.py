"""Where column types decide: silent where a difference cannot bite, seen where it can."""

import pytest

from hullsound import steps
from hullsound.knowledge.types import logical_type
from hullsound.survey.files import ScriptFile

SCHEMA = """
CREATE TABLE calls (id NUMBER(10) NOT NULL, eta DATE NOT NULL, left_at DATE, name VARCHAR2(20) NOT NULL, note VARCHAR2(20),
                    tons NUMBER(10,2), mixed NUMBER(5));
CREATE TABLE other (mixed DATE);
"""


def seen(text: str) -> set[str]:
    files = [ScriptFile("schema.sql", SCHEMA, ""), ScriptFile("a.sql", text, "")]
    catalog = steps.survey_texts(files, "oracle")
    return {s.construct.removeprefix("oracle.") for s in catalog.sightings if s.file == "a.sql"}


@pytest.mark.parametrize(
    ("expression", "construct", "expected"),
    [
        ("c.eta + 1", "date-plus-number", True),
        ("1 + c.eta", "date-plus-number", True),
        ("c.id + 1", "date-plus-number", False),
        ("c.left_at - c.eta", "date-minus-date", True),
        ("c.left_at - c.eta", "date-plus-number", False),
        ("c.tons - c.id", "date-minus-date", False),
        ("SYSDATE - c.eta", "date-minus-date", True),
        ("c.eta + INTERVAL '1' DAY", "date-plus-number", False),
        ("c.name || '!'", "null-concatenation", False),
        ("c.note || '!'", "null-concatenation", True),
        ("c.name || c.note", "null-concatenation", True),
        ("NVL(c.note, '-') || c.name", "null-concatenation", False),
        ("TRUNC(c.eta)", "truncate-date", True),
        ("TRUNC(c.tons)", "truncate-date", False),
        ("TRUNC(c.tons, 1)", "truncate-date", False),
        ("ROUND(c.eta)", "round-date", True),
        ("ROUND(c.tons, 1)", "round-date", False),
        ("c.id / 2", "integer-division", True),
        ("c.tons / 2", "integer-division", False),
        ("1.5 / c.id", "integer-division", False),
        ("c.tons * c.id / 2", "integer-division", False),
        ("LPAD(c.id, 5)", "number-as-text", True),
        ("LPAD(c.name, 5)", "number-as-text", False),
        ("c.name || c.eta", "date-written-as-text", True),
        ("TO_CHAR(c.eta)", "date-written-as-text", True),
        ("c.name || SYSDATE", "date-written-as-text", True),
        ("c.name || TO_CHAR(c.eta, 'YYYY')", "date-written-as-text", False),
        ("c.name || c.id", "date-written-as-text", False),
        ("c.name || c.tons", "fraction-written-as-text", True),
        ("TO_CHAR(c.tons)", "fraction-written-as-text", True),
        ("c.name || c.id", "fraction-written-as-text", False),
        ("c.tons + 1", "fraction-written-as-text", False),
        ("SUBSTR(c.name, 1, c.tons)", "number-as-integer", True),
        ("SUBSTR(c.name, 2, 3)", "number-as-integer", False),
    ],
)
def test_expressions(expression: str, construct: str, expected: bool) -> None:
    assert (construct in seen(f"SELECT {expression} AS x FROM calls c;")) is expected


def test_variables_have_types_too() -> None:
    code = "CREATE PROCEDURE p(a DATE, n NUMBER) IS v calls.eta%TYPE; BEGIN v := {}; END;\n/\n"
    assert "date-plus-number" in seen(code.format("a + 1"))
    assert "date-plus-number" in seen(code.format("v + n"))
    assert "date-plus-number" not in seen(code.format("n + 1"))


def test_declared_decimals_matter_where_a_variable_becomes_text() -> None:
    code = "CREATE FUNCTION f RETURN VARCHAR2 IS n NUMBER(8{}); BEGIN RETURN 'is ' || n; END;\n/\n"
    assert "fraction-written-as-text" in seen(code.format(",2"))
    assert "fraction-written-as-text" not in seen(code.format(""))
    assert "fraction-written-as-text" not in seen(code.format(",0"))


@pytest.mark.parametrize(
    ("query", "construct"),
    [
        ("SELECT a FROM t WHERE ROWNUM <= 5", "rownum-limit"),
        ("SELECT a FROM t WHERE ROWNUM <= 5 ORDER BY a", "rownum"),
        ("SELECT COUNT(*) FROM t WHERE ROWNUM <= 5", "rownum-limit"),
        ("SELECT MAX(a) FROM t WHERE ROWNUM <= 5", "rownum"),
        ("SELECT a FROM t WHERE ROWNUM > 5", "rownum"),
        ("SELECT a FROM t WHERE b = 1 OR ROWNUM <= 5", "rownum"),
        ("SELECT ROWNUM, a FROM t", "rownum-number"),
        ("SELECT a FROM t, u WHERE t.i = u.i(+)", "outer-join-mark"),
        ("SELECT a FROM t, u, v WHERE t.i = u.i(+) AND u.j = v.j(+)", "outer-join-mark"),
        ("SELECT a FROM t, u WHERE t.i = u.i(+) OR t.j = 1", "outer-join-mark-complex"),
        ("SELECT a FROM t, u WHERE t.i(+) = u.i AND u.j(+) = t.j", "outer-join-mark-complex"),
        ("SELECT a FROM t JOIN v ON t.i = v.i, u WHERE t.i = u.i(+)", "outer-join-mark-complex"),
        ("SELECT a FROM t, u WHERE i = u.i(+)", "outer-join-mark-complex"),
    ],
)
def test_limits_and_marks(query: str, construct: str) -> None:
    found = seen(query + ";")
    assert construct in found
    others = {"rownum-limit", "rownum", "outer-join-mark", "outer-join-mark-complex"} - {construct}
    assert not others & found


def test_text_in_strings_comments_and_quoted_names_is_never_seen() -> None:
    text = 'SELECT \'NVL(a, 0) FROM dual\' AS "SYSDATE", "ROWNUM" AS r FROM calls /* DECODE(a, 1, 2) */ -- CONNECT BY PRIOR\n;'
    assert seen(text) <= {"folded-quoted-name"}


def test_a_date_whose_default_is_zero_is_a_zero_date() -> None:
    text = "CREATE TABLE t (a DATETIME DEFAULT 0, b DATE DEFAULT '0', c INT DEFAULT 0, d TIMESTAMP DEFAULT CURRENT_TIMESTAMP);\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "mysql")
    assert [s.column for s in catalog.sightings if s.construct == "mysql.zero-date-default"] == [
        text.index("0,") + 1, text.index("'0'") + 1,
    ]  # fmt: skip


def test_types_that_sqlite_has_no_name_for_are_taken_by_their_parts() -> None:
    text = "CREATE TABLE t (a INTEGER UNSIGNED, b NVARCHAR2(20), c LONGTEXT2, d DOUBLE FLOAT, e MONEYISH);\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlite")
    kinds = [logical_type("sqlite", column.type) for column in catalog.objects["table.t"].columns]
    assert [kind.kind if kind is not None else "" for kind in kinds] == ["integer", "text", "large-text", "float", ""]
