"""hullsound findings: list findings, filtered."""

from typing import Annotated

import typer

from . import options


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
    format: options.Rows = options.TableFormat.TEXT,
) -> None:
    """List the findings of a hull file for a target."""
    from hullsound import steps
    from hullsound.report.table import FINDING_COLUMNS, finding_rows

    from .output import console, table, write_csv, write_json

    document = steps.assess_hull(
        hull, options.pick_target(target, target_file, "postgresql"), options.project()
    ).document
    chosen = [
        finding
        for finding in document.findings
        if (severity is None or finding.severity.value == severity.value)
        and construct.lower() in finding.construct
        and object_.lower() in finding.object.lower()
    ]
    if format is options.TableFormat.JSON:
        write_json(chosen)
    elif format is options.TableFormat.CSV:
        write_csv(FINDING_COLUMNS, finding_rows(chosen))
    else:
        rows = [
            (
                finding.severity.value,
                finding.construct,
                f"{finding.file}:{finding.line}:{finding.column}" if finding.line else "",
                finding.object,
                finding.remedy,
            )
            for finding in chosen
        ]
        out = console()
        out.print(table("", ["severity", "construct", "place", "object", "what to do"], rows))
        out.print(f"{len(chosen)} of {len(document.findings)} findings.")
