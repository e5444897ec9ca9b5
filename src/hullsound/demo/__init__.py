"""The demo harbour, Kestrel Bay: made-up systems of a harbour authority, as package data."""

import shutil
from importlib.resources import as_file, files
from pathlib import Path

from hullsound.errors import SourceError


def copy_scripts(engine: str, folder: Path) -> Path:
    """Copy the scripts of one source engine below `folder`; return where they are.

    Raises SourceError if the folder cannot be written.
    """
    goal = folder / f"{engine}-scripts"
    try:
        with as_file(files(__package__) / engine) as scripts:
            shutil.copytree(scripts, goal, dirs_exist_ok=True)
    except OSError as error:
        where = error.filename or str(goal)
        raise SourceError(
            f"cannot copy the demo: {error.strerror}", where=str(where), hint="Give another folder."
        ) from error
    return goal
