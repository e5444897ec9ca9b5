"""Draws the waves of a plan over time, with what must be decided."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, timedelta
from typing import TYPE_CHECKING, Any, Final

from hullsound.plan.document import Decision, Plan, Wave, wave_name

from .chart import DEEP, LINE, SERIES, canvas, counted, note, shortened

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_ROW: Final = 34
_MOST_DECISIONS: Final = 12
_MOST_WAVES: Final = 40


@contextmanager
def draw_gantt(plan: Plan) -> "Iterator[Figure]":
    """Yield the picture of a plan: a bar for each wave, light up to its P80, and a diamond for each decision."""
    waves, decisions = plan.waves[:_MOST_WAVES], plan.decisions[:_MOST_DECISIONS]
    rows = len(waves) + len(decisions)
    with canvas(1100, 90 + _ROW * max(rows, 2)) as figure:
        axes = figure.add_subplot()
        for row, wave in enumerate(waves):
            _draw_wave(axes, row, wave)
        for row, decision in enumerate(decisions, start=len(waves)):
            _draw_decision(axes, row, decision)
        axes.axvline(_number(plan.ends_p50) + 1, color=DEEP, linewidth=1)
        axes.axvline(_number(plan.ends_p80) + 1, color=DEEP, linewidth=1, linestyle=(0, (4, 3)))
        axes.set_yticks(
            range(rows), [*(wave_name(w.number) for w in waves), *(shortened(d.title, 34) for d in decisions)]
        )
        axes.set_ylim(rows - 0.4, -0.9)
        _draw_dates(axes, plan)
        axes.tick_params(length=0)
        axes.spines["left"].set_visible(False)
        axes.set_title(
            f"Finished by {plan.ends_p50:%d %b %Y} in half of all cases, by {plan.ends_p80:%d %b %Y} in four of five",
            loc="left",
            color=DEEP,
            fontweight="bold",
        )
        yield figure


def _draw_wave(axes: Any, row: int, wave: Wave) -> None:
    begin, end, late = _number(wave.begins), _number(wave.ends_p50) + 1, _number(wave.ends_p80) + 1
    color = SERIES[2] if wave.number == 0 else SERIES[0]
    axes.barh(row, end - begin, left=begin, height=0.56, color=color)
    axes.barh(row, late - end, left=end, height=0.56, color=color, alpha=0.35)
    text = f"{counted(len(wave.objects), 'object')}, {wave.hours.p50:.0f}\N{EN DASH}{wave.hours.p80:.0f} h"
    note(axes, text, late, row)


def _draw_decision(axes: Any, row: int, decision: Decision) -> None:
    axes.plot([_number(decision.due)], [row], marker="D", color=SERIES[4], markersize=7, clip_on=False)
    those = f"{counted(len(decision.objects), 'object')} of {wave_name(decision.wave)}"
    note(axes, f"decide by {decision.due:%d %b}: {those}", _number(decision.due) + 0.1, row)


def _draw_dates(axes: Any, plan: Plan) -> None:
    """Mark Mondays, or the first days of months where there are many."""
    first, last = plan.begins, plan.ends_p80
    days = (last - first).days + 1
    axes.set_xlim(_number(first) - days * 0.01, _number(last) + 1 + max(days * 0.22, 3))
    step = 1 if days <= 14 else 7 if days <= 120 else 28 if days <= 500 else 91
    ticks = [first + timedelta(days=place) for place in range(0, days + 1, step)]
    axes.set_xticks(
        [_number(day) for day in ticks], [f"{day:%d %b}" if days <= 300 else f"{day:%b %Y}" for day in ticks]
    )
    axes.grid(axis="x", color=LINE, linewidth=0.7)
    axes.set_axisbelow(True)


def _number(day: date) -> int:
    return day.toordinal()
