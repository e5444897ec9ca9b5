"""hullsound survey: read a source into a hull file."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    source: options.Source,
    engine: options.From,
    output: Annotated[Path, typer.Option("--output", "-o", help="Hull file to write.", metavar="NAME.hull")],
    name: Annotated[
        str, typer.Option(help="Name of the source in reports; the folder's name if not given.", metavar="NAME")
    ] = "",
    jobs: options.Jobs = 0,
    quiet: options.Quiet = False,
) -> None:
    """Read a folder or file of SQL scripts into a hull file."""
    from hullsound import steps

    from .output import progress, say

    kind, version = options.split_engine(engine)
    with progress(quiet) as report:
        catalog = steps.survey_scripts(source, kind, version, name=name, jobs=options.job_count(jobs), progress=report)
        steps.save_hull(output, catalog)
    if not quiet:
        statements = sum(file.statements for file in catalog.files)
        unread = len(catalog.unread)
        say(f"{output}: {len(catalog.objects)} objects from {statements} statements in {len(catalog.files)} files; "
            f"{unread} unread.")  # fmt: skip
