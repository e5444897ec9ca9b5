"""Writes reports into a folder; a file appears whole or not at all."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from hullsound.errors import UsageError
from hullsound.storage import make_folder, write_bytes
from hullsound.timing import step

from .formats.model import Reportable, format_names, writer_of

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write_reports(
    case: Reportable,
    folder: Path,
    formats: Sequence[str],
    progress: Callable[[str, int, int], None] = lambda *_: None,
    planning: "Planning | None" = None,
) -> list[Path]:
    """Write the reports of these formats; return their paths, those of the first format first.

    With a planning they hold that as well. `progress` is called before each with its name, how many are written, and how many
    there are. Raises UsageError for an unknown format, SourceError if the folder cannot be written.
    """
    unknown = [name for name in formats if name not in format_names()]
    if unknown:
        raise UsageError(
            f"unknown format {unknown[0]!r}", where="--format", hint=f"Formats: {', '.join(format_names())}."
        )
    make_folder(folder)
    paths: list[Path] = []
    for done, name in enumerate(formats):
        progress(f"report {name}", done, len(formats))
        with step(f"report {name}"):
            for file, content in writer_of(name)(case, planning).items():
                write_bytes(folder / file, content)
                paths.append(folder / file)
    return paths
