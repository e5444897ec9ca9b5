"""hullsound programs: the SQL that applications hold."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.report.document import Document
    from hullsound.survey.programs.scripts import Programs

_SHOWN = 40


def run(
    folder: Annotated[Path, typer.Argument(help="Folder of applications, or one file.", metavar="DIR")],
    engine: options.From,
    target: options.To = "",
    target_file: options.TargetFile = "",
    format: options.Rows = options.TableFormat.TEXT,
    fail_on: options.Fail = options.FailOn.NEVER,
    baseline: options.Baseline = None,
    quiet: options.Quiet = False,
) -> None:
    """Find the SQL inside applications, in a dozen languages, and judge it at its lines.

    Tables are not known here; survey --programs judges programs together with their database.
    """
    from hullsound import steps
    from hullsound.report.table import FINDING_COLUMNS, finding_rows

    from .output import console, exit_status, progress, write_csv, write_json

    kind, version = options.split_engine(engine)
    chosen = options.pick_target(target, target_file)
    known = options.baseline(baseline, fail_on, chosen)
    with progress(quiet) as report:
        catalog, found = steps.survey_programs(folder, kind, version, progress=report)
        document = steps.assess_catalog(catalog, chosen, project=options.project()).document
    if format is options.TableFormat.JSON:
        write_json(document)
    elif format is options.TableFormat.CSV:
        write_csv(FINDING_COLUMNS, finding_rows(document.findings))
    else:
        draw_programs(console(), document, found)
    raise typer.Exit(exit_status(document.findings, fail_on, known))


def draw_programs(out: "Console", document: "Document", found: "Programs") -> None:
    """Write what programs hold for people: files with most work first, then the places."""
    from .output import heading, table

    texts = sum(len(program.texts) for program in found.programs)
    spliced = sum(len(program.spliced) for program in found.programs)
    target = f"{document.target.engine} {document.target.version}"
    heading(
        out, f"{texts} texts of SQL in {len(found.programs)} of {found.files} files, {found.lines} lines, to {target}"
    )
    effort = document.summary.effort_hours
    out.print(f"Text is spliced in at {spliced} places. {effort.p50:.0f} h of work (P50), {effort.p80:.0f} h (P80).")
    for file, reason in found.unread[:10]:
        out.print(f"Not read: {file}: {reason}.")
    counts: dict[str, dict[str, int]] = {}
    for entry in document.objects:
        row = counts.setdefault(entry.file, {})
        row[entry.outcome.value] = row.get(entry.outcome.value, 0) + 1
    outcomes = list(document.summary.by_outcome)
    rows = [(file, *(row.get(outcome, "") for outcome in outcomes)) for file, row in sorted(counts.items())]
    if rows:
        out.print(table("", ["program", *outcomes], rows[:_SHOWN], right=outcomes))
    places = [f for f in document.findings if f.severity.value != "note"]
    kinds: dict[tuple[str, str, str], int] = {}
    for finding in places:
        kind = (finding.severity.value, finding.construct, finding.remedy)
        kinds[kind] = kinds.get(kind, 0) + 1
    if kinds:
        what = [(severity, construct, number, remedy) for (severity, construct, remedy), number in kinds.items()]
        out.print(table("What to do", ["severity", "construct", "places", "what to do"], what, right=["places"]))
        listed = [(f"{f.file}:{f.line}:{f.column}", f.construct, f.excerpt[:60]) for f in places[:_SHOWN]]
        out.print(table("Places", ["place", "construct", "text"], listed))
    if len(places) > _SHOWN:
        out.print(f"... and {len(places) - _SHOWN} more; --format csv lists them all.")
