"""Drafts of SQLite for SQLite: tried in memory, by the library itself, and without touching a file."""

from pathlib import Path

import pytest

from hullsound import steps
from hullsound.demo import scripts_of
from hullsound.errors import TargetError, UsageError
from hullsound.survey.files import ScriptFile
from hullsound.trial.model import Trial

SCHEMA = """CREATE TABLE vessel (imo INTEGER PRIMARY KEY, name TEXT NOT NULL);
INSERT INTO vessel VALUES (1, 'Kestrel');
CREATE VIEW v_vessel AS SELECT name FROM vessel WHERE imo > :least;
"""


def trial_of(text: str, target: str = "sqlite") -> Trial:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlite"), target)
    return steps.try_case(case, steps.draft_case(case))


def test_the_library_accepts_what_is_promised_of_the_demo() -> None:
    case = steps.assess_catalog(steps.survey_scripts(scripts_of("sqlite"), "sqlite"), "sqlite:3.40")
    trial = steps.try_case(case, steps.draft_case(case))
    assert trial.engine.startswith("SQLite 3.")
    assert [(each.id, each.line, each.message) for each in trial.refused()] == []
    assert len(trial.accepted()) >= 40


def test_a_refusal_is_told_at_its_line() -> None:
    trial = trial_of(
        SCHEMA + "CREATE TRIGGER late AFTER INSERT ON vessel BEGIN\n  UPDATE vessel SET name = 'x' LIMIT 1;\nEND;\n"
    )
    refused = {each.id: each for each in trial.refused()}
    assert set(refused) == {"view.v_vessel", "trigger.late"}
    assert "parameters" in refused["view.v_vessel"].message
    assert refused["trigger.late"].line == 5


def test_rows_leave_nothing_behind_and_schemas_are_attached() -> None:
    row = "INSERT INTO dock.crane VALUES (1);\n"
    view = "CREATE VIEW dock.v_crane AS SELECT id FROM dock.crane;\n"
    trial = trial_of(f"CREATE TABLE dock.crane (id INTEGER PRIMARY KEY);\n{row}{view}{row}")
    assert not trial.refused()
    assert sum(each.id.startswith("data.") for each in trial.results) == 2


def test_no_file_is_opened_and_no_setting_changed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    trial_of(
        SCHEMA + "ATTACH 'evil.db' AS evil;\nVACUUM INTO 'copy.db';\nPRAGMA journal_mode = DELETE;\n"
        "CREATE VIEW v_load AS SELECT load_extension('x.so') AS l;\n"
    )
    assert list(tmp_path.iterdir()) == []


def test_other_versions_lack_what_came_later() -> None:
    text = SCHEMA + "CREATE VIEW v_doc AS SELECT name ->> '$.a' AS a FROM vessel;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlite"), "sqlite:3.35")
    outcomes = {item.id: item.outcome for item in case.document.objects}
    assert outcomes["view.v_doc"] == "rewrite"
    assert outcomes["view.v_vessel"] == "as-is"


def test_sqlite_is_a_target_for_itself_alone() -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", "CREATE TABLE t (a INT);", "")], "mysql")
    with pytest.raises(UsageError, match="sqlite is a target for sqlite alone, not for mysql"):
        steps.assess_catalog(catalog, "sqlite")


def test_a_file_is_not_taken_as_a_server() -> None:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", SCHEMA, "")], "sqlite"), "sqlite")
    with pytest.raises(TargetError, match="in memory"):
        steps.try_case(case, steps.draft_case(case), "sqlite:///x.db")
