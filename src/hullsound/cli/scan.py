"""hullsound scan: survey, assess, draft, trial and report in one go."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    source: Annotated[
        str,
        typer.Argument(help="Folder or file of SQL scripts, or anything else that survey takes.", metavar="SOURCE"),
    ],
    output: Annotated[
        Path, typer.Option("--output", "-o", help="Folder for everything that is written.", metavar="DIR")
    ],
    engine: options.From = "",
    encoding: options.Encoding = "",
    name: Annotated[str, typer.Option(help="Name of the source in reports and of the hull file.", metavar="NAME")] = "",
    on: options.On = "",
    no_trial: Annotated[bool, typer.Option("--no-trial", help="Do not try the drafts on a real engine.")] = False,
    fail_on: options.Fail = options.FailOn.NEVER,
    baseline: options.Baseline = None,
    profile: Annotated[
        bool, typer.Option("--profile", help="Of a server, also take aggregates over the values of its tables.")
    ] = False,
    programs: options.ProgramFolder = None,
    password: options.AskPassword = False,
    quiet: options.Quiet = False,
    target: options.To = "",
    target_file: options.TargetFile = "",
) -> None:
    """Read a source, judge it, draft it, try the drafts on a real engine, and write every report."""
    from hullsound.survey.live.model import is_address

    from .output import REFUSED, draw_summary, draw_worklist, exit_status
    from .whole import PROFILE_SECONDS, run_whole

    options.ask_password(password)
    chosen = options.pick_target(target, target_file)
    known = options.baseline(baseline, fail_on, chosen)
    case, refused = run_whole(
        source if is_address(source) else Path(source),
        engine,
        chosen,
        output,
        name=name,
        encoding=encoding,
        on=on,
        no_trial=no_trial,
        profile_seconds=PROFILE_SECONDS if profile else 0,
        quiet=quiet,
        programs=programs,
    )
    document = case.document
    draw_summary(document)
    draw_worklist(document, 10)
    raise typer.Exit(exit_status(document.findings, fail_on, known) or (REFUSED if refused else 0))
