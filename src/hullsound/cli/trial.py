"""hullsound trial: the drafts on a real scratch database, and whether they do what the source does."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.trial.run import CaseResult, Trial


def run(
    hull: options.Hull,
    on: options.On = "",
    cases: Annotated[
        str,
        typer.Option(
            "--cases", help="File of cases to run on the source's own engine and on the drafts.", metavar="FILE"
        ),
    ] = "",
    make_cases: Annotated[
        bool,
        typer.Option(
            "--make-cases", help="Make up rows and cases from keys, types and parameters, and run them on both engines."
        ),
    ] = False,
    source: Annotated[
        str,
        typer.Option(
            "--source", help="Server of the source's engine for cases; a private one if left out.", metavar="URL"
        ),
    ] = "",
    format: options.Format = options.TextFormat.TEXT,
    every: Annotated[bool, typer.Option("--all", help="List accepted drafts and equal cases too.")] = False,
    quiet: options.Quiet = False,
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Run the drafts on a scratch database that is dropped again; record what the engine says."""
    from hullsound import steps
    from hullsound.errors import UsageError

    from .output import console, progress, write_json

    chosen = options.hull_target(hull, target, target_file)
    with progress(quiet) as report:
        case = steps.assess_hull(
            hull, chosen, options.project(), untried=True, jobs=options.job_count(), progress=report
        )
        drafts = steps.draft_case(case)
    if cases or make_cases:
        if cases and make_cases:
            raise UsageError("--cases and --make-cases exclude each other", hint="Run them one after the other.")
        results = steps.compare_behaviour(case, drafts, Path(cases) if cases else None, source, on)
        if format is options.TextFormat.JSON:
            write_json(results)
        else:
            _show_cases(console(), results, every)
        raise typer.Exit(0 if all(result.is_equal for result in results) else 4)
    with progress(quiet) as report:
        trial = steps.try_case(case, drafts, on, report)
    if format is options.TextFormat.JSON:
        write_json(trial)
    else:
        _show_trial(console(), trial, every)
    raise typer.Exit(4 if trial.refused() else 0)


def _show_trial(out: "Console", trial: "Trial", every: bool) -> None:
    from .output import heading, table

    promised = [result for result in trial.results if result.promised]
    untried = f", {len(trial.untried())} not tried" if trial.untried() else ""
    heading(out, f"{trial.engine}: {len(trial.accepted())} of {len(promised)} promised drafts accepted{untried}")
    listed = [r for r in trial.results if every or (r.promised and not r.accepted)]
    words = {True: "accepted", False: "refused"}
    rows = [(r.id, "not tried" if r.not_tried else words[r.accepted], r.line or "", r.message) for r in listed]
    if rows:
        out.print(table("", ["object", "result", "source line", "the engine's words"], rows, right=["source line"]))


def _show_cases(out: "Console", results: "list[CaseResult]", every: bool) -> None:
    from .output import heading, table

    heading(out, f"{sum(result.is_equal for result in results)} of {len(results)} cases behave alike")
    listed = [result for result in results if every or not result.is_equal]
    rows = [(r.name, r.object, "alike" if r.is_equal else "apart", r.difference) for r in listed]
    if rows:
        out.print(table("", ["case", "object", "result", "where they differ"], rows))
