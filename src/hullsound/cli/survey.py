"""hullsound survey: read a source into a hull file."""

from pathlib import Path
from typing import Annotated

import typer

from . import options
from .whole import PROFILE_SECONDS


def run(
    source: Annotated[
        str,
        typer.Argument(
            help="Folder or file of SQL scripts, data dictionary (.csv), Access file, output of a kit, or the address of a "
            "running server: postgresql://user@host/database, mysql://, mariadb://, oracle://, mssql://, sqlite:///file.",
            metavar="SOURCE",
        ),
    ] = "",
    engine: options.From = "",
    output: Annotated[
        Path | None, typer.Option("--output", "-o", help="Hull file to write.", metavar="NAME.hull")
    ] = None,
    name: Annotated[
        str, typer.Option(help="Name of the source in reports; the folder's name if not given.", metavar="NAME")
    ] = "",
    encoding: options.Encoding = "",
    jobs: options.Jobs = 0,
    include: Annotated[
        list[str] | None, typer.Option(help="Only objects that fit: yard.*, order_*.", metavar="PATTERN")
    ] = None,
    exclude: Annotated[list[str] | None, typer.Option(help="No objects that fit.", metavar="PATTERN")] = None,
    profile: Annotated[
        bool, typer.Option("--profile", help="Of a server, also take aggregates over the values of its tables.")
    ] = False,
    profile_budget: Annotated[
        float, typer.Option(min=0.1, help="Seconds that the aggregates may take.", metavar="SECONDS")
    ] = PROFILE_SECONDS,
    resume: Annotated[
        bool, typer.Option("--resume", help="Of a server, go on where a survey into this hull file was cut short.")
    ] = False,
    programs: options.ProgramFolder = None,
    password: options.AskPassword = False,
    template: Annotated[
        bool, typer.Option("--template", help="Print an example of a data dictionary and stop.")
    ] = False,
    quiet: options.Quiet = False,
) -> None:
    """Read SQL scripts, a data dictionary, an Access file, a running server or a kit's output into a hull file.

    Files that have not changed since the hull file was written are not read again. A server is only read, in one
    transaction; give its password by the client's own means (PGPASSWORD, a password file) rather than in the address.
    With --profile the values are asked too, by aggregates alone: the hull file keeps counts and no value of a text.
    """
    if template:
        from hullsound.survey.dictionary import TEMPLATE

        typer.echo(TEMPLATE, nl=False)
        return
    from hullsound import steps
    from hullsound.errors import UsageError
    from hullsound.survey.live.model import is_address

    from .output import progress, say_survey

    options.ask_password(password)
    if not source or output is None:
        missing = "SOURCE" if not source else "--output"
        raise UsageError(f"{missing} is missing", where="survey", hint="hullsound survey SOURCE -o NAME.hull")
    kind, version = options.split_engine(engine)
    count = options.job_count(jobs)
    with progress(quiet) as report:
        if is_address(source):
            done = steps.survey_live_into(
                output, source, name=name, include=include or (), exclude=exclude or (), is_resumed=resume,
                profile_seconds=profile_budget if profile else 0, jobs=count, programs=programs, progress=report,
            )  # fmt: skip
        else:
            done = steps.survey_into(
                output, Path(source), kind, version, name=name, encoding=encoding, jobs=count, include=include or (),
                exclude=exclude or (), programs=programs, progress=report,
            )  # fmt: skip
    if not quiet:
        say_survey(done, output)
