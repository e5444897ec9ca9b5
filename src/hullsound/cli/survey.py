"""hullsound survey: read a source into a hull file."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    source: Annotated[
        Path | None,
        typer.Argument(help="Folder or file of SQL scripts, data dictionary (.csv), or Access file.", metavar="SOURCE"),
    ] = None,
    engine: options.From = "",
    output: Annotated[
        Path | None, typer.Option("--output", "-o", help="Hull file to write.", metavar="NAME.hull")
    ] = None,
    name: Annotated[
        str, typer.Option(help="Name of the source in reports; the folder's name if not given.", metavar="NAME")
    ] = "",
    encoding: options.Encoding = "",
    jobs: options.Jobs = 0,
    template: Annotated[
        bool, typer.Option("--template", help="Print an example of a data dictionary and stop.")
    ] = False,
    quiet: options.Quiet = False,
) -> None:
    """Read SQL scripts, a data dictionary or an Access file into a hull file.

    Files that have not changed since the hull file was written are not read again.
    """
    if template:
        from hullsound.survey.dictionary import TEMPLATE

        typer.echo(TEMPLATE, nl=False)
        return
    from hullsound import steps
    from hullsound.errors import UsageError

    from .output import progress, say_survey

    if source is None or output is None:
        missing = "SOURCE" if source is None else "--output"
        raise UsageError(f"{missing} is missing", where="survey", hint="hullsound survey SOURCE -o NAME.hull")
    kind, version = options.split_engine(engine)
    with progress(quiet) as report:
        done = steps.survey_into(
            output, source, kind, version, name=name, encoding=encoding, jobs=options.job_count(jobs), progress=report
        )
    if not quiet:
        say_survey(done, output)
