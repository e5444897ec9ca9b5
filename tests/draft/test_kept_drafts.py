"""Drafts that the hull file keeps: taken from there as long as they hold, and written anew otherwise."""

import sqlite3
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.catalog.judgements import put_trial
from hullsound.draft.model import DraftSet
from hullsound.steps import assess
from hullsound.survey.files import ScriptFile

SCRIPT = """
CREATE TABLE berths (id NUMBER(9) PRIMARY KEY, name VARCHAR2(40) NOT NULL);
CREATE VIEW long_berths AS SELECT NVL(name, 'none') AS name FROM berths;
CREATE FUNCTION name_of(p NUMBER) RETURN VARCHAR2 IS v VARCHAR2(40); BEGIN
  SELECT name INTO v FROM berths WHERE id = p; RETURN v; END;
/
CREATE PROCEDURE tell IS BEGIN UTL_HTTP.REQUEST('x'); UPDATE berths SET name = 'x'; END;
/
"""
TARGET = "postgresql:18"


@pytest.fixture
def hull(tmp_path: Path) -> Path:
    path = tmp_path / "desk.hull"
    steps.save_hull(path, steps.survey_texts([ScriptFile("a.sql", SCRIPT, "")], "oracle"))
    return path


def told(made: DraftSet) -> list[tuple[object, ...]]:
    return [(d.object.id, d.outcome, d.text, d.is_finished, d.edits, d.written) for d in made.drafts]


def refuse_to_draft(monkeypatch: pytest.MonkeyPatch) -> None:
    def refuse(*_: object) -> None:
        raise AssertionError("drafted again")

    for name in ("draft_all", "draft_promised", "add_stand_ins"):
        monkeypatch.setattr(assess, name, refuse)


def test_drafts_are_written_once(hull: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    first = steps.assess_hull(hull, TARGET).drafts
    refuse_to_draft(monkeypatch)
    again = steps.assess_hull(hull, TARGET).drafts
    assert told(again) == told(first)
    assert (again.schemas, again.skipped(), again.converted()) == (first.schemas, first.skipped(), first.converted())
    stand_in = next(draft for draft in again.drafts if draft.object.id == "procedure.tell")
    assert stand_in.text
    assert not stand_in.is_finished


def test_a_refused_draft_gets_its_stand_in(hull: Path) -> None:
    assert all(draft.text for draft in steps.assess_hull(hull, TARGET).drafts.drafts)
    put_trial(hull, TARGET, "PostgreSQL 18", [("function.name_of", False, "no", 0, 1.0)])
    made = steps.assess_hull(hull, TARGET).drafts
    refused = next(draft for draft in made.drafts if draft.object.id == "function.name_of")
    assert not refused.is_finished
    assert "CREATE" in refused.text


@pytest.mark.parametrize(
    "damage", ["DELETE FROM draft WHERE piece = 1", "UPDATE draft SET content = x'00'", "DELETE FROM draft"]
)
def test_damaged_drafts_are_written_anew(hull: Path, damage: str) -> None:
    first = steps.assess_hull(hull, TARGET).drafts
    with sqlite3.connect(hull) as connection:
        connection.execute(damage)
    connection.close()
    assert told(steps.assess_hull(hull, TARGET).drafts) == told(first)


def test_an_unchanged_source_is_not_drafted_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    scripts, hull = tmp_path / "scripts", tmp_path / "desk.hull"
    scripts.mkdir()
    (scripts / "a.sql").write_text(SCRIPT, encoding="utf-8")
    steps.survey_into(hull, scripts, "oracle")
    first = steps.assess_hull(hull, TARGET).drafts
    put_trial(hull, TARGET, "PostgreSQL 18", [("view.long_berths", True, "", 0, 1.0)])
    monkeypatch.setattr("hullsound.steps.survey.now", lambda: "2031-01-01T00:00:00Z")
    assert steps.survey_into(hull, scripts, "oracle").is_unchanged
    with monkeypatch.context() as patched:
        refuse_to_draft(patched)
        case = steps.assess_hull(hull, TARGET)
        assert told(case.drafts) == told(first)
        assert case.document.trial.accepted == 1
    (scripts / "a.sql").write_text(SCRIPT.replace("'none'", "'no name'"), encoding="utf-8")
    assert not steps.survey_into(hull, scripts, "oracle").is_unchanged
    case = steps.assess_hull(hull, TARGET)
    assert any("no name" in draft.text for draft in case.drafts.drafts)
    assert case.document.trial.accepted == 0
