"""hullsound meter: samples of the load of a running source."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    source: Annotated[
        str, typer.Argument(help="Address of the source, such as postgresql://reader@host/database.", metavar="URL")
    ],
    output: Annotated[
        Path, typer.Option("--output", "-o", help="Table to write, for hullsound size.", metavar="LOAD.csv")
    ],
    every: Annotated[
        str, typer.Option("--every", help="Time between two samples: 60, 60s, 5m.", metavar="TIME")
    ] = "60",
    for_: Annotated[str, typer.Option("--for", help="How long to sample: 90s, 30m, 24h, 7d.", metavar="TIME")] = "24h",
    ask_password: options.AskPassword = False,
    quiet: options.Quiet = False,
) -> None:
    """Sample the load of a running source, which is only read: CPU, memory, reads, writes, log, connections, storage."""
    from hullsound import steps
    from hullsound.errors import UsageError
    from hullsound.plan.meter import read_duration

    from .output import progress, say

    try:
        step, seconds = read_duration(every), read_duration(for_)
    except ValueError as error:
        raise UsageError(str(error), where="--every or --for", hint="Write it as 60s, 5m, 24h or 7d.") from None
    if seconds < step:
        raise UsageError("--for is shorter than --every", where="meter", hint="No sample would be taken.")
    options.ask_password(ask_password)
    with progress(quiet) as report:
        found = steps.meter_source(source, output, step, seconds, report)
    missed = f", {found.missed} missed" if found.missed else ""
    say(f"{output}: {found.samples} samples{missed}")
    for line in sorted(found.refused):
        say(f"hullsound: not sampled: {line}")
