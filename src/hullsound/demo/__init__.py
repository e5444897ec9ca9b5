"""The demo harbour, Kestrel Bay: made-up systems of a harbour authority, as package data."""

import shutil
from importlib.resources import as_file, files
from pathlib import Path
from typing import Final, NamedTuple

from hullsound.errors import SourceError, UsageError


class System(NamedTuple):
    """One system of the authority: its name, the version of its engine, and what it is for."""

    name: str
    version: str
    about: str


SYSTEMS: Final = {
    "oracle": System("harbour", "19", "port calls and billing, Oracle"),
    "sqlserver": System("ferry", "2019", "ferry ticketing, SQL Server"),
    "mysql": System("yard", "8.0", "yard and workshop, MySQL"),
    "postgresql": System("visitor", "15", "visitor app, PostgreSQL"),
    "db2": System("payroll", "11.5", "pension and payroll, Db2"),
    "teradata": System("traffic", "17.20", "traffic statistics warehouse, Teradata"),
    "ase": System("fuel", "16", "old fuel billing, ASE"),
    "sqlite": System("tablet", "3.40", "pilot's tablet, SQLite"),
}
"""The systems by the engine they run on."""


PLANNED: Final = "oracle"
"""Engine of the system whose sizes, load, hours and applications are made up as well."""


def copy_scripts(engine: str, folder: Path) -> Path:
    """Copy the scripts of one source engine below `folder`; return where they are.

    Raises SourceError if the folder cannot be written, UsageError if no system runs on that engine.
    """
    if engine not in SYSTEMS:
        raise UsageError(f"no demo for {engine!r}", where="--source", hint=f"Systems: {', '.join(SYSTEMS)}.")
    return _copied(engine, folder, f"{engine}-scripts")


def copy_planning(folder: Path) -> dict[str, Path]:
    """Copy the made-up tables for the plan of the system on PLANNED: sizes, load, prices and hours; return where each is.

    Raises SourceError if the folder cannot be written.
    """
    goal = _copied("planning", folder)
    return {name: goal / f"{name}.csv" for name in ("sizes", "load", "prices", "hours")}


def copy_programs(folder: Path) -> Path:
    """Copy the made-up applications of the system on PLANNED; return where they are.

    Raises SourceError if the folder cannot be written.
    """
    return _copied("programs", folder)


def _copied(what: str, folder: Path, name: str = "") -> Path:
    goal = folder / (name or what)
    try:
        with as_file(files(__package__) / what) as source:
            shutil.copytree(source, goal, dirs_exist_ok=True)
    except OSError as error:
        where = error.filename or str(goal)
        raise SourceError(
            f"cannot copy the demo: {error.strerror}", where=str(where), hint="Give another folder."
        ) from error
    return goal


def scripts_of(engine: str) -> Path:
    """Return the folder of the shipped scripts of one source engine. Raises UsageError if no system runs on it."""
    if engine not in SYSTEMS:
        raise UsageError(f"no demo for {engine!r}", hint=f"Systems: {', '.join(SYSTEMS)}.")
    return Path(__file__).parent / engine
