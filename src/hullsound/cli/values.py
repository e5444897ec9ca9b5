"""hullsound values: what a survey with --profile found out of the values."""

from typing import Annotated

import typer

from . import options


def run(
    hull: options.Hull,
    everything: Annotated[bool, typer.Option("--all", help="Also what no row says.")] = False,
    format: options.Rows = options.TableFormat.TEXT,
) -> None:
    """List what the values of a running source say: counts and greatest numbers by column, never a value of a text."""
    from hullsound.catalog.hullfile import read_hull
    from hullsound.report.values import list_values

    from .output import console, say, table, write_csv, write_json

    catalog = read_hull(hull)
    facts = list_values(catalog, only_yes=not everything)
    columns = ["object", "column", "says", "rows", "number", "seen", "of"]
    rows = [(f.object, f.column, f.title, _plain(f.rows), _plain(f.value), f.seen, f.total) for f in facts]
    if format is options.TableFormat.JSON:
        write_json(facts)
    elif format is options.TableFormat.CSV:
        write_csv(columns, rows)
    elif not catalog.measures:
        say("The values were not looked at: survey a running source with --profile.")
    else:
        console().print(table("", columns, rows, right=["rows", "number", "seen", "of"]))


def _plain(number: int | None) -> int | str:
    return "" if number is None else number
