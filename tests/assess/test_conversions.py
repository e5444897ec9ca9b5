"""What drafts convert is a finding, and no object crosses as it is whose text changes."""

from pathlib import Path

import pytest

from hullsound import steps
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

DEMO = Path(str(steps.__file__)).parents[1] / "demo"


def case_of(text: str, engine: str, target: str = "postgresql:18") -> Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)


def found(text: str, engine: str) -> tuple[str, list[tuple[str, str, int]]]:
    case = case_of(text, engine)
    view = next(each for each in case.document.objects if each.type == "view")
    told = [(f.construct, f.severity, f.line) for f in case.document.findings if f.object == view.id]
    return view.outcome, told


TABLE = "CREATE TABLE t (id int PRIMARY KEY, n int, s varchar(20));\n"


@pytest.mark.parametrize(
    ("view", "engine", "outcome", "told"),
    [
        ("SELECT n FROM t", "mysql", "as-is", []),
        ("SELECT n\nFROM t WHERE n", "mysql", "drafted", [("mysql.column-as-condition", "note", 3)]),
        ("SELECT n\nFROM t WHERE n + 1", "mysql", "drafted", [("convert.truth-value", "note", 3)]),
        ("SELECT NULLIF(n, '') AS a FROM t", "mysql", "drafted", [("convert.constant", "note", 2)]),
        ("SELECT COALESCE(n, s) AS a FROM t", "mysql", "drafted", [("convert.value-as-text", "note", 2)]),
        ("SELECT id FROM t WHERE n = s", "sqlserver", "confirm", [("convert.unlike-types", "warning", 3)]),
        ("SELECT id FROM t WHERE n LIKE '1%'", "sqlserver", "drafted", [("convert.pattern", "note", 3)]),
    ],
)
def test_conversion_is_said_once_with_its_line(
    view: str, engine: str, outcome: str, told: list[tuple[str, str, int]]
) -> None:
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    text = TABLE.replace(";\n", end) + f"CREATE VIEW v AS {view}{end}"
    assert found(text, engine) == (outcome, told)


def test_same_findings_come_from_a_kept_judgement(tmp_path: Path) -> None:
    source = tmp_path / "a.sql"
    source.write_text(f"{TABLE}CREATE VIEW v AS SELECT n FROM t WHERE n + 1;\n", encoding="utf-8")
    hull = tmp_path / "a.hull"
    steps.save_hull(hull, steps.survey_scripts(source, "mysql"))
    first, second = (steps.assess_hull(hull, "postgresql:18").document for _ in range(2))
    assert [f.construct for f in first.findings] == [f.construct for f in second.findings]
    assert "convert.truth-value" in [f.construct for f in second.findings]


@pytest.mark.parametrize("engine", ["oracle", "sqlserver", "ase", "mysql", "sqlite", "db2", "teradata"])
@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.4"])
def test_every_edit_of_the_demos_names_what_asked_for_it(engine: str, target: str) -> None:
    case = steps.assess_catalog(steps.survey_scripts(DEMO / engine, engine), target)
    known = load_constructs(engine).keys() | load_general().keys()
    edits = [edit for draft in case.drafts.drafts for edit in draft.edits]
    assert {edit.construct for edit in edits} - known == set()
    as_is = [draft for draft in case.drafts.drafts if draft.outcome == "as-is"]
    changed = {construct for draft in as_is for construct, _ in draft.written}
    assert changed <= {"draft.heading", "draft.name"}
