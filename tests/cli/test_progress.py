"""How far a long step is: shown on a terminal with the time that is left, nowhere else."""

import os
import pty
import subprocess
import sys
from pathlib import Path

import pytest


@pytest.fixture
def scripts(tmp_path: Path) -> Path:
    folder = tmp_path / "scripts"
    folder.mkdir()
    for n in range(40):
        (folder / f"berth{n}.sql").write_text(f"CREATE TABLE berths{n} (id NUMBER(5) PRIMARY KEY);\n", encoding="utf-8")
    return folder


def on_a_terminal(*arguments: str | Path) -> str:
    """Run the command with a pseudo-terminal for its messages, and return them."""
    ours, theirs = pty.openpty()
    command = [sys.executable, "-m", "hullsound", *map(str, arguments)]
    environment = {**os.environ, "COLUMNS": "120", "TERM": "xterm"}
    with subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=theirs, env=environment) as process:
        os.close(theirs)
        parts: list[bytes] = []
        try:
            while part := os.read(ours, 65536):
                parts.append(part)
        except OSError:  # what Linux says at the end of a terminal
            pass
        finally:
            os.close(ours)
        assert process.wait(timeout=60) == 0
    return b"".join(parts).decode()


def test_a_terminal_shows_steps_and_the_time_that_is_left(scripts: Path, tmp_path: Path) -> None:
    hull = tmp_path / "desk.hull"
    surveyed = on_a_terminal("survey", scripts, "--from", "oracle", "-o", hull)
    assert "40/40" in surveyed
    assert "left" in surveyed
    assert "left" in on_a_terminal("report", hull, "--to", "postgresql:18", "-o", tmp_path / "report")


def test_quiet_shows_none(scripts: Path, tmp_path: Path) -> None:
    told = on_a_terminal("survey", scripts, "--from", "oracle", "-o", tmp_path / "desk.hull", "--quiet")
    assert "left" not in told
