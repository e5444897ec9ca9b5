"""hullsound demo: the whole example on the demo harbour."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    folder: Annotated[Path, typer.Argument(help="Folder to leave everything in.", metavar="[DIR]")] = Path(
        "hullsound-demo"
    ),
    target: options.To = "postgresql:18",
    no_trial: Annotated[bool, typer.Option("--no-trial", help="Do not try the drafts on a real engine.")] = False,
    quiet: options.Quiet = False,
) -> None:
    """Copy the scripts of the made-up harbour Kestrel Bay and take them the whole way."""
    from hullsound.demo import copy_scripts

    from .output import draw_summary, draw_worklist, say
    from .whole import run_whole

    scripts = copy_scripts("oracle", folder)
    if not quiet:
        say(f"Copied the Oracle scripts of the Kestrel Bay harbour authority to {scripts}.")
        say(f"The same by hand: hullsound scan {scripts} --from oracle:19 --to {target} -o {folder} --name harbour")
    case = run_whole(scripts, "oracle:19", target, folder, name="harbour", no_trial=no_trial, quiet=quiet)
    draw_summary(case.document)
    draw_worklist(case.document, 10)
