"""Workbooks in one look: frozen heads, filters, widths that fit; numbers stay numbers, and no text is taken for a formula."""

import io
from collections.abc import Sequence
from typing import Any, Final

from hullsound.visible import visible

_MOST_ROWS: Final = 1_048_575
"""Rows of a sheet below its head: specifications and limits of Excel."""
_MOST_TEXT: Final = 32_767
_WIDEST: Final = 60
_COLORS: Final = {
    "blocked": "#8c2f4b", "rewrite": "#c4693d", "confirm": "#c79a2b", "drafted": "#3d7fa6", "as-is": "#3f8f6b",
    "blocker": "#8c2f4b", "warning": "#97611c", "note": "#5b6b74",
}  # fmt: skip
_OPTIONS: Final = {
    "in_memory": True,
    "strings_to_formulas": False,
    "strings_to_urls": False,
    "strings_to_numbers": False,
}

Sheet = tuple[str, Sequence[str], Sequence[Sequence[object]]]
"""Name, heads and rows."""


def workbook(sheets: Sequence[Sheet]) -> bytes:
    """Return a workbook of sheets; every sheet but one called Summary can be filtered."""
    import xlsxwriter

    stream = io.BytesIO()
    with xlsxwriter.Workbook(stream, _OPTIONS) as book:
        writer = _Writer(book)
        for name, columns, rows in sheets:
            writer.sheet(name, columns, rows, filters=name != "Summary")
    return stream.getvalue()


class _Writer:
    def __init__(self, book: Any) -> None:
        self.book = book
        self.head = book.add_format(
            {"bold": True, "bg_color": "#eef3f4", "bottom": 1, "text_wrap": True, "valign": "top"}
        )
        self.plain = book.add_format({"valign": "top", "text_wrap": True})
        self.number = book.add_format({"valign": "top", "num_format": "0.##"})
        self.told = book.add_format({"valign": "top", "num_format": "0.##", "align": "left"})
        self.day = book.add_format({"valign": "top", "num_format": "yyyy-mm-dd"})
        self.colored = {
            word: book.add_format({"valign": "top", "font_color": color, "bold": True})
            for word, color in _COLORS.items()
        }

    def sheet(self, name: str, columns: Sequence[str], rows: Sequence[Sequence[object]], *, filters: bool) -> None:
        sheet = self.book.add_worksheet(name)
        sheet.write_row(0, 0, columns, self.head)
        sheet.freeze_panes(1, 0)
        for number, row in enumerate(rows[:_MOST_ROWS], start=1):
            for place, cell in enumerate(row):
                self._cell(sheet, number, place, cell, self.number if filters else self.told)
        for place, column in enumerate(columns):
            lengths = [len(str(row[place])) for row in rows[:500]]
            sheet.set_column(place, place, min(max([len(column), *lengths]) + 2, _WIDEST))
        if filters and rows:
            sheet.autofilter(0, 0, min(len(rows), _MOST_ROWS), len(columns) - 1)

    def _cell(self, sheet: Any, row: int, column: int, cell: object, number: Any) -> None:
        if isinstance(cell, int | float) and not isinstance(cell, bool):
            sheet.write_number(row, column, cell, number)
        elif hasattr(cell, "isoformat"):
            sheet.write_datetime(row, column, cell, self.day)
        else:
            text = visible(str(cell))[:_MOST_TEXT]
            sheet.write_string(row, column, text, self.colored.get(text, self.plain))
