"""hullsound kit: a script with which someone else reads a server's catalogue."""

from pathlib import Path
from typing import Annotated

import typer


def run(
    engine: Annotated[
        str,
        typer.Argument(
            help="postgresql, mysql, mariadb, oracle, sqlserver, ase, db2 or teradata; with a version, such as "
            "sqlserver:2012 or oracle:11, for an older server.",
            metavar="ENGINE[:VERSION]",
        ),
    ],
    is_meter: Annotated[
        bool,
        typer.Option("--meter", help="Instead: a script that prints the load counters, to be run again and again."),
    ] = False,
    output: Annotated[
        Path | None, typer.Option("--output", "-o", help="File to write, instead of stdout.", metavar="FILE.sql")
    ] = None,
) -> None:
    """Write a plain script for an engine's own client, for a server that you may not touch.

    Who runs it needs rights on the catalogue alone, and can read it in five minutes. It changes nothing and prints text, which
    hullsound survey takes in.
    """
    from hullsound.storage import write_text
    from hullsound.survey.kit import CLIENTS, SCRIPTED, write_kit, write_meter_kit

    from .options import split_engine
    from .output import say

    kind, version = split_engine(engine)
    text = write_meter_kit(kind, version) if is_meter else write_kit(kind, version)
    if output is None:
        typer.echo(text, nl=False)
        return
    write_text(output, text)
    if is_meter:
        say(f"{output}: the first lines say how to run it, and how to hand its output to hullsound size.")
        return
    source = f" --from {kind}" if kind in SCRIPTED else ""
    command = CLIENTS[kind].command.replace("FILE", output.name)
    say(f"{output}: run it so: {command}\nThen: hullsound survey OUTPUT -o NAME.hull{source}")
