"""Draws what each stream copies when, and the phases of the window around it."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Final

from hullsound.plan.window import Window, duration

from .chart import DEEP, LINE, SERIES, SOFT, canvas, shortened

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_NAMED: Final = len(SERIES) - 1
"""Tables that have a colour of their own; the others share one."""
_MOST_STREAMS: Final = 32
_MOST_EMPTY: Final = 1.6
"""How many times longer than the move the window may be to be drawn whole."""
_LEAST_LABEL: Final = 0.06
"""Share of the width from which a piece is long enough for its name."""


@contextmanager
def draw_streams(window: Window) -> "Iterator[Figure]":
    """Yield the picture of a window: phases above, streams below, both over hours from the stop of the programs."""
    streams = min(window.streams, _MOST_STREAMS)
    with canvas(1100, 210 + 34 * streams) as figure:
        above, below = figure.subplots(2, 1, sharex=True, height_ratios=[1.3, max(streams, 1) * 0.55])
        begin = _draw_phases(above, window)
        _draw_tasks(below, window, begin, streams)
        long = f"{duration(window.total.p50)} (P50), {duration(window.total.p80)} (P80)"
        fits = f"fits into {window.window_hours:g} h in {window.fits:.0%} of all cases"
        above.set_title(f"{long}; {fits}", loc="left", color=DEEP, fontweight="bold")
        below.set_xlabel("hours from the stop of the programs")
        yield figure


def _draw_phases(axes: Any, window: Window) -> float:
    """Draw the phases at P50 one behind the other; return when the copy begins."""
    at = copy_begins = 0.0
    for place, phase in enumerate(window.phases):
        length = phase.hours.p50 or 0.0
        if phase.name == "copy the rows":
            copy_begins = at
        axes.barh(
            0, length, left=at, height=0.7, color=SERIES[place % len(SERIES)], label=f"{phase.name}: {duration(length)}"
        )
        at += length
    is_far = window.window_hours > at * _MOST_EMPTY
    width = (at if is_far else max(window.window_hours, at)) * 1.08
    if is_far:
        text = f"the window ends at {window.window_hours:g} h \N{RIGHTWARDS ARROW}"
        axes.text(width, 0.62, text, color=SERIES[4], fontsize=9, va="bottom", ha="right")
    else:
        axes.axvline(window.window_hours, color=SERIES[4], linewidth=1.5)
        axes.text(window.window_hours, 0.62, "end of the window ", color=SERIES[4], fontsize=9, va="bottom", ha="right")
    axes.set_ylim(-0.5, 1.1)
    axes.set_yticks([0], ["phases"])
    axes.tick_params(length=0, labelbottom=False)
    axes.spines["left"].set_visible(False)
    axes.spines["bottom"].set_visible(False)
    axes.legend(loc="upper center", bbox_to_anchor=(0.5, -0.05), ncols=3, frameon=False, fontsize=9, labelcolor=SOFT)
    axes.set_xlim(0, width or 1.0)
    return copy_begins


def _draw_tasks(axes: Any, window: Window, begin: float, streams: int) -> None:
    totals: dict[str, float] = {}
    for task in window.tasks:
        totals[task.table] = totals.get(task.table, 0.0) + task.end - task.begin
    named = sorted(totals, key=lambda table: (-totals[table], table))[:_NAMED]
    colors = dict(zip(named, SERIES, strict=False))
    width = axes.get_xlim()[1]
    rows: dict[str, list[tuple[float, float, int]]] = {}
    for task in window.tasks:
        if task.stream < streams:
            key = task.table if task.table in colors else ""
            rows.setdefault(key, []).append((begin + task.begin, task.end - task.begin, task.stream))
    for table, those in rows.items():
        axes.barh(
            [stream for _, _, stream in those], [length for _, length, _ in those], left=[left for left, _, _ in those],
            height=0.72, color=colors.get(table, LINE), edgecolor="white", linewidth=0.6,
        )  # fmt: skip
        for left, length, stream in those:
            if table and length > width * _LEAST_LABEL:
                text = shortened(table.rpartition(".")[2], max(int(length / width * 120), 4))
                axes.text(left + length / 2, stream, text, ha="center", va="center", color="white", fontsize=8.5)
    axes.set_yticks(range(streams), [f"stream {number + 1}" for number in range(streams)])
    axes.set_ylim(streams - 0.4, -0.6)
    axes.grid(axis="x", color=LINE, linewidth=0.7)
    axes.set_axisbelow(True)
    axes.tick_params(length=0)
    axes.spines["left"].set_visible(False)
    handles = [(table, colors[table]) for table in named]
    for table, color in handles:
        axes.barh(0, 0, color=color, label=shortened(table.rpartition(".")[2], 30))
    if len(totals) > len(named):
        axes.barh(0, 0, color=LINE, label=f"{len(totals) - len(named)} others")
    axes.legend(loc="center left", bbox_to_anchor=(1.0, 0.5), frameon=False, fontsize=9, labelcolor=SOFT)
