"""Findings and objects as rows, and CSV that a spreadsheet opens without running anything."""

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Final

from hullsound.assess.model import Finding

from .document import Document

FINDING_COLUMNS: Final = (
    "severity", "way", "construct", "object", "file", "line", "column", "excerpt", "message", "remedy",
    "minutes low", "minutes likely", "minutes high", "accepted by", "accepted because",
)  # fmt: skip
OBJECT_COLUMNS: Final = (
    "rank", "outcome", "type", "object", "lines", "dependents", "hours", "file", "line", "reason", "proven",
    "cases", "cases alike",
)  # fmt: skip
_FORMULA_STARTS: Final = ("=", "+", "-", "@", "\t", "\r")


def finding_rows(findings: Iterable[Finding]) -> list[tuple[object, ...]]:
    return [
        (f.severity.value, f.way.value, f.construct, f.object, f.file, f.line, f.column, f.excerpt, f.message, f.remedy,
         *f.effort_minutes, *((f.accepted.owner, f.accepted.reason) if f.accepted else ("", "")))
        for f in findings
    ]  # fmt: skip


def object_rows(document: Document) -> list[tuple[object, ...]]:
    return [
        (o.rank, o.outcome.value, o.type, o.id, o.lines, o.dependents, round(o.hours, 2), o.file, o.line,
         o.reason, "yes" if o.proven else "", *((o.cases, o.alike) if o.cases else ("", "")))
        for o in document.objects
    ]  # fmt: skip


def csv_text(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Return rows as CSV (RFC 4180). Text that a spreadsheet would take for a formula gets an apostrophe before it."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows([_safe(cell) for cell in row] for row in rows)
    return stream.getvalue()


def _safe(cell: object) -> object:
    if not isinstance(cell, str):
        return cell
    cell = " ".join(cell.replace("\0", "").splitlines())
    return f"'{cell}" if cell.startswith(_FORMULA_STARTS) else cell
