"""Draws the measured load over time, beside what the chosen size and the next smaller one hold."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Final

from hullsound.plan.load import Load
from hullsound.plan.prices import PriceList
from hullsound.plan.sizing import SizeReport, capacity_of, demands_of

from .chart import DEEP, LINE, SERIES, SOFT, canvas

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_MOST_POINTS: Final = 2_000


@contextmanager
def draw_load(load: Load, prices: PriceList, found: SizeReport) -> "Iterator[Figure]":
    """Yield the picture of a load: one panel for each dimension that sizes are limited in, storage aside."""
    sizes = {price.size: price for price in prices.sizes}
    demands = {name: values for name, values in demands_of(load.frame).items() if name != "storage gb"}
    needs = {need.dimension: need for need in found.needs}
    with canvas(1100, 70 + 125 * len(demands)) as figure:
        panels: Any = figure.subplots(len(demands), 1, sharex=True, squeeze=False)[:, 0]
        step = max(len(load.frame) // _MOST_POINTS, 1)
        times = list(load.frame.index)[::step]
        for axes, (name, values) in zip(panels, demands.items(), strict=True):
            axes.plot(times, values[::step], color=SERIES[0], linewidth=0.9)
            axes.set_ylabel(name)
            needed = needs[name].needed
            axes.axhline(needed, color=SERIES[2], linewidth=1.2, linestyle=(0, (4, 3)))
            axes.annotate(
                f"needed: {needed:,.4g}", (0.0, needed), xycoords=("axes fraction", "data"), xytext=(4, 2),
                textcoords="offset points", color=SOFT, fontsize=8.5,
            )  # fmt: skip
            for size, color in ((found.chosen, SERIES[1]), (found.smaller, SERIES[4])):
                capacity = capacity_of(sizes[size], name) if size else None
                if capacity is not None and capacity < 6 * max(needs[name].needed, 1e-9):
                    _limit(axes, capacity, size, color)
            axes.set_ylim(bottom=0)
            axes.grid(axis="x", color=LINE, linewidth=0.7)
            axes.tick_params(length=0)
        head = (
            f"{found.chosen or 'No size'} carries the load; {found.binding} decides"
            if found.chosen
            else "No size carries the load"
        )
        panels[0].set_title(head, loc="left", color=DEEP, fontweight="bold")
        figure.autofmt_xdate(rotation=0, ha="center")
        yield figure


def _limit(axes: Any, value: float, name: str, color: str) -> None:
    axes.axhline(value, color=color, linewidth=1.2)
    axes.annotate(
        name, (1.0, value), xycoords=("axes fraction", "data"), xytext=(4, 0), textcoords="offset points", color=SOFT,
        fontsize=8.5, va="center",
    )  # fmt: skip
