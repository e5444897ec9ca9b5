"""Writes an estate into a folder: page, workbook, tables and document; each file whole or not at all."""

from pathlib import Path

import msgspec

from hullsound.estate.document import Estate
from hullsound.report.html.estate import render_estate
from hullsound.report.table import csv_text
from hullsound.storage import make_folder, write_bytes

from .rows import MEMBER_COLUMNS, failure_rows, member_rows
from .workbook import estate_workbook


def write_estate(estate: Estate, folder: Path, pages: frozenset[str] = frozenset()) -> list[Path]:
    """Write all files of an estate; return their paths, the page first. `pages` names the members that have a page of their own.

    Raises SourceError.
    """
    make_folder(folder)
    contents = {
        "index.html": render_estate(estate, pages).encode(),
        "estate.xlsx": estate_workbook(estate),
        "members.csv": csv_text(MEMBER_COLUMNS, member_rows(estate)).encode(),
        "failures.csv": csv_text(("member", "owner", "source", "reason"), failure_rows(estate)).encode(),
        "estate.json": msgspec.json.format(msgspec.json.encode(estate), indent=1) + b"\n",
    }
    for name, content in contents.items():
        write_bytes(folder / name, content)
    return [folder / name for name in contents]
