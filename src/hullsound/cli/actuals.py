"""hullsound actuals: record what work really took, and what it teaches."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    hours: Annotated[
        Path, typer.Argument(help="Table of hours (CSV): object, hours, and whether it is done.", metavar="HOURS.csv")
    ],
    target: options.To = "",
    target_file: options.TargetFile = "",
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Record what work on objects took, and say what that changes for the rest."""
    from hullsound import steps

    from .output import console, heading, table, write_json

    project = options.project()
    chosen = options.hull_target(hull, target, target_file)
    found = steps.record_hours(hull, hours, chosen, project.settings, project)
    if format is options.TextFormat.JSON:
        write_json(found)
        return
    out = console()
    heading(out, f"{found.finished} objects are done; {found.spent:.1f} h are recorded in all")
    if not found.took:
        out.print("Nothing is learned yet: no finished object has hours and an estimate.")
        return
    out.print(f"They took {found.took:.1f} h, where {found.estimated:.1f} h were estimated.")
    out.print(
        f"The team takes {found.team_factor:.2f} times the minutes of the knowledge; what happened is "
        f"{found.spread_factor:.2f} times as wide as assumed."
    )
    before, after = found.remaining_before, found.remaining_after
    rows = [
        ("by the estimate alone", f"{before.p50:.0f}", f"{before.p80:.0f}"),
        ("with what was learned", f"{after.p50:.0f}", f"{after.p80:.0f}"),
    ]
    out.print(table("Hours that are left", ["", "P50", "P80"], rows, right=["P50", "P80"]))
    if found.misjudged:
        listed = [(each.construct, each.objects, f"{each.factor:.2f}") for each in found.misjudged]
        out.print(
            table(
                "Estimated wrong by half or more", ["construct", "objects", "times"], listed, right=["objects", "times"]
            )
        )
    else:
        out.print("No construct was wrong by half or more.")
