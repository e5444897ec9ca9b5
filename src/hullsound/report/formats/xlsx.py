"""The assessment as a workbook: summary, worklist, findings, types and plan; texts are never taken for formulas."""

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, Final

from hullsound.plan.document import wave_name
from hullsound.report.document import Document
from hullsound.report.table import FINDING_COLUMNS, OBJECT_COLUMNS, finding_rows, object_rows
from hullsound.report.types import map_types
from hullsound.visible import visible

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning

_MOST_ROWS: Final = 1_048_575
"""Rows of a sheet below its head: specifications and limits of Excel."""
_MOST_TEXT: Final = 32_767
_WIDEST: Final = 60
_COLORS: Final = {
    "blocked": "#8c2f4b", "rewrite": "#c4693d", "confirm": "#c79a2b", "drafted": "#3d7fa6", "as-is": "#3f8f6b",
    "blocker": "#8c2f4b", "warning": "#97611c", "note": "#5b6b74",
}  # fmt: skip


def write(case: Reportable, planning: "Planning | None") -> Files:
    import xlsxwriter

    stream = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    with xlsxwriter.Workbook(stream, options) as workbook:
        book = _Book(workbook)
        document = case.document
        book.sheet("Summary", ("what", "value"), _summary(document), filters=False)
        book.sheet("Worklist", OBJECT_COLUMNS, object_rows(document))
        book.sheet("Findings", FINDING_COLUMNS, finding_rows(document.findings))
        types = map_types(case.catalog, str(case.assessment.target), case.assessment.project)
        rows = [(use.source, use.target, use.columns, use.loses, use.chosen_by, use.example) for use in types]
        book.sheet("Types", ("source type", "target type", "columns", "loses", "chosen by", "example"), rows)
        if planning is not None:
            planned = [
                (wave_name(wave.number), each.begins, each.id, each.type, each.outcome, round(each.hours, 2),
                 wave.ends_p50, wave.ends_p80)
                for wave in planning.plan.waves
                for each in wave.objects
            ]  # fmt: skip
            columns = ("wave", "begins", "object", "type", "outcome", "hours", "wave ends P50", "wave ends P80")
            book.sheet("Plan", columns, planned)
    return {"assessment.xlsx": stream.getvalue()}


class _Book:
    """Writes sheets in one look: frozen heads, filters, and widths that fit."""

    def __init__(self, workbook: Any) -> None:
        self.workbook = workbook
        self.head = workbook.add_format(
            {"bold": True, "bg_color": "#eef3f4", "bottom": 1, "text_wrap": True, "valign": "top"}
        )
        self.plain = workbook.add_format({"valign": "top", "text_wrap": True})
        self.number = workbook.add_format({"valign": "top", "num_format": "0.##"})
        self.day = workbook.add_format({"valign": "top", "num_format": "yyyy-mm-dd"})
        self.colored = {
            word: workbook.add_format({"valign": "top", "font_color": color, "bold": True})
            for word, color in _COLORS.items()
        }

    def sheet(
        self, name: str, columns: Sequence[str], rows: Sequence[Sequence[object]], *, filters: bool = True
    ) -> None:
        """Write a sheet; numbers stay numbers, days days, and all else is text."""
        sheet = self.workbook.add_worksheet(name)
        sheet.write_row(0, 0, columns, self.head)
        sheet.freeze_panes(1, 0)
        for number, row in enumerate(rows[:_MOST_ROWS], start=1):
            for place, cell in enumerate(row):
                self._cell(sheet, number, place, cell)
        for place, column in enumerate(columns):
            lengths = [len(str(row[place])) for row in rows[:500]]
            sheet.set_column(place, place, min(max([len(column), *lengths]) + 2, _WIDEST))
        if filters and rows:
            sheet.autofilter(0, 0, min(len(rows), _MOST_ROWS), len(columns) - 1)

    def _cell(self, sheet: Any, row: int, column: int, cell: object) -> None:
        if isinstance(cell, int | float) and not isinstance(cell, bool):
            sheet.write_number(row, column, cell, self.number)
        elif hasattr(cell, "isoformat"):
            sheet.write_datetime(row, column, cell, self.day)
        else:
            text = visible(str(cell))[:_MOST_TEXT]
            sheet.write_string(row, column, text, self.colored.get(text, self.plain))


def _summary(document: Document) -> list[tuple[object, object]]:
    summary, target = document.summary, document.target
    rows: list[tuple[object, object]] = [
        ("source", f"{document.source.name}: {document.source.engine} {document.source.version}".strip()),
        ("target", f"{target.engine} {target.version} ({target.hosting})"),
        ("surveyed", document.source.surveyed_at),
        ("objects", summary.objects),
        ("share of objects that need no person", summary.readiness.objects),
        ("share of lines that need no person", summary.readiness.lines),
        ("statements", document.coverage.statements),
        ("statements not read in full", document.coverage.unread_statements),
        ("hours, P50", summary.effort_hours.p50),
        ("hours, P80", summary.effort_hours.p80),
    ]
    rows += [(f"objects {outcome}", count) for outcome, count in summary.by_outcome.items()]
    rows += [(f"findings: {severity}", count) for severity, count in summary.by_severity.items()]
    if document.trial.engine:
        rows += [(f"accepted by {document.trial.engine}", document.trial.accepted), ("refused", document.trial.refused)]
    rows += [(f"hours: {part.what}", part.hours) for part in summary.effort_parts]
    return rows
