"""Writes a plan into a folder: document, tables, calendar, picture and runbook."""

from pathlib import Path

import msgspec

from hullsound.plan.document import Plan
from hullsound.plan.window import Window
from hullsound.report.pictures.chart import as_png, as_svg
from hullsound.report.pictures.gantt import draw_gantt
from hullsound.storage import make_folder, write_bytes

from .calendar_file import plan_calendar
from .runbook import render_runbook
from .tables import plan_csv


def write_plan(plan: Plan, folder: Path, window: Window | None = None) -> list[Path]:
    """Write all files of a plan; return their paths, the runbook first. Raises SourceError.

    With a window, the runbook says how long the steps of the switch take.
    """
    make_folder(folder)
    contents: dict[str, bytes] = {"runbook.md": render_runbook(plan, window).encode()}
    contents |= {name: text.encode() for name, text in plan_csv(plan).items()}
    contents["plan.ics"] = plan_calendar(plan)
    with draw_gantt(plan) as figure:
        contents["plan.svg"] = as_svg(figure).encode()
        contents["plan.png"] = as_png(figure)
    contents["plan.json"] = msgspec.json.format(msgspec.json.encode(plan), indent=1) + b"\n"
    for name, content in contents.items():
        write_bytes(folder / name, content)
    return [folder / name for name in contents]
