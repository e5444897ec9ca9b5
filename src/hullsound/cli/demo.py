"""hullsound demo: the whole example on the demo harbour."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    folder: Annotated[Path, typer.Argument(help="Folder to leave everything in.", metavar="[DIR]")] = Path(
        "hullsound-demo"
    ),
    source: Annotated[
        str, typer.Option("--source", help="Engine whose system of the harbour is taken.", metavar="ENGINE")
    ] = "oracle",
    target: options.To = "postgresql:18",
    live: Annotated[
        bool,
        typer.Option(
            "--live", help="Start a private MariaDB, or else use an SQLite file, and survey it with its values."
        ),
    ] = False,
    no_trial: Annotated[bool, typer.Option("--no-trial", help="Do not try the drafts on a real engine.")] = False,
    quiet: options.Quiet = False,
) -> None:
    """Copy the scripts of the made-up harbour Kestrel Bay and take them the whole way."""
    if live:
        _run_live(folder, target, no_trial=no_trial, quiet=quiet)
        return
    from hullsound.demo import PLANNED, SYSTEMS, copy_planning, copy_programs, copy_scripts
    from hullsound.plan.planning import PlanningInput

    from .output import REFUSED, draw_summary, draw_worklist, say
    from .whole import run_whole

    scripts = copy_scripts(source, folder)
    system = SYSTEMS[source]
    engine = f"{source}:{system.version}"
    if not quiet:
        say(f"Copied the scripts of the Kestrel Bay harbour authority ({system.about}) to {scripts}.")
        say(
            f"The same by hand: hullsound scan {scripts} --from {engine} --to {target} -o {folder} --name {system.name}"
        )
    given, hours, programs = None, None, None
    if source == PLANNED:
        programs = copy_programs(folder)
        tables = copy_planning(folder)
        given = PlanningInput(
            tables["sizes"], tables["load"], tables["prices"], stay_month=2_400, hour_cost=95, change_mb_h=900,
            window_hours=1.5, wave_weeks=1.0,
        )  # fmt: skip
        hours = tables["hours"]
    case, refused = run_whole(
        scripts,
        engine,
        target,
        folder,
        name=system.name,
        no_trial=no_trial,
        quiet=quiet,
        given=given,
        hours=hours,
        programs=programs,
    )
    draw_summary(case.document)
    draw_worklist(case.document, 10)
    raise typer.Exit(REFUSED if refused else 0)


def _run_live(folder: Path, target: str, *, no_trial: bool, quiet: bool) -> None:
    """Take a running system of the harbour the whole way, values included."""
    from hullsound.steps.live_demo import live_demo
    from hullsound.storage import make_folder

    from .output import draw_summary, draw_values, draw_worklist, say
    from .whole import PROFILE_SECONDS, run_whole

    make_folder(folder)
    with live_demo(folder) as demo:
        if not quiet:
            counts = f"{demo.made} statements taken, {demo.refused} not"
            say(f"A running {demo.engine} holds the system {demo.name} of the harbour: {counts}.")
            say(f"The same by hand: hullsound survey {demo.address} --profile -o {folder}/{demo.name}.hull")
        case, _ = run_whole(
            demo.address,
            "",
            target,
            folder,
            name=demo.name,
            no_trial=no_trial,
            profile_seconds=PROFILE_SECONDS,
            quiet=quiet,
        )
    draw_summary(case.document)
    draw_values(case.catalog, only_yes=True, most=15)
    draw_worklist(case.document, 10)
