"""hullsound size: which size of server carries the load, and what it costs."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from . import options

if TYPE_CHECKING:
    from rich.console import Console

    from hullsound.plan.sizing import SizeReport

_SHOWN = 8


def run(
    load: Annotated[
        Path, typer.Argument(help="Samples of load (CSV), from meter or from monitoring.", metavar="LOAD.csv")
    ],
    prices: Annotated[Path, typer.Option("--prices", help="Price list (CSV).", metavar="PRICES.csv")],
    cores: options.Cores = None,
    growth: Annotated[
        float | None, typer.Option("--growth", help="Growth of the load a year: 0.15 for 15 %.", metavar="SHARE")
    ] = None,
    years: Annotated[
        float | None, typer.Option("--years", help="Years that the size must suffice for.", metavar="N")
    ] = None,
    headroom: Annotated[
        float | None, typer.Option("--headroom", help="Share of the size that stays free.", metavar="SHARE")
    ] = None,
    standby: Annotated[
        int | None, typer.Option("--standby", help="Further servers of the same size.", metavar="N")
    ] = None,
    owned_cores: Annotated[
        float, typer.Option("--owned-cores", min=0, help="Cores that licences are there for.", metavar="N")
    ] = 0.0,
    stay: options.Stay = None,
    hull: Annotated[
        Path | None, typer.Option("--hull", help="Hull file whose effort the move costs.", metavar="NAME.hull")
    ] = None,
    target: options.To = "",
    hour_cost: options.HourCost = 0.0,
    picture: Annotated[
        Path | None, typer.Option("--picture", help="Draw the load beside the sizes.", metavar="FILE.svg|FILE.png")
    ] = None,
    format: options.Format = options.TextFormat.TEXT,
) -> None:
    """Choose the cheapest size of server that carries the measured load, and say what it costs a month."""
    from hullsound import steps
    from hullsound.errors import UsageError

    from .output import console, say, write_json

    if (stay is None) != (hull is None):
        raise UsageError(
            "the break-even needs --stay and --hull", where="size", hint="Give both, and --hour-cost, or neither."
        )
    if picture is not None:
        options.check_picture(picture)
    project = options.project()
    settings = options.settings(project, "size", growth=growth, years=years, headroom=headroom, standby=standby)
    chosen = options.hull_target(hull, target, "") if hull is not None else ""
    found = steps.size_for(
        load, prices, settings, cores=cores, owned_cores=owned_cores, stay_month=stay, hull=hull, target=chosen,
        hour_cost=hour_cost, project=project,
    )  # fmt: skip
    if picture is not None:
        from hullsound.plan.load import read_load
        from hullsound.plan.prices import read_prices
        from hullsound.report.pictures.chart import save
        from hullsound.report.pictures.load import draw_load

        with draw_load(read_load(load, cores), read_prices(prices), found) as figure:
            save(picture, figure)
        say(str(picture))
    if format is options.TextFormat.JSON:
        write_json(found)
    else:
        draw_size(console(), found)


def draw_size(out: "Console", found: "SizeReport") -> None:
    """Write a choice of size for people."""
    from .output import draw_assumptions, heading, table

    if found.chosen:
        cost = found.choices[0].cost
        heading(out, f"{found.chosen}: {cost.total:,.0f} {found.currency} a month; {found.binding} decides")
    else:
        heading(out, "No size of the price list carries the load")
    out.print(f"{found.samples} samples over {found.hours / 24:.1f} days; confidence {found.confidence}.")
    for line in found.why:
        out.print(f"  {line}.")
    use = {each.dimension: f"{each.share:.0%}" for each in found.uses}
    rows = [(n.dimension, f"{n.measured:,.4g}", f"{n.needed:,.4g}", use.get(n.dimension, "")) for n in found.needs]
    columns = ["what", "measured", "needed", "of the size"]
    out.print(table("Needed, with growth and headroom", columns, rows, right=columns[1:]))
    parts = ("compute", "standby", "storage", "backup", "licence", "total")
    listed = [
        (
            "fits" if each.fits else "too small",
            each.size,
            *(f"{getattr(each.cost, part):,.0f}" for part in parts),
            ", ".join(each.lacks),
        )
        for each in found.choices[:_SHOWN]
    ]
    out.print(table(f"Cost of a month, in {found.currency}", ["", "size", *parts, "too small in"], listed, right=parts))
    if found.smaller:
        out.print(
            f"The next smaller size, {found.smaller}, would have been too small for {found.smaller_hours_month:g} hours a month."
        )
    if found.break_even is not None:
        even = found.break_even
        costs = f"The move costs {even.move_cost_p50:,.0f} (P50) to {even.move_cost_p80:,.0f} (P80) {found.currency}"
        if even.months_p50 is None:
            out.print(f"{costs}, and never pays for itself: staying costs {even.stay_month:,.0f} a month.")
        else:
            out.print(f"{costs}, and has paid for itself after {even.months_p50:g} to {even.months_p80:g} months.")
    draw_assumptions(out, found.assumptions)
