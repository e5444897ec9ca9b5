"""Numbers beside texts in SQLite: what its affinity decides is written out, and what it alone decides is not promised."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLE = "CREATE TABLE t (a INTEGER, e REAL, c TEXT, d DATETIME);\n"
TARGETS = ("postgresql:18", "mariadb:10.11", "mysql:8.4", "sqlserver:2022", "oracle:19")


def reasons(condition: str, target: str) -> str:
    """Return why a view with a condition is not promised; '' if it is."""
    script = f"{TABLE}CREATE VIEW v AS SELECT a FROM t WHERE {condition};\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("t.sql", script, "")], "sqlite"), target)
    draft = next(each for each in case.drafts.drafts if each.object.type.value == "view")
    return "" if draft.is_promised else " ".join(each.message for each in case.document.findings)


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize(
    ("condition", "reason"),
    [
        ("strftime('%Y', d) = 2024", "never finds equal"),
        ("substr(c, 1, 1) = 1", "never finds equal"),
        ("length(c) = '4'", "never finds equal"),
        ("a + 0 IN ('7')", "never finds equal"),
        ("nullif(a, '7') IS NULL", "never finds equal"),
        ("a BETWEEN 1 AND 9 AND '7' IN (a)", "never finds equal"),
        ("a = c", "those that look like numbers"),
        ("a = 'seven'", "a text that is none"),
        ("d > 2023", "does not read as a moment"),
    ],
)
def test_what_only_affinity_decides_is_not_promised(condition: str, reason: str, target: str) -> None:
    assert reason in reasons(condition, target)


@pytest.mark.parametrize("target", TARGETS)
@pytest.mark.parametrize("condition", ["a = '7'", "a > '5'", "a IN ('7', '8')", "c = 'Quay'", "a = 7.0"])
def test_what_the_target_decides_alike_is_promised(condition: str, target: str) -> None:
    assert reasons(condition, target) == ""


@pytest.mark.parametrize(
    ("row", "is_promised"), [("1, 2, x'FF', NULL", False), ("x'FF', 2, 'a', NULL", False), ("1, 2, 'a', NULL", True)]
)
def test_bytes_in_columns_of_other_values_are_left_to_a_person(row: str, is_promised: bool) -> None:
    script = ScriptFile("t.sql", f"{TABLE}INSERT INTO t VALUES ({row});\n", "")
    for target in TARGETS:
        drafts = steps.assess_catalog(steps.survey_texts([script], "sqlite"), target).drafts.drafts
        (rows,) = (each for each in drafts if each.object.type.value == "data")
        assert rows.is_promised == is_promised
