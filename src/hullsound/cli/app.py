"""The application: all commands, and the one place where errors become messages and exit statuses."""

import sys
from functools import partial
from typing import Annotated

import typer

from hullsound import __version__

from . import (
    actuals,
    assess,
    browse,
    changes,
    checks,
    compare,
    demo,
    draft,
    estate,
    explain,
    findings,
    init,
    inventory,
    kit,
    meter,
    plan,
    preflight,
    probe,
    programs,
    report,
    scan,
    show,
    size,
    survey,
    trial,
    types,
    values,
    window,
)

app = typer.Typer(
    name="hullsound",
    help="Says what moving a database to another engine will take, before any data moves.",
    epilog="Exit status: 0 done; 1 findings at or above --fail-on; 2 wrong usage; 3 the source or a file cannot be read "
    "or written; 4 the target refused or cannot be reached.",
    no_args_is_help=True,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    context_settings={"help_option_names": ["-h", "--help"]},
)
_debug = False


def _show_version(value: bool) -> None:
    if value:
        typer.echo(f"hullsound {__version__}")
        raise typer.Exit


@app.callback()
def common(
    context: typer.Context,
    debug: Annotated[bool, typer.Option("--debug", help="Show the traceback of an error.")] = False,
    timing: Annotated[
        bool, typer.Option("--timing", help="Show at the end what took how long, on the standard error.")
    ] = False,
    version: Annotated[
        bool, typer.Option("--version", callback=_show_version, is_eager=True, help="Show the version.")
    ] = False,
) -> None:
    """Says what moving a database to another engine will take, before any data moves."""
    global _debug
    _debug = debug
    if timing:
        from hullsound.timing import begin_timing

        from .output import draw_timings

        context.call_on_close(partial(draw_timings, begin_timing()))


for _module in (
    init,
    scan, preflight, survey, kit, inventory, values, assess, findings, show, browse, explain, types, compare, changes, draft,
    trial, probe, programs, plan, actuals, window, size, meter, checks, report, estate, demo,
):  # fmt: skip
    app.command(_module.__name__.rsplit(".", 1)[-1])(_module.run)


def main() -> None:
    """Run the command line and exit with its status."""
    from hullsound.errors import HullError

    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")
    try:
        app()
    except HullError as error:
        _fail(error.status, str(error))
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    except KeyboardInterrupt:
        _fail(130, "interrupted")
    except OSError as error:
        where = f"{error.filename}: " if error.filename else ""
        _fail(3, f"{where}{error.strerror or error}")
    except Exception as error:
        fault = f"a fault in Hull Sound: {type(error).__name__}: {error}"
        _fail(3, f"{fault}\nRun it with --debug to see where; nothing was written half.")


def _fail(status: int, message: str) -> None:
    if _debug:
        raise
    typer.echo(f"hullsound: {message}", err=True)
    sys.exit(status)
