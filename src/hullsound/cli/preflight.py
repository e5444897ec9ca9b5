"""hullsound preflight: check source and target before anything else."""

from typing import Annotated

import typer

from . import options


def run(
    source: Annotated[str, typer.Argument(help="Address of the source, as survey takes it.", metavar="[SOURCE]")] = "",
    target: options.To = "",
    on: Annotated[str, typer.Option("--on", help="Address of the target database.", metavar="URL")] = "",
    password: options.AskPassword = False,
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Check source and target: driver, address, port, login, rights, version, encoding, room, and what to do about each.

    Nothing is created on either side. Exit status 3 where the source stands in the way, 4 where the target does.
    """
    from hullsound.errors import UsageError
    from hullsound.preflight.model import is_bad
    from hullsound.steps.preflight import preflight

    from .output import console, table, write_json

    if not (source or on):
        raise UsageError("nothing to check", where="preflight", hint="hullsound preflight SOURCE --to TARGET --on URL")
    if source and "://" not in source:
        raise UsageError(
            f"{source!r} is no address",
            where="preflight",
            hint="Running servers are checked: mysql://reader@host/database. Scripts and hull files need no check.",
        )
    options.ask_password(password)
    checks = preflight(source, target, on)
    if format is options.TextFormat.JSON:
        write_json(checks)
    else:
        rows = [(check.side, check.name, check.result.value, check.found, check.do) for check in checks]
        console().print(table("", ["side", "check", "result", "found", "what to do"], rows))
    if is_bad(checks, "source"):
        raise typer.Exit(3)
    if is_bad(checks, "target"):
        raise typer.Exit(4)
