"""hullsound types: the type mapping, and where it loses something."""

from . import options


def run(
    hull: options.Hull,
    target: options.To = "",
    target_file: options.TargetFile = "",
    format: options.Rows = options.TableFormat.TEXT,
) -> None:
    """Show what each column type of a hull file becomes on a target."""
    from hullsound.catalog.hullfile import read_hull
    from hullsound.report.types import map_types

    from .output import console, table, write_csv, write_json

    chosen = options.hull_target(hull, target, target_file)
    mapping = map_types(read_hull(hull), chosen, options.project())
    columns = ["source type", "target type", "columns", "loses", "chosen by", "example"]
    rows = [(m.source, m.target or "none", m.columns, m.loses, m.chosen_by, m.example) for m in mapping]
    if format is options.TableFormat.JSON:
        write_json(mapping)
    elif format is options.TableFormat.CSV:
        write_csv(columns, rows)
    else:
        console().print(table(f"Types on {chosen}", columns, rows, right=["columns"]))
