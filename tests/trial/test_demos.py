"""The promise itself: whatever is promised of a demo system, the real target accepts."""

import shutil
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.demo import copy_scripts
from hullsound.draft.write import draft_all
from hullsound.trial.run import run_trial

pytestmark = pytest.mark.server

VERSIONS = {
    "oracle": "19",
    "sqlserver": "2016",
    "ase": "15.7",
    "mysql": "8.0",
    "db2": "11.5",
    "teradata": "17",
    "sqlite": "",
}


def refused(engine: str, target: str, folder: Path, url: str = "") -> tuple[int, list[tuple[str, int, str]]]:
    """Return how many objects are promised, and those that the target refuses or that were not drafted."""
    case = steps.assess_catalog(steps.survey_scripts(copy_scripts(engine, folder), engine, VERSIONS[engine]), target)
    drafts = draft_all(case.catalog, case.assessment)
    trial = run_trial(case.catalog, drafts, target, url)
    assert len(trial.accepted()) + len(trial.refused()) == sum(draft.is_promised for draft in drafts.drafts)
    return len(trial.accepted()), [*drafts.skipped(), *((r.id, r.line, r.message) for r in trial.refused())]


@pytest.mark.parametrize(
    ("engine", "at_least"),
    [("oracle", 290), ("mysql", 170), ("sqlserver", 130), ("ase", 35), ("db2", 30), ("teradata", 18), ("sqlite", 25)],
)
def test_postgresql_accepts_what_is_promised(engine: str, at_least: int, tmp_path: Path, server_url: str) -> None:
    accepted, faults = refused(engine, "postgresql:18", tmp_path, server_url)
    assert not faults
    assert accepted >= at_least


@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
@pytest.mark.parametrize(("engine", "at_least"), [("oracle", 190), ("sqlserver", 70), ("mysql", 190)])
def test_mariadb_accepts_what_is_promised(engine: str, at_least: int, tmp_path: Path) -> None:
    accepted, faults = refused(engine, "mariadb:10.11", tmp_path)
    assert not faults
    assert accepted >= at_least
