"""Writes files whole or not at all."""

import os
from pathlib import Path

from hullsound.errors import SourceError


def make_folder(folder: Path) -> None:
    """Make a folder with its parents. Raises SourceError if that is not possible."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise SourceError(
            f"cannot make the folder: {error.strerror}", where=str(folder), hint="Give another folder."
        ) from error


def write_text(path: Path, text: str) -> None:
    """Write a text file whole: into a new file first, which then takes its place. Raises SourceError."""
    write_bytes(path, text.encode())


def write_bytes(path: Path, content: bytes) -> None:
    """Write a file whole: into a new file first, which then takes its place. Raises SourceError."""
    fresh = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        fresh.write_bytes(content)
        fresh.replace(path)
    except OSError as error:
        fresh.unlink(missing_ok=True)
        raise SourceError(
            f"cannot write the file: {error.strerror}", where=str(path), hint="Check rights and free space."
        ) from error
