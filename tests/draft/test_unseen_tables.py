"""Code over tables that were not surveyed: promised only where the types of their columns decide nothing."""

import pytest

from hullsound import steps
from hullsound.assess.model import Outcome
from hullsound.survey.files import ScriptFile

_DECIDED_BY_TYPES = [
    ("oracle", "postgresql:18", "due + 1"),
    ("oracle", "postgresql:18", "due - arrived"),
    ("oracle", "postgresql:18", "id / 2"),
    ("oracle", "postgresql:18", "TRUNC(due)"),
    ("oracle", "postgresql:18", "TO_CHAR(len)"),
    ("sqlserver", "postgresql:18", "AVG(len)"),
    ("sqlserver", "postgresql:18", "name + place"),
    ("sqlserver", "postgresql:18", "DATEADD(day, 1, due)"),
    ("sqlserver", "postgresql:18", "CASE WHEN is_free = 1 THEN 'y' ELSE 'n' END"),
    ("mysql", "postgresql:18", "len / 2"),
    ("sqlserver", "mariadb:11.8", "len / 2"),
    ("postgresql", "oracle:19", "len / 2"),
    ("oracle", "sqlserver:2022", "due - arrived"),
]
_DECIDED_BY_USE = [
    ("oracle", "postgresql:18", "UPPER(name)"),
    ("oracle", "postgresql:18", "len * 2"),
    ("oracle", "postgresql:18", "NVL(len, 0)"),
    ("oracle", "postgresql:18", "name || place"),
    ("oracle", "postgresql:18", "CASE WHEN len > 12 THEN 'long' ELSE name END"),
    ("sqlserver", "postgresql:18", "LEN(name)"),
    ("sqlserver", "postgresql:18", "name + ' berth'"),
    ("sqlserver", "postgresql:18", "SUM(len)"),
    ("mysql", "postgresql:18", "IFNULL(name, '-')"),
    ("db2", "postgresql:18", "SUBSTR(name, 1, 3)"),
]


def _judged(source: str, target: str, script: str) -> tuple[Outcome, list[str]]:
    end = "\nGO\n" if source == "sqlserver" else ";\n"
    catalog = steps.survey_texts([ScriptFile("code.sql", script + end, "")], source, is_whole=False)
    case = steps.assess_catalog(catalog, target)
    (judged,) = case.assessment.objects
    return judged.outcome, [f.message for f in judged.findings if f.construct == "draft.needs-table"]


@pytest.mark.parametrize(("source", "target", "expression"), _DECIDED_BY_TYPES)
def test_what_types_decide_is_not_promised(source: str, target: str, expression: str) -> None:
    outcome, told = _judged(source, target, f"CREATE VIEW v AS SELECT {expression} AS x FROM berths")
    assert outcome not in (Outcome.AS_IS, Outcome.DRAFTED)
    assert len(told) == 1 and "berths." in told[0]


@pytest.mark.parametrize(("source", "target", "expression"), _DECIDED_BY_USE)
def test_what_its_use_decides_is_promised(source: str, target: str, expression: str) -> None:
    outcome, told = _judged(source, target, f"CREATE VIEW v AS SELECT {expression} AS x FROM berths")
    assert outcome in (Outcome.AS_IS, Outcome.DRAFTED)
    assert not told


def test_what_variables_have_the_types_of_counts_as_well() -> None:
    procedure = """CREATE OR REPLACE PROCEDURE p(p_d berths.due%TYPE) IS v berths.due%TYPE; BEGIN v := p_d + 1; END"""
    outcome, told = _judged("oracle", "postgresql:18", procedure)
    assert outcome is Outcome.CONFIRM
    assert "berths.due: another text if date or timestamp" in told[0]


def test_a_row_type_of_a_table_that_is_not_here_stays() -> None:
    procedure = "CREATE OR REPLACE PROCEDURE p IS r berths%ROWTYPE; BEGIN SELECT * INTO r FROM berths WHERE id = 1; END"
    assert _judged("oracle", "postgresql:18", procedure) == (Outcome.DRAFTED, [])


def test_rows_of_a_trigger_on_a_table_that_is_not_here() -> None:
    trigger = """CREATE TRIGGER t BEFORE UPDATE ON berths FOR EACH ROW
        BEGIN IF :new.due > :old.due + 1 THEN :new.late := 1; END IF; END"""
    outcome, told = _judged("oracle", "postgresql:18", trigger)
    assert outcome is Outcome.CONFIRM
    assert "berths.due" in told[0]


def test_a_table_that_is_surveyed_settles_it() -> None:
    script = "CREATE TABLE berths (due DATE);\nCREATE VIEW v AS SELECT due + 1 AS x FROM berths;\n"
    catalog = steps.survey_texts([ScriptFile("code.sql", script, "")], "oracle", is_whole=False)
    case = steps.assess_catalog(catalog, "postgresql:18")
    assert "interval '1 day'" in case.drafts.drafts[-1].text
    assert not [f for f in case.document.findings if f.construct == "draft.needs-table"]


def test_texts_are_joined_before_a_number_is_added() -> None:
    script = "CREATE TABLE t (c varchar(9) NOT NULL, n int NOT NULL)\nGO\nCREATE VIEW v AS SELECT '1' + c + n AS x FROM t\nGO\n"
    catalog = steps.survey_texts([ScriptFile("code.sql", script, "")], "sqlserver")
    drafts = {
        target: steps.assess_catalog(catalog, target).drafts.drafts[-1] for target in ("postgresql:18", "mariadb:11.8")
    }
    assert "CAST('1' || c AS integer) + n" in drafts["postgresql:18"].text
    assert "CAST(CONCAT('1', c) AS SIGNED) + n" in drafts["mariadb:11.8"].text
    assert all(draft.outcome is Outcome.CONFIRM for draft in drafts.values())
