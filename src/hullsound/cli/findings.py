"""hullsound findings: list findings, filtered."""

from collections.abc import Callable
from enum import StrEnum
from typing import TYPE_CHECKING, Annotated, Any

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.assess.model import Finding

MOST_LISTED = 40
"""Findings up to which each stands by itself; more are listed by construct."""
MOST_GROUPS = 20
"""Constructs that are listed, those that matter most first."""


_ORDER = ("blocker", "warning", "note")


class Sort(StrEnum):
    """What single findings are sorted by."""

    SEVERITY = "severity"
    CONSTRUCT = "construct"
    OBJECT = "object"
    PLACE = "place"
    EFFORT = "effort"


SORTS = "|".join(Sort)


def run(
    hull: options.Hull,
    target: options.To = "",
    target_file: options.TargetFile = "",
    severity: Annotated[
        options.SeverityChoice | None,
        typer.Option(help="Only findings of this severity.", metavar="blocker|warning|note"),
    ] = None,
    construct: Annotated[str, typer.Option(help="Only constructs whose id holds this text.", metavar="TEXT")] = "",
    object_: Annotated[
        str, typer.Option("--object", help="Only objects whose id holds this text.", metavar="TEXT")
    ] = "",
    every: Annotated[
        bool, typer.Option("--all", help="List each finding, where text would list many of them by construct.")
    ] = False,
    sort: Annotated[
        Sort | None,
        typer.Option(help="Order of single findings; the worst and the most work first if not given.", metavar=SORTS),
    ] = None,
    limit: Annotated[int, typer.Option(help="Rows at most; 0 for all.", metavar="N", min=0)] = 0,
    format: options.Rows = options.TableFormat.TEXT,
) -> None:
    """List the findings of a hull file for a target."""
    from hullsound import steps
    from hullsound.report.table import FINDING_COLUMNS, finding_rows

    from .output import console, heading, progress, sides_of, write_csv, write_json

    chosen_target = options.hull_target(hull, target, target_file)
    with progress(False) as report:
        document = steps.document_of(hull, chosen_target, options.project(), report, jobs=options.job_count())
    chosen = [
        finding
        for finding in document.findings
        if (severity is None or finding.severity.value == severity.value)
        and construct.lower() in finding.construct
        and object_.lower() in finding.object.lower()
    ]
    chosen.sort(key=_WEIGHTS[sort] if sort is not None else _weight)
    if format is not options.TableFormat.TEXT and limit:
        chosen = chosen[:limit]
    if format is options.TableFormat.JSON:
        write_json(chosen)
    elif format is options.TableFormat.CSV:
        write_csv(FINDING_COLUMNS, finding_rows(chosen))
    else:
        out = console()
        heading(out, sides_of(document))
        if every or sort is not None or len(chosen) <= MOST_LISTED:
            _list_each(out, chosen[:limit] if limit else chosen)
        else:
            _list_constructs(out, chosen, limit or MOST_GROUPS)
        out.print(f"{len(chosen)} of {len(document.findings)} findings.")


def _list_each(out: "Console", findings: "list[Finding]") -> None:
    from .output import table

    rows = [(f.severity.value, f.construct, _place(f), f.object, f.message, f.remedy) for f in findings]
    out.print(table("", ["severity", "construct", "place", "object", "what it is", "what to do"], rows))


def _list_constructs(out: "Console", findings: "list[Finding]", most: int) -> None:
    """List findings by construct: blockers first, then what takes most time."""
    from .output import table

    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.severity.value, finding.construct), []).append(finding)

    def weight(entry: "tuple[tuple[str, str], list[Finding]]") -> tuple[int, float, int, str]:
        (severity, construct), group = entry
        return _ORDER.index(severity), -sum(f.effort_minutes[1] for f in group), -len(group), construct

    rows = [
        (severity, construct, len(group), len({f.object for f in group}), _place(group[0]), group[0].remedy)
        for (severity, construct), group in sorted(groups.items(), key=weight)[:most]
    ]
    columns = ["severity", "construct", "places", "objects", "first place", "what to do"]
    out.print(table("", columns, rows, right=["places", "objects"]))
    left = len(groups) - len(rows)
    more = f" {left} more constructs are not shown." if left > 0 else ""
    out.print(f"By construct.{more} --all lists each place; --severity, --construct and --object choose some.")


def _weight(finding: "Finding") -> tuple[Any, ...]:
    return _ORDER.index(finding.severity.value), -finding.effort_minutes[1], finding.construct, *_where(finding)


def _where(finding: "Finding") -> tuple[str, int, int]:
    return finding.file, finding.line, finding.column


_WEIGHTS: "dict[Sort, Callable[[Finding], tuple[Any, ...]]]" = {
    Sort.SEVERITY: lambda f: (_ORDER.index(f.severity.value), *_where(f)),
    Sort.CONSTRUCT: lambda f: (f.construct, *_where(f)),
    Sort.OBJECT: lambda f: (f.object, *_where(f)),
    Sort.PLACE: _where,
    Sort.EFFORT: lambda f: (-f.effort_minutes[1], *_where(f)),
}


def _place(finding: "Finding") -> str:
    return f"{finding.file}:{finding.line}:{finding.column}" if finding.line else ""
