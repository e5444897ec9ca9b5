"""hullsound inventory: what is there."""

from . import options


def run(hull: options.Hull, format: options.Format = options.TextFormat.TEXT) -> None:
    """List what a hull file holds: objects by type, lines, largest routines, coverage."""
    from hullsound.catalog.hullfile import read_hull
    from hullsound.report.stock import take_stock

    from .output import console, heading, table, write_json

    stock = take_stock(read_hull(hull))
    if format is options.TextFormat.JSON:
        write_json(stock)
        return
    out = console()
    heading(out, f"{stock.name}: {stock.engine} {stock.version}".rstrip())
    out.print(f"{stock.objects} objects, {stock.lines} lines in {stock.files} files; {stock.unread} places unread.")
    rows = [(t.type, t.objects, t.lines, t.columns or "", t.used_by) for t in stock.types]
    out.print(
        table(
            "",
            ["type", "objects", "lines", "columns", "used by"],
            rows,
            right=["objects", "lines", "columns", "used by"],
        )
    )
    if stock.tables:
        biggest = [(t.object, f"{t.rows:,}", f"{t.bytes / 2**20:,.1f}") for t in stock.tables[:10]]
        total = sum(t.rows for t in stock.tables), sum(t.bytes for t in stock.tables) / 2**20
        title = f"Largest of {len(stock.tables)} tables with {total[0]:,} rows and {total[1]:,.1f} MiB"
        out.print(table(title, ["table", "rows", "MiB"], biggest, right=["rows", "MiB"]))
    if stock.settings:
        out.print(table("Settings", ["setting", "value"], list(stock.settings.items())))
    if stock.routines:
        big = [(r.object, r.name, r.lines, r.complexity, r.parameters) for r in stock.routines[:10]]
        columns = ["object", "routine", "lines", "complexity", "parameters"]
        out.print(table("Largest routines", columns, big, right=["lines", "complexity", "parameters"]))
