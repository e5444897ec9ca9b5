"""Writes reports into a folder; a file appears whole or not at all."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Final, Protocol

import msgspec

from hullsound.errors import UsageError
from hullsound.storage import make_folder, write_text

from .document import Document
from .table import FINDING_COLUMNS, OBJECT_COLUMNS, csv_text, finding_rows, object_rows

if TYPE_CHECKING:
    from hullsound.assess.model import Assessment
    from hullsound.catalog.model import Catalog
    from hullsound.draft.write import DraftSet


class Reportable(Protocol):
    """What reports are drawn from."""

    catalog: "Catalog"
    assessment: "Assessment"

    @property
    def document(self) -> Document: ...

    @property
    def drafts(self) -> "DraftSet": ...


def write_reports(
    case: Reportable, folder: Path, formats: Sequence[str], progress: Callable[[str, int, int], None] = lambda *_: None
) -> list[Path]:
    """Write the reports of these formats; return their paths, the page first.

    `progress` is called before each with its name, how many are written, and how many there are.

    Raises UsageError for an unknown format, SourceError if the folder cannot be written.
    """
    unknown = [name for name in formats if name not in _WRITERS]
    if unknown:
        raise UsageError(f"unknown format {unknown[0]!r}", where="--format", hint=f"Formats: {', '.join(_WRITERS)}.")
    make_folder(folder)
    paths: list[Path] = []
    for done, name in enumerate(formats):
        progress(f"report {name}", done, len(formats))
        for file, text in _WRITERS[name](case).items():
            write_text(folder / file, text)
            paths.append(folder / file)
    return paths


def _html(case: Reportable) -> dict[str, str]:
    from .html.page import render_page

    return {"index.html": render_page(case.catalog, case.assessment, case.document, case.drafts)}


def _markdown(case: Reportable) -> dict[str, str]:
    from .markdown import render_markdown

    return {"report.md": render_markdown(case.document)}


def _csv(case: Reportable) -> dict[str, str]:
    document = case.document
    return {
        "objects.csv": csv_text(OBJECT_COLUMNS, object_rows(document)),
        "findings.csv": csv_text(FINDING_COLUMNS, finding_rows(document.findings)),
    }


def _json(case: Reportable) -> dict[str, str]:
    return {"assessment.json": msgspec.json.format(msgspec.json.encode(case.document), indent=1).decode() + "\n"}


_WRITERS: Final[dict[str, Callable[[Reportable], dict[str, str]]]] = {
    "html": _html,
    "markdown": _markdown,
    "csv": _csv,
    "json": _json,
}
