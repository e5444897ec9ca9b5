"""hullsound explain: what a construct is and what targets say to it."""

from typing import Annotated

import typer

from . import options


def run(
    construct: Annotated[
        str, typer.Argument(help="Id such as oracle.connect-by; without one, all are listed.", metavar="[CONSTRUCT]")
    ] = "",
    target: Annotated[str, typer.Option("--to", help="Only this target.", metavar="TARGET")] = "",
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Explain a construct: what it is, an example, and the stance of each target."""
    from hullsound.report.explain import explain_construct, list_constructs

    from .output import console, heading, table, write_json

    out = console()
    if not construct:
        entries = list_constructs()
        if format is options.TextFormat.JSON:
            write_json(entries)
        else:
            out.print(table("", ["construct", "title"], [(entry.id, entry.title) for entry in entries]))
        return
    page = explain_construct(construct, target)
    if format is options.TextFormat.JSON:
        write_json(page)
        return
    heading(out, f"{page.id}: {page.title}")
    out.print(page.meaning)
    if page.topic:
        out.print(f"Topic: {page.topic}")
    if page.example:
        heading(out, "\nExample")
        out.print(page.example)
    rows = [(s.target, s.way, s.severity, f"{s.minutes[0]:g}-{s.minutes[2]:g} min", s.remedy) for s in page.stances]
    out.print(table("", ["target", "way", "severity", "effort", "what to do"], rows))
    for stance in page.stances:
        if stance.becomes:
            heading(out, f"On {stance.target}")
            out.print(stance.becomes)
