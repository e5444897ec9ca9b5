"""hullsound values: what a survey with --profile found out of the values."""

from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    everything: Annotated[
        bool, typer.Option("--all", help="Also what no row says, and plain numbers such as the longest.")
    ] = False,
    format: options.Rows = options.TableFormat.TEXT,
) -> None:
    """List what the values of a running source say: counts and greatest numbers by column, never a value of a text."""
    from hullsound.catalog.hullfile import read_hull
    from hullsound.report.values import list_values

    from .output import VALUE_COLUMNS, draw_values, value_rows, write_csv, write_json

    catalog = read_hull(hull)
    facts = list_values(catalog, only_yes=not everything)
    if format is options.TableFormat.JSON:
        write_json(facts)
    elif format is options.TableFormat.CSV:
        write_csv(VALUE_COLUMNS, value_rows(facts))
    else:
        draw_values(catalog, only_yes=not everything)
