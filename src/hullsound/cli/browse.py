"""hullsound browse: look through an assessment in the terminal, and decide."""

import sys
from pathlib import Path

import typer

from . import options


def run(hull: options.Hull, target: options.To = "", target_file: options.TargetFile = "") -> None:
    """Look through an assessment in the terminal: worklist, findings, source beside draft; accept findings, mark work done."""
    from hullsound.errors import UsageError

    chosen = options.hull_target(hull, target, target_file)
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        raise UsageError("browse needs a terminal", hint="findings, show and report say the same where there is none.")
    from .browser.app import Browser
    from .browser.session import Session

    app = Browser(Session(hull, chosen, Path.cwd()))
    app.run()
    if app.return_code:
        raise typer.Exit(app.return_code)
