"""Constants that a program takes from another file of its application: Tables.CALLS, queries.ALL, Names::TABLE."""

from collections.abc import Iterable
from pathlib import Path
from typing import Final

from hullsound.errors import SourceError
from hullsound.survey.files import decode

from .languages import GRAMMARS
from .strings import constants_in
from .texts import Pieces

_MOST_BYTES: Final = 2_000_000
"""Size up to which a file is read for the constants of another."""


class Elsewhere:
    """The constants of the files of an application, each read when another file names it first."""

    def __init__(self, paths: Iterable[Path]) -> None:
        self._files: dict[tuple[str, str], list[Path]] = {}
        for path in paths:
            suffix = path.suffix.lower()
            if suffix in GRAMMARS:
                self._files.setdefault((suffix, path.stem), []).append(path)
        self._known: dict[tuple[str, str], dict[str, Pieces]] = {}

    def constant(self, suffix: str, file: str, name: str) -> Pieces | None:
        """Return the text of a constant of the file with this name and ending; None where no or several files have that name."""
        key = suffix, file
        paths = self._files.get(key, ())
        if len(paths) != 1:
            return None
        if key not in self._known:
            self._known[key] = _read(paths[0], suffix)
        return self._known[key].get(name)


def _read(path: Path, suffix: str) -> dict[str, Pieces]:
    try:
        if path.stat().st_size > _MOST_BYTES:
            return {}
        return constants_in(decode(path.read_bytes(), path.name), suffix)
    except (OSError, SourceError):
        return {}  # is said where the file itself is read
