"""What tests share: a real PostgreSQL, the example schema, and the demo scripts."""

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from hullsound.errors import TargetError
from hullsound.survey.files import ScriptFile

DATA = Path(__file__).parent / "data"

# How long an example takes depends on what else the machine does: it is for bench/ to tell, and no test may fail by it.
settings.register_profile("hullsound", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("hullsound")


@pytest.fixture(scope="session")
def server_url() -> Iterator[str]:
    """Start one private PostgreSQL for the session; skip where none is installed."""
    from hullsound.trial.postgresql import private_server

    server = private_server()
    try:
        url = server.__enter__()
    except TargetError as error:
        pytest.skip(f"no PostgreSQL: {error}")
    try:
        yield url
    finally:
        server.__exit__(None, None, None)


@pytest.fixture(scope="session")
def example_schema() -> ScriptFile:
    return ScriptFile("schema.sql", (DATA / "example_schema.sql").read_text(encoding="utf-8"), "")


@pytest.fixture(scope="session")
def demo_scripts(tmp_path_factory: pytest.TempPathFactory) -> Path:
    from hullsound.demo import copy_scripts

    return copy_scripts("oracle", tmp_path_factory.mktemp("demo"))


class Mariadb:
    """A private MariaDB: called with a text, it returns what is said against it; `value` gives what a query prints."""

    def __init__(self, command: list[str]) -> None:
        self.command = command

    def _run(self, text: str, mode: str) -> subprocess.CompletedProcess[str]:
        script = f"SET sql_mode = '{mode}'\x01{text}\x01"
        return subprocess.run(self.command, input=script, capture_output=True, text=True, check=False, timeout=60)

    def __call__(self, text: str, mode: str = "") -> str:
        return self._run(text, mode).stderr

    def value(self, text: str, mode: str = "") -> str:
        done = self._run(text, mode)
        assert not done.stderr, done.stderr
        return done.stdout.strip()


@pytest.fixture(scope="session")
def mariadb_socket() -> Iterator[Path]:
    """Start one private MariaDB for the session and yield its socket; skip where none is installed."""
    from hullsound.trial.mariadb import private_mariadb, root_connection

    missing = [name for name in ("mariadbd", "mariadb-install-db", "mariadb") if shutil.which(name) is None]
    if missing:
        pytest.skip(f"no MariaDB: {', '.join(missing)} not installed")
    with private_mariadb() as socket, root_connection(socket):
        yield socket


@pytest.fixture(scope="session")
def mariadb(mariadb_socket: Path) -> Mariadb:
    """Return what asks the private MariaDB of the session."""
    return Mariadb(
        ["mariadb", "--no-defaults", f"--socket={mariadb_socket}", "--user=root", "--delimiter=\x01", "-N", "-B"]
    )


@pytest.fixture
def run() -> Callable[..., subprocess.CompletedProcess[str]]:
    """Return a function that runs hullsound with arguments in a folder."""
    environment = {**os.environ, "NO_COLOR": "1", "COLUMNS": "120"}

    def run_command(*arguments: str, cwd: Path) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "hullsound", *arguments]
        return subprocess.run(command, capture_output=True, text=True, env=environment, cwd=cwd, check=False)

    return run_command
