"""hullsound plan: waves, dates, decisions and a runbook."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.plan.document import Plan

_BRIDGES_SHOWN = 8


def run(
    hulls: Annotated[list[Path], typer.Argument(help="Hull files written by survey.", metavar="NAME.hull...")],
    target: options.To = "",
    target_file: options.TargetFile = "",
    team: Annotated[int | None, typer.Option("--team", help="People who work on the move.", metavar="N")] = None,
    hours: Annotated[
        float | None, typer.Option("--hours", help="Hours a week that each of them has for it.", metavar="H")
    ] = None,
    start: Annotated[
        str | None, typer.Option("--start", help="First day of work, YYYY-MM-DD; else next Monday.", metavar="DATE")
    ] = None,
    wave_weeks: Annotated[
        float | None, typer.Option("--wave-weeks", help="Weeks of one wave.", metavar="WEEKS")
    ] = None,
    sizes: options.Sizes = None,
    format: options.Format = options.TextFormat.TEXT,
    output: Annotated[
        Path | None,
        typer.Option(
            "--output", "-o", help="Folder for runbook, tables, calendar and picture of the plan.", metavar="DIR"
        ),
    ] = None,
) -> None:
    """Plan the move: a pilot and waves in the order of what needs what, with dates and decisions."""
    from hullsound import steps
    from hullsound.report.planning.files import write_plan

    from .output import console, progress, say, write_json

    project = options.project()
    settings = options.settings(
        project, "plan", team=team, hours=hours, wave_weeks=wave_weeks, start=options.day("--start", start)
    )
    chosen = options.hull_target(hulls[0], target, target_file)
    with progress(False) as report:
        plan = steps.plan_hulls(hulls, chosen, settings, project, report, jobs=options.job_count())
    if output is not None:
        window = steps.window_of_hull(hulls[0], chosen, settings, sizes=sizes) if len(hulls) == 1 else None
        for path in write_plan(plan, output, window if window is not None and window.bytes else None):
            say(str(path))
    if format is options.TextFormat.JSON:
        write_json(plan)
    else:
        draw_plan(console(), plan)


def draw_plan(out: "Console", plan: "Plan") -> None:
    """Write a plan for people."""
    from hullsound.plan.document import wave_name

    from .output import draw_assumptions, heading, table

    heading(out, f"{', '.join(plan.sources)} to {plan.target}: {len(plan.waves)} waves from {plan.begins}")
    out.print(
        f"{plan.hours.p50:.0f} h of work left (P50), {plan.hours.p80:.0f} h (P80), for {plan.team} people "
        f"with {plan.hours_week:g} h a week each. "
        f"Finished by {plan.ends_p50} in half of all cases, by {plan.ends_p80} in four of five."
    )
    done = plan.progress
    if done.objects:
        out.print(
            f"{done.objects} objects are done: they took {done.hours:.0f} h, where {done.estimated:.0f} h were estimated."
        )
    rows = [
        (wave_name(w.number), len(w.objects), f"{w.hours.p50:.0f}", f"{w.hours.p80:.0f}", w.begins, w.ends_p50, w.ends_p80,
         len(w.bridges), ", ".join(w.waits_for) or "nothing")
        for w in plan.waves
    ]  # fmt: skip
    columns = ["wave", "objects", "h P50", "h P80", "begins", "ends P50", "ends P80", "bridges", "waits for"]
    out.print(table("", columns, rows, right=["objects", "h P50", "h P80", "bridges"]))
    if plan.decisions:
        listed = [(d.due, d.title, ", ".join(d.objects), wave_name(d.wave)) for d in plan.decisions]
        out.print(table("Decide first", ["by", "what blocks", "objects", "needed for"], listed))
    bridges = [(wave, bridge) for wave in plan.waves for bridge in wave.bridges]
    if bridges:
        drawn = [
            (wave_name(wave.number), wave_name(b.until_wave), b.used, b.kind, len(b.users), b.what_to_do)
            for wave, b in bridges[:_BRIDGES_SHOWN]
        ]
        title = f"To be bridged between waves ({plan.cut_edges} of {plan.edges} dependencies)"
        out.print(table(title, ["from", "until", "object", "kind", "users", "how"], drawn, right=["users"]))
        if len(bridges) > _BRIDGES_SHOWN:
            out.print(f"... and {len(bridges) - _BRIDGES_SHOWN} more; -o DIR writes them all.")
    draw_assumptions(out, plan.assumptions)
