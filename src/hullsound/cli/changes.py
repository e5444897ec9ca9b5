"""hullsound changes: what is different between two assessments."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    before: Annotated[Path, typer.Argument(help="Hull file of the earlier survey.", metavar="A.hull")],
    after: Annotated[
        Path | None,
        typer.Argument(
            help="Hull file of the later survey; without it, the last two assessments of the first.", metavar="[B.hull]"
        ),
    ] = None,
    target: Annotated[
        str,
        typer.Option(
            "--to", help="Target whose assessments are compared; the last one's if not given.", metavar="TARGET"
        ),
    ] = "",
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Show which findings went, came or moved, and which outcomes changed, between two assessments."""
    from hullsound import steps

    from .output import console, heading, table, write_json

    changes = steps.find_hull_changes(before, after, target)
    if format is options.TextFormat.JSON:
        write_json(changes)
        return
    out = console()
    heading(out, f"From {changes.before}\nto   {changes.after}")
    out.print(
        f"{len(changes.went)} findings went, {len(changes.came)} came, {len(changes.moved)} moved. "
        f"Hours: {changes.effort_before[0]:.0f} to {changes.effort_before[1]:.0f} before, "
        f"{changes.effort_after[0]:.0f} to {changes.effort_after[1]:.0f} now."
    )
    rows: list[list[object]] = []
    for word, findings in (("went", changes.went), ("came", changes.came)):
        rows += [[word, f.severity.value, f.construct, f"{f.file}:{f.line}", f.object] for f in findings]
    rows += [
        ["moved", m.after.severity.value, m.after.construct, f"{m.before.file}:{m.before.line} -> {m.after.line}", m.after.object]
        for m in changes.moved
    ]  # fmt: skip
    if rows:
        out.print(table("\nFindings", ["what", "severity", "construct", "place", "object"], rows))
    if changes.outcomes:
        lines = [[c.object, c.before or "-", c.after or "-", "better" if c.is_better else ""] for c in changes.outcomes]
        out.print(table("\nOutcomes", ["object", "before", "now", ""], lines))
