"""hullsound estate: many databases in one view."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.estate.document import Estate

_SHOWN = 25


def run(
    sources: Annotated[
        list[str],
        typer.Argument(
            help="Lists (CSV or TOML), folders of scripts, hull files, kits and addresses; scheme://host/* means all databases.",
            metavar="SOURCE...",
        ),
    ],
    output: Annotated[
        Path, typer.Option("--output", "-o", help="Folder for everything that is written.", metavar="DIR")
    ],
    targets: Annotated[
        list[str] | None,
        typer.Option("--to", help="A target; the first is the one that hours are told for.", metavar="TARGET"),
    ] = None,
    scheduler: Annotated[
        str,
        typer.Option(
            "--scheduler", help="Address of a Dask cluster that is there: tcp://host:8786.", metavar="ADDRESS"
        ),
    ] = "",
    workers: Annotated[
        int, typer.Option("--workers", min=0, help="Local processes; 0 for one per processor core.", metavar="N")
    ] = 0,
    pages: Annotated[bool, typer.Option("--pages", help="Also write the page of each member.")] = False,
    format: options.Format = options.TextFormat.TEXT,
    ask_password: options.AskPassword = False,
    quiet: options.Quiet = False,
) -> None:
    """Survey and judge many databases, and put them into one view: readiness, blockers, clones, clusters, waves, hours."""
    from hullsound import steps
    from hullsound.report.estate.files import write_estate

    from .output import console, progress, say, write_json

    options.ask_password(ask_password)
    chosen = targets or [options.pick_target("", "")]
    with progress(quiet) as report:
        estate = steps.run_estate(
            sources,
            chosen,
            output,
            options.project(),
            scheduler=scheduler,
            workers=workers,
            pages=pages,
            progress=report,
        )
    written = frozenset(row.name for row in estate.members if (output / "members" / row.name / "index.html").is_file())
    for path in write_estate(estate, output, written):
        if not quiet:
            say(str(path))
    if format is options.TextFormat.JSON:
        write_json(estate)
    else:
        draw_estate(console(), estate)


def draw_estate(out: "Console", estate: "Estate") -> None:
    """Write an estate for people."""
    from .output import heading, table

    totals = estate.totals
    heading(out, f"{totals.members} databases to {estate.targets[0]}: {totals.judged} judged, {totals.failed} failed")
    out.print(
        f"{totals.judged - totals.blocked} have nothing that blocks; {totals.clones} are clones of others. "
        f"{totals.p50:,.0f} h of work (P50), {totals.p80:,.0f} h (P80)."
    )
    rows = [
        (m.name, m.engine, m.objects, f"{m.result.objects_ready:.0%}", sum(m.result.blockers.values()) or "", f"{m.result.p50:.0f}",
         f"{m.result.p80:.0f}", m.result.hosting, m.clone_of, m.end_of_support or "", m.wave)
        for m in estate.members[:_SHOWN]
    ]  # fmt: skip
    columns = [
        "member",
        "engine",
        "objects",
        "ready",
        "blockers",
        "h P50",
        "h P80",
        "hosting",
        "clone of",
        "end of support",
        "wave",
    ]
    out.print(table("", columns, rows, right=["objects", "ready", "blockers", "h P50", "h P80", "wave"]))
    if len(estate.members) > _SHOWN:
        out.print(f"... and {len(estate.members) - _SHOWN} more; members.csv lists them all.")
    if estate.blockers:
        shared = [(b.title, b.construct, len(b.members), b.places) for b in estate.blockers[:10]]
        out.print(table("What blocks most databases", ["what", "construct", "databases", "places"], shared,
                        right=["databases", "places"]))  # fmt: skip
    for group in estate.clusters[:10]:
        out.print(f"Must move together: {', '.join(group)}.")
    if estate.failures:
        out.print(table("Not judged", ["member", "why"], [(f.name, f.reason) for f in estate.failures[:_SHOWN]]))
