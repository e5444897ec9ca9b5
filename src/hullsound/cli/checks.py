"""hullsound checks: paired queries for after the move, and what they find."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.plan.checks.model import CheckSet
    from hullsound.plan.checks.run import CheckRun


class LevelChoice(StrEnum):
    QUICK = "quick"
    STANDARD = "standard"
    FULL = "full"


class RunFormat(StrEnum):
    TEXT = "text"
    JSON = "json"
    JUNIT = "junit"


_SHOWN = 20
_DIFFERENCES_SHOWN = 3


def run(
    hull: options.Hull,
    output: Annotated[Path, typer.Option("--output", "-o", help="Folder for queries and results.", metavar="DIR")],
    target: options.To = "",
    target_file: options.TargetFile = "",
    sizes: options.Sizes = None,
    is_run: Annotated[bool, typer.Option("--run", help="Run the queries on both sides and compare.")] = False,
    source_url: Annotated[
        str, typer.Option("--source", help="Address of the source, for --run; it is only read.", metavar="URL")
    ] = "",
    target_url: Annotated[
        str, typer.Option("--target", help="Address of the target, for --run; it is only read.", metavar="URL")
    ] = "",
    level: Annotated[
        LevelChoice, typer.Option("--level", help="How closely to compare.", metavar="quick|standard|full")
    ] = LevelChoice.STANDARD,
    no_samples: Annotated[bool, typer.Option("--no-samples", help="Leave the samples of rows out.")] = False,
    resume: Annotated[bool, typer.Option("--resume", help="Go on where a run was stopped.")] = False,
    format: Annotated[
        RunFormat,
        typer.Option("--format", help="text for people, json and junit for programs.", metavar="text|json|junit"),
    ] = RunFormat.TEXT,
    quiet: options.Quiet = False,
) -> None:
    """Write paired queries that prove after the move that nothing was lost; with --run, run and compare them."""
    from hullsound import steps
    from hullsound.errors import UsageError
    from hullsound.plan.checks.model import Level
    from hullsound.report.planning.checks_report import junit_xml, write_checks
    from hullsound.storage import write_text

    from .output import console, progress, say, write_json

    if is_run and not (source_url and target_url):
        raise UsageError("--run needs both sides", where="checks", hint="Give --source URL and --target URL.")
    project = options.project()
    chosen = options.hull_target(hull, target, target_file)
    checks = steps.checks_of_hull(hull, chosen, project, sizes)
    paths = write_checks(checks, output)
    if not is_run:
        if not quiet:
            say(f"{output}: {len(paths)} files")
        if format is RunFormat.TEXT:
            draw_checks(console(), checks)
        else:
            write_json(checks)
        return
    with progress(quiet) as report:
        done = steps.run_checks_of_hull(
            hull, chosen, source_url, target_url, Level(level.value), project=project, samples=not no_samples,
            kept=output / "results.jsonl", is_resumed=resume, progress=report,
        )  # fmt: skip
    write_text(output / "results.xml", junit_xml(done))
    if format is RunFormat.JUNIT:
        typer.echo(junit_xml(done), nl=False)
    elif format is RunFormat.JSON:
        write_json(done)
    else:
        draw_run(console(), done)
    raise typer.Exit(0 if done.is_equal else 1)


def draw_checks(out: "Console", checks: "CheckSet") -> None:
    """Write for people what checks there are."""
    from collections import Counter

    from .output import heading, table

    heading(out, f"{checks.source} to {checks.target}: {len(checks.checks)} checks and {len(checks.samples)} samples")
    counts = Counter(check.level.value for check in checks.checks)
    rows = [
        (level, counts[level], f"{checks.minutes[level]:.1f}" if level in checks.minutes else "", asks)
        for level, asks in (
            ("quick", "rows, highest key, sequences beyond it"),
            ("standard", "each column: not NULL, least, greatest, sum, length"),
            ("full", "a sum of digests of all rows"),
        )
    ]
    out.print(
        table("", ["level", "checks", "minutes", "what is asked on both sides"], rows, right=["checks", "minutes"])
    )
    _draw_notes(
        out,
        [(e.table, e.column, e.difference) for e in checks.expected],
        "Expected differences, stated and not counted",
    )
    _draw_notes(out, [(e.table, e.column, e.difference) for e in checks.left_out], "Not compared")


def draw_run(out: "Console", run: "CheckRun") -> None:
    """Write for people what a run found: what differs first."""
    from hullsound.report.planning.checks_report import difference_texts

    from .output import heading, table

    counts = run.counts()
    heading(out, f"{len(run.results)} checks up to {run.level}: {counts['equal']} equal, {counts['different']} different, "
                 f"{counts['failed']} failed, in {run.seconds:.1f} s")  # fmt: skip
    wrong = [result for result in run.results if result.verdict.value != "equal"]
    rows = [
        (result.verdict.value, result.level, result.table, _shortly(difference_texts(result)) or result.said)
        for result in wrong[:_SHOWN]
    ]
    if rows:
        out.print(table("", ["verdict", "level", "table", "what differs"], rows))
    if len(wrong) > _SHOWN:
        out.print(f"... and {len(wrong) - _SHOWN} more; --format json lists them all.")
    stated = f"{len(run.expected)} expected differences are stated and not counted"
    out.print(f"{stated}, {len(run.left_out)} tables or columns are not compared; see expected.csv.")


def _shortly(texts: list[str]) -> str:
    more = f"; and {len(texts) - _DIFFERENCES_SHOWN} more" if len(texts) > _DIFFERENCES_SHOWN else ""
    return "; ".join(texts[:_DIFFERENCES_SHOWN]) + more


def _draw_notes(out: "Console", rows: list[tuple[str, str, str]], title: str) -> None:
    from .output import table

    if rows:
        out.print(table(f"{title} ({len(rows)})", ["table", "column", "what"], rows[:_SHOWN]))
    if len(rows) > _SHOWN:
        out.print(f"... and {len(rows) - _SHOWN} more; see expected.csv.")
