"""Draws the members of an estate by size and readiness."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Final

from hullsound.estate.document import Estate

from .chart import DEEP, LINE, SERIES, SOFT, canvas, shortened

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_NAMED: Final = 14
"""Members whose names stand beside them: those with most work."""


@contextmanager
def draw_members(estate: Estate) -> "Iterator[Figure]":
    """Yield the picture: hours across, readiness upwards, the number of objects as size; what blocks has its own colour."""
    with canvas(1100, 460) as figure:
        axes = figure.add_subplot()
        for label, color, is_blocked in (("nothing blocks", SERIES[1], False), ("something blocks", SERIES[4], True)):
            rows = [row for row in estate.members if bool(row.result.blockers) == is_blocked]
            axes.scatter(
                [max(row.result.p50, 0.1) for row in rows],
                [row.result.objects_ready * 100 for row in rows],
                s=[24 + min(row.objects, 4_000) ** 0.75 for row in rows],
                color=color,
                alpha=0.65,
                edgecolor="white",
                label=f"{label}: {len(rows)}",
            )
        for row in sorted(estate.members, key=lambda row: -row.result.p50)[:_NAMED]:
            if not row.clone_of:
                place = (max(row.result.p50, 0.1), row.result.objects_ready * 100)
                axes.annotate(
                    shortened(row.name, 24), place, xytext=(9, 4), textcoords="offset points", color=SOFT, fontsize=8.5
                )
        axes.set_xscale("log")
        axes.xaxis.set_major_formatter("{x:g}")
        axes.xaxis.set_minor_formatter("")
        axes.set_xlabel("hours of work (P50)")
        axes.set_ylabel("objects that need no person, in %")
        axes.set_ylim(-3, 106)
        axes.margins(x=0.12)
        axes.grid(color=LINE, linewidth=0.7)
        axes.set_axisbelow(True)
        axes.legend(loc="lower left", frameon=False, labelcolor=SOFT)
        title = f"{estate.totals.judged} members to {estate.targets[0]}"
        axes.set_title(title, loc="left", color=DEEP, fontweight="bold")
        yield figure
