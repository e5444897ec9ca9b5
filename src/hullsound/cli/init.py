"""hullsound init: a commented hullsound.toml."""

from pathlib import Path
from typing import Annotated

import typer

from . import options


def run(
    target: options.To = "",
    team: Annotated[int, typer.Option("--team", min=0, help="People who work on the move.", metavar="N")] = 0,
    force: Annotated[bool, typer.Option("--force", help="Write it anew where it is there already.")] = False,
) -> None:
    """Write a commented hullsound.toml into this folder: target, team, and every key with what is assumed."""
    from hullsound import steps

    from .output import say

    path = steps.start_project(Path(), target, team, is_forced=force)
    text = path.read_text(encoding="utf-8")
    found = [line.removeprefix("#   ") for line in text.splitlines() if line.startswith("#   ")]
    for line in found:
        say(line)
    say(f"{path}: every key that may be set stands there, with what it means.")
