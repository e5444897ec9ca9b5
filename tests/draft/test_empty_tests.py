"""Texts that may be empty, compared on Oracle, where an empty text is NULL."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLE = "CREATE TABLE stay (id int NOT NULL PRIMARY KEY, a varchar(10) NULL, b varchar(10) NULL);\n"


def written(test: str, engine: str) -> str:
    """Return what follows WHERE in the draft of a view; '' where it is not promised."""
    script = f"{TABLE}CREATE VIEW v AS SELECT id FROM stay WHERE {test};\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), "oracle:19")
    draft = next(each for each in steps.draft_case(case).drafts if each.object.name.lower() == "v")
    return draft.text.partition(" WHERE ")[2].strip() if draft.is_promised and draft.is_finished else ""


@pytest.mark.parametrize(
    ("test", "expected"),
    [
        ("a = ''", "a IS NULL;"),
        ("'' < a", "a IS NOT NULL;"),
        ("'' >= a", "a IS NULL;"),
        ("a >= ''", ""),
        ("a <> b", "a <> b;"),
        ("COALESCE(a, '') <> COALESCE(b, '')", "NVL(COALESCE(a, ''), CHR(0)) <> NVL(COALESCE(b, ''), CHR(0));"),
        ("trim(COALESCE(a, '')) <> 'x'", "NVL(trim(COALESCE(a, '')), CHR(0)) <> 'x';"),
        ("COALESCE(a, 'y') <> 'x'", "COALESCE(a, 'y') <> 'x';"),
        ("a NOT IN ('', 'x')", "a NOT IN ('x');"),
        ("a IN ('', 'x')", "(a IS NULL OR a IN ('x'));"),
        ("COALESCE(a, '') NOT IN ('x', 'y')", "NVL(COALESCE(a, ''), CHR(0)) NOT IN ('x', 'y');"),
        ("COALESCE(a, '') NOT LIKE 'x%'", "(COALESCE(a, '') IS NULL OR COALESCE(a, '') NOT LIKE 'x%');"),
        ("COALESCE(a, '') LIKE 'x%'", "COALESCE(a, '') LIKE 'x%';"),
        ("a BETWEEN '' AND 'x'", ""),
        ("CASE WHEN id = 1 THEN '' ELSE a END <> b", ""),
        ("CASE a WHEN '' THEN 1 ELSE 2 END = 1", ""),
    ],
)
def test_tests_of_texts_of_postgresql(test: str, expected: str) -> None:
    assert written(test, "postgresql") == expected


def test_cases_and_blanks_are_folded_inside() -> None:
    assert written("ISNULL(a, '') <> ISNULL(b, '')", "sqlserver") == (
        "NVL(lower(rtrim(NVL(a, ''))), CHR(0)) <> NVL(lower(rtrim(NVL(b, ''))), CHR(0));"
    )


def test_an_empty_text_of_ase_is_a_blank() -> None:
    assert written("a = ''", "ase") == "a = ' ';"
