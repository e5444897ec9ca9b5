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
        str,
        typer.Option(
            help="Any of html, markdown, csv, json, xlsx, sarif, junit, with commas between.", metavar="NAMES"
        ),
    ] = "html,markdown,csv,json",
    sizes: options.Sizes = None,
    load: options.Load = None,
    prices: options.Prices = None,
    cores: options.Cores = None,
    stay: options.Stay = None,
    hour_cost: options.HourCost = 0.0,
    change_mb_h: options.ChangeRate = None,
) -> None:
    """Write reports of an assessment and its plan: a page, Markdown, CSV and JSON.

    The window is there where sizes are known, the choice of size where --load and --prices are given.
    """
    from hullsound import steps
    from hullsound.plan.planning import PlanningInput
    from hullsound.report.files import write_reports

    from .output import progress, say

    chosen = options.hull_target(hull, target, target_file)
    project = options.project()
    given = PlanningInput(sizes, load, prices, cores, stay, hour_cost, change_mb_h)
    with progress(False) as report:
        case = steps.assess_hull(hull, chosen, project, jobs=options.job_count(), progress=report)
        planning = steps.planning_of(case, project, given)
        paths = write_reports(case, output, [word.strip() for word in format.split(",")], report, planning)
    for path in paths:
        say(str(path))
