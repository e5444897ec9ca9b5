"""The built command as a fixture."""

import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest


@pytest.fixture
def run() -> Callable[..., subprocess.CompletedProcess[str]]:
    """Return a function that runs hullsound with arguments in a folder."""
    environment = {**os.environ, "NO_COLOR": "1", "COLUMNS": "120"}

    def run_command(*arguments: str, cwd: Path) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "hullsound", *arguments]
        return subprocess.run(command, capture_output=True, text=True, env=environment, cwd=cwd, check=False)

    return run_command
