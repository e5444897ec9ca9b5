"""hullsound compare: targets side by side."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    targets: Annotated[
        list[str],
        typer.Option("--to", help="A target, or the path of a target file; give two or more.", metavar="TARGET"),
    ],
    format: options.Format = options.TextFormat.TEXT,
    page: Annotated[
        Path | None,
        typer.Option("--page", help="Write the comparison as a page to this file too.", metavar="FILE.html"),
    ] = None,
) -> None:
    """Judge a hull file against several targets and put the results side by side."""
    from hullsound import steps
    from hullsound.errors import UsageError
    from hullsound.report.html.comparison import render_comparison
    from hullsound.storage import write_text

    from .output import console, heading, say, table, write_json

    if len(targets) < 2:
        raise UsageError("one target cannot be compared", where="--to", hint="Give --to twice or more.")
    comparison = steps.compare_hull(hull, targets, options.project(), jobs=options.job_count())
    if page is not None:
        write_text(page, render_comparison(comparison))
        say(str(page))
    if format is options.TextFormat.JSON:
        write_json(comparison)
        return
    out = console()
    names = [side.target for side in comparison.sides]
    heading(out, f"{comparison.source or 'source'}: {comparison.objects} objects")
    rows: list[list[object]] = [
        ["ready objects", *(f"{side.ready_objects:.0%}" for side in comparison.sides)],
        ["ready lines", *(f"{side.ready_lines:.0%}" for side in comparison.sides)],
    ]
    for outcome in comparison.sides[0].by_outcome:
        rows.append([outcome, *(side.by_outcome[outcome] for side in comparison.sides)])
    for severity in comparison.sides[0].by_severity:
        rows.append([f"findings: {severity}", *(side.by_severity[severity] for side in comparison.sides)])
    rows.append(["hours, P50", *(f"{side.p50_hours:.0f}" for side in comparison.sides)])
    rows.append(["hours, P80", *(f"{side.p80_hours:.0f}" for side in comparison.sides)])
    out.print(table("", ["", *names], rows, right=names))
    for side in comparison.sides:
        if side.only_blockers:
            out.print(f"Blocks on {side.target} alone: {', '.join(side.only_blockers)}.")
    listed = [row for row in comparison.constructs if len(set(row.ways)) > 1][:25]
    rows = [[row.construct, row.places, *(way or "-" for way in row.ways)] for row in listed]
    if rows:
        out.print(table("\nWhere the targets differ", ["construct", "places", *names], rows, right=["places"]))
