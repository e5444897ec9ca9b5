"""Decimals without a scale are floats on SQL Server: drafts tell where a computed one is compared, rounded or kept."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLE = "CREATE TABLE boats (id NUMBER(9) PRIMARY KEY, fee NUMBER, fuel NUMBER(8,2));"


def _told(code: str, target: str = "sqlserver") -> int:
    catalog = steps.survey_texts([ScriptFile("n.sql", f"{TABLE}\n{code}", "")], "oracle")
    case = steps.assess_catalog(catalog, target)
    assert all(draft.is_finished for draft in case.drafts.drafts)
    return sum(each.construct == "convert.binary-float" for each in case.document.findings)


def _function(variables: str, code: str) -> str:
    return f"CREATE OR REPLACE FUNCTION f (n NUMBER, m NUMBER) RETURN NUMBER IS {variables} BEGIN {code} END;\n/\n"


@pytest.mark.parametrize(
    ("variables", "code"),
    [
        ("v NUMBER := 0;", "FOR i IN 1 .. n LOOP v := v + 0.1; END LOOP; IF v = 1 THEN RETURN 1; END IF; RETURN 0;"),
        ("", "RETURN ROUND(n, 2);"),
        ("", "IF n + m > 3 THEN RETURN 1; END IF; RETURN 0;"),
        ("", "RETURN CASE WHEN NVL(n, 0) * 1.5 BETWEEN 1 AND 2 THEN 1 ELSE 0 END;"),
        ("v NUMBER(8,2);", "v := n * 1.075; RETURN v;"),
        ("t NUMBER := 0;", "FOR r IN (SELECT fuel FROM boats) LOOP t := t + r.fuel; END LOOP; RETURN CASE WHEN t > n THEN t END;"),
        ("t NUMBER;", "SELECT SUM(fee) INTO t FROM boats; IF t = 3 THEN RETURN 1; END IF; RETURN 0;"),
    ],
)  # fmt: skip
def test_computed_floats_that_show(variables: str, code: str) -> None:
    assert _told(_function(variables, code)) >= 1
    assert _told(_function(variables, code), "mysql") == 0


@pytest.mark.parametrize(
    ("variables", "code"),
    [
        ("v NUMBER := 0;", "FOR i IN 1 .. n LOOP v := v + 1; END LOOP; IF v = 10 THEN RETURN 1; END IF; RETURN 0;"),
        ("", "IF n < m THEN RETURN 1; END IF; RETURN n + m;"),
        ("v NUMBER;", "SELECT COUNT(*) INTO v FROM boats; IF v + n > 10 THEN RETURN 1; END IF; RETURN 0;"),
        ("v NUMBER;", "SELECT SUM(fuel) INTO v FROM boats; IF v = 0.3 THEN RETURN 1; END IF; RETURN 0;"),
        ("v NUMBER(8,2);", "SELECT fuel * 2 INTO v FROM boats WHERE id = 1; IF v = 0.3 THEN RETURN 1; END IF; RETURN v;"),
    ],
)  # fmt: skip
def test_floats_that_are_what_was_put_in(variables: str, code: str) -> None:
    assert _told(_function(variables, code)) == 0


def test_columns_keep_computed_floats() -> None:
    procedure = "CREATE OR REPLACE PROCEDURE p (n NUMBER) IS BEGIN {} END;\n/\n"
    assert _told(procedure.format("UPDATE boats SET fuel = fuel * n WHERE id = 1;")) == 1
    assert _told(procedure.format("INSERT INTO boats (id, fuel) VALUES (1, n / 3);")) == 1
    assert _told(procedure.format("UPDATE boats SET fuel = n, fee = fee * 1.1 WHERE fee > n;")) == 0


def test_views_compute_too() -> None:
    assert _told("CREATE VIEW v AS SELECT id FROM boats WHERE fee + fuel > 3;") == 1
    assert (
        _told("CREATE VIEW v AS SELECT id, ROUND(fuel * 1.1, 1) AS r, fee + fuel AS s FROM boats WHERE fee + 1 > 3;")
        == 0
    )


def test_a_float_as_a_text() -> None:
    code = "CREATE OR REPLACE FUNCTION f (n NUMBER) RETURN VARCHAR2 IS BEGIN RETURN 'boat ' || n; END;\n/\n"
    catalog = steps.survey_texts([ScriptFile("n.sql", code, "")], "oracle")
    (draft,) = steps.assess_catalog(catalog, "sqlserver").drafts.drafts
    assert draft.is_finished
    assert "FORMAT(@n, '#.####" in draft.text
