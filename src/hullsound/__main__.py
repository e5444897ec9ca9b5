"""Runs the command line with `python -m hullsound`."""

from .cli.app import main

main()
