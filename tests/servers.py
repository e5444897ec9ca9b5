"""Databases on the private servers of the tests, and their addresses."""

import os
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from hullsound.trial.postgresql import scratch_database


@contextmanager
def postgresql_with(server_url: str, script: str = "") -> Iterator[tuple[str, Any]]:
    """Yield the address of a new database that a script has filled, and a connection to it."""
    with scratch_database(server_url) as connection:
        if script:
            connection.execute(script.encode())
            connection.commit()
        head, _, tail = server_url.partition("/postgres?")
        yield f"{head}/{connection.info.dbname}?{tail}", connection


@contextmanager
def debian_postgresql(folder: Path) -> Iterator[str]:
    """Yield the address of a private PostgreSQL of Debian's packages, which knows extensions that the embedded one lacks.

    Skips the test, saying why, where it is not installed.
    """
    homes = sorted(Path("/usr/lib/postgresql").glob("*/bin"))
    if not homes:
        pytest.skip("no PostgreSQL of Debian's packages is installed")
    home, data, who = homes[-1], folder / "data", "postgres" if os.geteuid() == 0 else None
    folder.chmod(0o755)
    data.mkdir()
    if who is not None:
        shutil.chown(data, who)
        shutil.chown(folder, who)
    run = {"user": who, "check": True, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "cwd": "/"}
    subprocess.run([home / "initdb", "-D", data, "-A", "trust", "-U", "owner"], **run)
    options = f"-c listen_addresses= -c fsync=off -k {folder}"
    subprocess.run([home / "pg_ctl", "-D", data, "-o", options, "-l", folder / "log", "-w", "start"], **run)
    try:
        yield f"postgresql://owner@/postgres?host={folder}"
    finally:
        subprocess.run([home / "pg_ctl", "-D", data, "-m", "immediate", "stop"], **run)
