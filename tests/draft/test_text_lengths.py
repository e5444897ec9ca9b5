"""Lengths of texts, tests that take NULL for NULL and joined texts on Oracle: in queries, and in PL/SQL outside of them."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLE = "CREATE TABLE stay (id int NOT NULL PRIMARY KEY, a varchar(10) NULL, b varchar(10) NULL);\n"


def written(script: str, engine: str, name: str) -> str:
    """Return the draft of an object; '' where it is not promised."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", TABLE + script, "")], engine), "oracle:19")
    draft = next(each for each in steps.draft_case(case).drafts if each.object.name.lower() == name)
    return draft.text if draft.is_promised and draft.is_finished else ""


@pytest.mark.parametrize("engine", ["mysql", "postgresql"])
@pytest.mark.parametrize(
    ("value", "expected"),
    [
        ("CHAR_LENGTH(a)", "LENGTH(a)"),
        ("CHAR_LENGTH(REPLACE(a, ',', ''))", "NVL2(a, NVL(LENGTH(REPLACE(a, ',', '')), 0), NULL)"),
        ("CHAR_LENGTH(REPLACE(a, ',', b))", "LENGTH(REPLACE(a, ',', b))"),
        ("CHAR_LENGTH(TRIM(COALESCE(a, '')))", "NVL(LENGTH(TRIM(COALESCE(a, ''))), 0)"),
    ],
)
def test_a_text_that_has_become_empty_has_the_length_0(engine: str, value: str, expected: str) -> None:
    assert f"SELECT {expected} AS n" in written(f"CREATE VIEW v AS SELECT {value} AS n FROM stay;\n", engine, "v")


TSQL = """
CREATE FUNCTION dbo.f(@t varchar(100)) RETURNS int AS
BEGIN
  DECLARE @s varchar(100) = ''
  WHILE LEN(@s) < 5 SET @s = @s + 'x'
  IF @s <> @t SET @s = 'y'
  RETURN LEN(@t) - LEN(REPLACE(@t, ',', ''))
END
"""


def test_lengths_in_code_use_what_plsql_knows() -> None:
    text = written(TSQL, "sqlserver", "f")
    assert "WHILE NVL(LENGTH(RTRIM(v_s)), 0) < 5 LOOP" in text and "NVL2" not in text
    assert "IF NVL(lower(rtrim(v_s)), CHR(0)) <> lower(rtrim(v_t)) THEN" in text
    assert "CASE WHEN v_t IS NOT NULL THEN NVL(LENGTH(RTRIM(REPLACE(v_t, ',', ''))), 0) END" in text


PSM = """
CREATE FUNCTION f(p varchar(10), q varchar(10)) RETURNS int DETERMINISTIC
BEGIN
  IF NOT (p <=> q) THEN RETURN 1; END IF;
  IF CONCAT_WS('-', p, q) = 'a-b' THEN RETURN 2; END IF;
  RETURN 3;
END;
"""


def test_functions_of_sql_alone_stay_out_of_plsql() -> None:
    text = written(PSM, "mysql", "f")
    assert text and "DECODE" not in text and "NVL2" not in text
    digest = "CREATE FUNCTION f(p varchar(10)) RETURNS varchar(40) DETERMINISTIC RETURN SHA1(p);\n"
    assert not written(digest, "mysql", "f")
