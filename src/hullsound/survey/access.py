"""Reads Microsoft Access files through the mdbtools programs, where they are installed."""

import hashlib
import shutil
import subprocess
from pathlib import Path
from typing import Final

from hullsound.errors import SourceError

from .files import ScriptFile

SUFFIXES: Final = frozenset((".mdb", ".accdb"))
_SECONDS: Final = 120
_WORDS: Final = (("Memo/Hyperlink", "Memo"),)
"""Names of types that mdb-schema writes with signs in them."""


def read_schema(path: Path) -> ScriptFile:
    """Return the definitions of an Access file as a script, in the form that mdb-schema gives for Access itself.

    Raises SourceError if the programs are missing, or cannot read the file.
    """
    program = shutil.which("mdb-schema")
    if program is None:
        raise SourceError(
            "Access files are read through mdbtools, which is not installed", where=str(path),
            hint="Install it: apt-get install mdbtools. Or export a list of fields and survey that as CSV.",
        )  # fmt: skip
    try:
        digest = hashlib.sha256(path.read_bytes()).hexdigest()
        # The path is one argument of a program, not of a shell; -- keeps it from being taken for an option.
        done = subprocess.run(  # noqa: S603
            [program, "--", str(path.resolve()), "access"], capture_output=True, text=True, timeout=_SECONDS, check=False,
            errors="replace",
        )  # fmt: skip
    except (OSError, subprocess.TimeoutExpired) as error:
        raise SourceError(
            f"cannot read the Access file: {error}", where=str(path), hint="Try mdb-schema by hand."
        ) from error
    if done.returncode or not done.stdout.strip():
        reason = done.stderr.strip().split("\n")[0] or "it holds no tables"
        raise SourceError(
            f"not an Access file that can be read: {reason}", where=str(path), hint="Try mdb-schema by hand."
        )
    text = done.stdout
    for written, plain in _WORDS:
        text = text.replace(written, plain)
    return ScriptFile(path.name, text, digest)
