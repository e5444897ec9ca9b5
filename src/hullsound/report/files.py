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
    from hullsound.plan.planning import Planning


class Reportable(Protocol):
    """What reports are drawn from."""

    catalog: "Catalog"
    assessment: "Assessment"

    @property
    def document(self) -> Document: ...

    @property
    def drafts(self) -> "DraftSet": ...


def write_reports(
    case: Reportable,
    folder: Path,
    formats: Sequence[str],
    progress: Callable[[str, int, int], None] = lambda *_: None,
    planning: "Planning | None" = None,
) -> list[Path]:
    """Write the reports of these formats; return their paths, the page first. With a planning they hold that as well.

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
        for file, text in _WRITERS[name](case, planning).items():
            write_text(folder / file, text)
            paths.append(folder / file)
    return paths


def _html(case: Reportable, planning: "Planning | None") -> dict[str, str]:
    from .html.page import render_page

    return {"index.html": render_page(case.catalog, case.assessment, case.document, case.drafts, planning)}


def _markdown(case: Reportable, planning: "Planning | None") -> dict[str, str]:
    from .markdown import render_markdown

    texts = {"report.md": render_markdown(case.document, planning)}
    if planning is not None:
        from .planning.runbook import render_runbook

        texts["runbook.md"] = render_runbook(planning.plan, planning.window)
    return texts


def _csv(case: Reportable, planning: "Planning | None") -> dict[str, str]:
    document = case.document
    texts = {
        "objects.csv": csv_text(OBJECT_COLUMNS, object_rows(document)),
        "findings.csv": csv_text(FINDING_COLUMNS, finding_rows(document.findings)),
    }
    if planning is not None:
        from .planning.tables import plan_csv

        texts |= plan_csv(planning.plan)
    return texts


def _json(case: Reportable, planning: "Planning | None") -> dict[str, str]:
    texts = {"assessment.json": _json_text(case.document)}
    if planning is not None:
        texts["planning.json"] = _json_text(
            {
                "plan": planning.plan,
                "window": planning.window,
                "size": planning.sizing.report if planning.sizing else None,
                "checks": planning.checks,
            }
        )
    return texts


def _json_text(value: object) -> str:
    return msgspec.json.format(msgspec.json.encode(value), indent=1).decode() + "\n"


_WRITERS: Final[dict[str, Callable[[Reportable, "Planning | None"], dict[str, str]]]] = {
    "html": _html,
    "markdown": _markdown,
    "csv": _csv,
    "json": _json,
}
