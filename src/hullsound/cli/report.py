"""hullsound report: write reports."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    output: Annotated[Path, typer.Option("--output", "-o", help="Folder for the reports.", metavar="DIR")],
    target: options.To = "",
    target_file: options.TargetFile = "",
    format: Annotated[
        str, typer.Option(help="Any of html, markdown, csv, json, with commas between.", metavar="NAMES")
    ] = "html,markdown,csv,json",
) -> None:
    """Write reports of an assessment: a page, Markdown, CSV and JSON."""
    from hullsound import steps
    from hullsound.report.files import write_reports

    from .output import progress, say

    chosen = options.hull_target(hull, target, target_file)
    with progress(False) as report:
        case = steps.assess_hull(hull, chosen, options.project(), progress=report)
        paths = write_reports(case, output, [word.strip() for word in format.split(",")], report)
    for path in paths:
        say(str(path))
