"""hullsound assess: judge a hull file against a target."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    format: options.Format = options.TextFormat.TEXT,
    output: Annotated[
        Path | None, typer.Option("--output", "-o", help="Write the document to this file.", metavar="FILE")
    ] = None,
    fail_on: options.Fail = options.FailOn.NEVER,
    baseline: options.Baseline = None,
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Judge a hull file against a target: outcomes, findings, effort and the order to work in."""
    import msgspec

    from hullsound import steps
    from hullsound.storage import write_text

    from .output import draw_summary, draw_worklist, exit_status, progress, write_json

    chosen = options.hull_target(hull, target, target_file)
    known = options.baseline(baseline, fail_on, chosen)
    with progress(False) as report:
        document = steps.assess_hull(
            hull, chosen, options.project(), keep=True, jobs=options.job_count(), progress=report
        ).document
    if output is not None:
        write_text(output, msgspec.json.format(msgspec.json.encode(document), indent=1).decode() + "\n")
    elif format is options.TextFormat.JSON:
        write_json(document)
    else:
        draw_summary(document)
        draw_worklist(document, 6)
    raise typer.Exit(exit_status(document.findings, fail_on, known))
