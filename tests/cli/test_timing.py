"""Where the time goes: steps that add up, and the objects that took longest, from this process and from others."""

import re
import subprocess
import sys
import time
from pathlib import Path

import pytest

from hullsound import timing
from hullsound.timing import Timings
from hullsound.workers import Workers


def test_steps_within_steps_count_once() -> None:
    timings = Timings()
    with timings.step("outer"):
        time.sleep(0.02)
        with timings.step("inner"):
            time.sleep(0.05)
            timings.note(0.04, "a")
            timings.note(0.01, "b")
    steps = dict(timings.steps())
    assert steps["inner"] >= 0.05
    assert 0.02 <= steps["outer"] < 0.05
    assert steps["in all"] == pytest.approx(sum(seconds for name, seconds in steps.items() if name != "in all"))
    assert timings.slowest(1) == [(0.04, "inner", "a")]


@pytest.mark.parametrize("jobs", [1, 2])
def test_pieces_are_timed_where_they_are_worked_on(monkeypatch: pytest.MonkeyPatch, jobs: int) -> None:
    timings = Timings()
    monkeypatch.setattr(timing, "_timings", timings)
    with timing.step("sleep"):
        done = list(
            Workers(jobs).map(lambda n: time.sleep(0.03 if n == 3 else 0) or n, [1] * 6, 0, names="piece {}".format)
        )
    assert done == [0, 1, 2, 3, 4, 5]
    (slowest,) = timings.slowest(1)
    assert slowest.seconds >= 0.03
    assert slowest[1:] == ("sleep", "piece 3")


def test_the_command_tells_steps_and_slowest_objects(tmp_path: Path) -> None:
    script = tmp_path / "a.sql"
    script.write_text("CREATE TABLE berths (id NUMBER(5) PRIMARY KEY);\n", encoding="utf-8")
    hull = tmp_path / "a.hull"

    def told(*arguments: str | Path) -> str:
        command = [sys.executable, "-m", "hullsound", "--timing", *map(str, arguments)]
        return subprocess.run(command, capture_output=True, text=True, check=True).stderr

    assert "write the hull file" in told("survey", script, "--from", "oracle", "-o", hull)
    assessed = told("assess", hull, "--to", "postgresql:18")
    assert re.search(r"draft +\d+\.\d\d", assessed)
    assert re.search(r"\d\.\d\d +draft +table\.berths", assessed)
