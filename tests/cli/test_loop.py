"""The loop of fixing and running again: what is kept between runs, and that a second run says the same."""

import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

Run = Callable[..., subprocess.CompletedProcess[str]]
SCRIPT = "CREATE TABLE t (a NUMBER(9) PRIMARY KEY, b BFILE);\nCREATE VIEW v AS SELECT NVL(a, 0) a FROM t;\n"


@pytest.fixture
def folder(tmp_path: Path, run: Run) -> Path:
    (tmp_path / "s").mkdir()
    (tmp_path / "s" / "a.sql").write_text(SCRIPT, encoding="utf-8")
    assert run("survey", "s", "--from", "oracle", "-o", "a.hull", cwd=tmp_path).returncode == 0
    return tmp_path


def test_a_changed_survey_keeps_the_assessments_so_that_changes_can_be_told(folder: Path, run: Run) -> None:
    run("assess", "a.hull", "--to", "mariadb", cwd=folder)
    (folder / "s" / "a.sql").write_text(SCRIPT.replace("b BFILE", "b DATE"), encoding="utf-8")
    run("survey", "s", "--from", "oracle", "-o", "a.hull", cwd=folder)
    run("assess", "a.hull", cwd=folder)
    done = run("changes", "a.hull", cwd=folder)
    assert done.returncode == 0, done.stderr
    assert "went" in done.stdout
    assert "oracle.type-bfile" in done.stdout


def test_commands_take_the_target_that_was_assessed_last_and_name_it(folder: Path, run: Run) -> None:
    run("assess", "a.hull", "--to", "mariadb:10.11", cwd=folder)
    for command in (
        ["findings", "a.hull"],
        ["show", "a.hull", "v"],
        ["types", "a.hull"],
        ["report", "a.hull", "-o", "r"],
    ):
        done = run(*command, cwd=folder)
        assert done.returncode == 0, done.stderr
        assert "mariadb:10.11, which was assessed last" in done.stderr
    assert "mariadb" in run("findings", "a.hull", cwd=folder).stdout


def test_what_is_kept_gives_way_to_a_new_decision(folder: Path, run: Run) -> None:
    first = run("show", "a.hull", "table.t", "--to", "postgresql", cwd=folder).stdout
    assert run("show", "a.hull", "table.t", "--to", "postgresql", cwd=folder).stdout == first
    decision = '[[types]]\nsource = "BFILE"\ntarget = "text"\n'
    (folder / "hullsound.toml").write_text(decision, encoding="utf-8")
    assert run("show", "a.hull", "table.t", "--to", "postgresql", cwd=folder).stdout != first


@pytest.mark.server
def test_a_second_trial_says_what_the_first_said(folder: Path, run: Run, server_url: str) -> None:
    (folder / "s" / "b.sql").write_text(
        "CREATE VIEW w AS SELECT TO_NUMBER('x') + a AS n FROM t GROUP BY a, n;\n", encoding="utf-8"
    )
    run("survey", "s", "--from", "oracle", "-o", "a.hull", cwd=folder)
    outputs = [run("trial", "a.hull", "--to", "postgresql:18", "--on", server_url, "-q", cwd=folder) for _ in range(2)]
    assert outputs[0].stdout == outputs[1].stdout
    assert outputs[0].returncode == outputs[1].returncode


def test_another_engine_than_was_named_is_doubted_aloud(tmp_path: Path, run: Run) -> None:
    text = "CREATE TABLE `t` (`a` int AUTO_INCREMENT, PRIMARY KEY (`a`)) ENGINE=InnoDB;\n" * 2
    (tmp_path / "m.sql").write_text(text, encoding="utf-8")
    done = run("survey", "m.sql", "--from", "oracle", "-o", "m.hull", cwd=tmp_path)
    assert "is --from right?" in done.stderr
    assert "survey.engine-doubted" in run("findings", "m.hull", "--format", "csv", cwd=tmp_path).stdout
