"""hullsound window: how long the move of the data takes, and whether it fits."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.plan.window import Span, Window


class CheckChoice(StrEnum):
    NONE = "none"
    QUICK = "quick"
    STANDARD = "standard"
    FULL = "full"


def run(
    hull: options.Hull,
    target: options.To = "",
    target_file: options.TargetFile = "",
    sizes: options.Sizes = None,
    mbit: Annotated[
        float | None, typer.Option("--mbit", help="Bandwidth of the network, in Mbit/s.", metavar="N")
    ] = None,
    streams: Annotated[
        int | None, typer.Option("--streams", help="Tables or parts of tables copied at once.", metavar="N")
    ] = None,
    hours: Annotated[float | None, typer.Option("--hours", help="Length of the window, in hours.", metavar="H")] = None,
    change_mb_h: options.ChangeRate = None,
    check: Annotated[
        CheckChoice,
        typer.Option("--check", help="Checks that run within the window.", metavar="none|quick|standard|full"),
    ] = CheckChoice.QUICK,
    measure_on: Annotated[
        str,
        typer.Option(
            "--measure-on",
            help="URL of a server of the target engine, or `private`: loads made-up rows into a scratch database and measures.",
            metavar="URL",
        ),
    ] = "",
    picture: Annotated[
        Path | None, typer.Option("--picture", help="Draw the streams over time.", metavar="FILE.svg|FILE.png")
    ] = None,
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Estimate how long the data takes to move, offline and online, and what would make it shorter."""
    from hullsound import steps

    from .output import console, say, write_json

    project = options.project()
    settings = options.settings(project, "window", mbit=mbit, streams=streams, hours=hours)
    if picture is not None:
        options.check_picture(picture)
    chosen = options.hull_target(hull, target, target_file)
    measured = None
    if measure_on:
        from .output import progress

        with progress(False) as report:
            rates = steps.measure_rates(hull, chosen, measure_on, project, report, sizes)
        for line in rates.remarks:
            say(line)
        measured = rates.measured
    window = steps.window_of_hull(
        hull, chosen, settings, sizes=sizes, check=check.value, change_mb_h=change_mb_h, measured=measured
    )
    if picture is not None:
        from hullsound.report.pictures.chart import save
        from hullsound.report.pictures.streams import draw_streams

        with draw_streams(window) as figure:
            save(picture, figure)
        say(str(picture))
    if format is options.TextFormat.JSON:
        write_json(window)
    else:
        draw_window(console(), window)


def draw_window(out: "Console", window: "Window") -> None:
    """Write a window for people."""
    from hullsound.plan.window import duration

    from .output import draw_assumptions, heading, table

    gb = 1e9
    origins = ", ".join(f"{count} {origin}" for origin, count in window.sizes_from.items()) or "none known"
    heading(out, f"{window.source} to {window.target}: {_span(window.total)} offline")
    out.print(
        f"{window.tables} tables, {window.rows:,.0f} rows, {window.bytes / gb:.1f} GB and {window.index_bytes / gb:.1f} GB of "
        f"indexes ({origins}), over {window.streams} streams; the copy is bound by {window.limit}."
    )
    out.print(f"It fits into the window of {window.window_hours:g} h in {window.fits:.0%} of all cases.")
    if window.unknown:
        listed = ", ".join(window.unknown[:5]) + (
            f" and {len(window.unknown) - 5} more" if len(window.unknown) > 5 else ""
        )
        out.print(
            f"Nobody told the size of {len(window.unknown)} tables, which count for nothing: {listed}. Give --sizes."
        )
    rows = [(phase.name, duration(phase.hours.p50), duration(phase.hours.p80)) for phase in window.phases]
    out.print(table("", ["phase", "P50", "P80"], rows, right=["P50", "P80"]))
    if window.levers:
        gains = [(lever.what, duration(lever.hours)) for lever in window.levers]
        out.print(table("What would make it shorter", ["change", "saves"], gains, right=["saves"]))
    online = window.online
    if online is not None:
        catch_up = "never" if online.catch_up is None else _span(online.catch_up)
        out.print(
            f"Online, with {online.change_mb_h:g} MB of changes an hour: copy {_span(online.copy_hours)}, catch-up {catch_up}, "
            f"downtime {_span(online.downtime)}."
        )
        if online.never_share:
            out.print(f"In {online.never_share:.0%} of all cases changes come faster than the target applies them.")
        if online.without_key:
            out.print(f"Tables without a key cannot be followed online: {', '.join(online.without_key)}.")
    draw_assumptions(out, window.assumptions)


def _span(span: "Span") -> str:
    from hullsound.plan.window import duration

    return f"{duration(span.p50)} (P50), {duration(span.p80)} (P80)"
