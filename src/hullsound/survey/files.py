"""Finding script files and turning their bytes into text."""

import hashlib
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from hullsound.errors import SourceError

SUFFIXES: Final = frozenset(
    (".sql", ".ddl", ".pks", ".pkb", ".pck", ".pls", ".plb", ".prc", ".fnc", ".trg", ".vw", ".typ", ".tps", ".tpb", ".syn",
     ".seq", ".tab", ".ind", ".con", ".grt", ".pkg", ".spc", ".bdy", ".txt")
)  # fmt: skip
"""Endings under which shops keep scripts; other files of a folder are passed over and counted."""
_BOMS: Final = ((b"\xef\xbb\xbf", "utf-8"), (b"\xff\xfe", "utf-16-le"), (b"\xfe\xff", "utf-16-be"))


@dataclass(frozen=True, slots=True)
class ScriptFile:
    """One file of the source: its path as reports show it, and its text."""

    name: str
    text: str
    digest: str


def find_scripts(source: Path) -> list[Path]:
    """List the script files of a folder, or the file itself, in a stable order.

    Raises SourceError if the source does not exist, cannot be entered or holds no script.
    """
    if not source.exists():
        raise SourceError("no such file or folder", where=str(source), hint="Give a folder or a file of SQL scripts.")
    if source.is_file():
        return [source]
    found: list[Path] = []

    def refuse(error: OSError) -> None:
        raise SourceError(
            f"cannot enter the folder: {error.strerror}", where=str(error.filename), hint="Check its access rights."
        ) from error

    for folder, folders, files in os.walk(source, onerror=refuse):
        folders[:] = sorted(f for f in folders if not f.startswith("."))
        found += (Path(folder) / f for f in sorted(files) if Path(f).suffix.lower() in SUFFIXES)
    if not found:
        raise SourceError("no SQL scripts here", where=str(source), hint=f"Files read: {' '.join(sorted(SUFFIXES))}")
    return found


def read_all(source: Path) -> tuple[list[ScriptFile], list[SourceError]]:
    """Read all scripts of a source. A file of a folder that cannot be read is returned as its error.

    Raises SourceError if the source is no folder or file of scripts, or none of its files can be read.
    """
    paths = find_scripts(source)
    read: list[ScriptFile] = []
    errors: list[SourceError] = []
    for path in paths:
        try:
            read.append(read_script_file(path, source))
        except SourceError as error:
            errors.append(error)
    if not read:
        raise errors[0]
    return read, errors


def read_script_file(path: Path, root: Path) -> ScriptFile:
    """Read and decode one file. Raises SourceError if it cannot be read or is not text."""
    try:
        data = path.read_bytes()
    except OSError as error:
        raise SourceError(
            f"cannot read the file: {error.strerror}", where=str(path), hint="Check its access rights."
        ) from error
    name = path.relative_to(root).as_posix() if path != root and path.is_relative_to(root) else path.name
    text = decode(data, str(path))
    return ScriptFile(name, text, hashlib.sha256(data).hexdigest())


def decode(data: bytes, where: str) -> str:
    """Decode script bytes: by byte order mark, else UTF-8, else Windows-1252. Raises SourceError for binary data."""
    for mark, encoding in _BOMS:
        if data.startswith(mark):
            return data[len(mark) :].decode(encoding, errors="replace")
    sample = data[:65536]
    if b"\0" in sample:
        raise SourceError("a binary file, not a script", where=where, hint="Give files of SQL text.")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")
