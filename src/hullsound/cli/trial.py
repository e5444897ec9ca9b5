"""hullsound trial: the drafts on a real scratch database."""

from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    on: options.On = "",
    format: options.Format = options.TextFormat.TEXT,
    every: Annotated[bool, typer.Option("--all", help="List accepted drafts too.")] = False,
    quiet: options.Quiet = False,
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Run the drafts on a scratch database that is dropped again; record what the engine says."""
    from hullsound import steps

    from .output import console, heading, progress, table, write_json

    case = steps.assess_hull(hull, options.pick_target(target, target_file), options.project())
    drafts = steps.draft_case(case)
    with progress(quiet) as report:
        trial = steps.try_case(case, drafts, on, report)
    if format is options.TextFormat.JSON:
        write_json(trial)
    else:
        out = console()
        promised = [result for result in trial.results if result.promised]
        heading(out, f"{trial.engine}: {len(trial.accepted())} of {len(promised)} promised drafts accepted")
        listed = [r for r in trial.results if every or (r.promised and not r.accepted)]
        rows = [(r.id, "accepted" if r.accepted else "refused", r.line or "", r.message) for r in listed]
        if rows:
            out.print(table("", ["object", "result", "source line", "the engine's words"], rows, right=["source line"]))
    raise typer.Exit(4 if trial.refused() else 0)
