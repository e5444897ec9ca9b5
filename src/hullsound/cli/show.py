"""hullsound show: one object, its source and draft side by side."""

from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    object_: Annotated[str, typer.Argument(metavar="OBJECT", help="Id of the object, or the end of it.")],
    target: options.To = "",
    target_file: options.TargetFile = "",
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Show the source of an object beside its draft, with the findings at their lines."""
    from hullsound import steps

    from .output import console, heading, progress, table, write_json
    from .sides import side_by_side

    chosen = options.hull_target(hull, target, target_file)
    with progress(False) as report:
        look = steps.look_of(hull, chosen, options.project(), object_, report, jobs=options.job_count())
    if format is options.TextFormat.JSON:
        write_json(look)
        return
    out = console()
    heading(out, f"{look.id}  ({look.outcome.value} on {look.target})")
    out.print(f"{look.file}:{look.line}; {look.reason}")
    if look.proof:
        out.print(look.proof)
    side_by_side(out, look)
    rows = [(f.line, f.severity.value, f.construct, f.message, f.remedy) for f in look.findings]
    if rows:
        out.print(
            table("Findings", ["line", "severity", "construct", "what it is", "what to do"], rows, right=["line"])
        )
