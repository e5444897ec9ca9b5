"""Draws the sections of the page on the plan: waves, window, size and checks, each where its data is there."""

from collections import Counter
from typing import Any

from hullsound.assess.model import Outcome
from hullsound.plan.checks.model import Level
from hullsound.plan.document import wave_name
from hullsound.plan.planning import Planning
from hullsound.plan.window import duration
from hullsound.report.pictures.chart import as_svg
from hullsound.report.pictures.gantt import draw_gantt
from hullsound.report.pictures.load import draw_load
from hullsound.report.pictures.streams import draw_streams

from .template import load_template


def render_planning(planning: Planning) -> Any:
    """Return the sections as markup for the page; every value in it is escaped."""
    from markupsafe import Markup

    text = load_template("planning.html.j2").render(
        plan=planning.plan,
        actuals=planning.actuals,
        window=planning.window,
        size=planning.sizing.report if planning.sizing else None,
        checks=planning.checks,
        check_counts=Counter(check.level.value for check in planning.checks.checks) if planning.checks else {},
        levels=[level.value for level in Level],
        gantt=picture(draw_gantt(planning.plan)),
        streams=picture(draw_streams(planning.window)) if planning.window else "",
        load=picture(draw_load(planning.sizing.load, planning.sizing.prices, planning.sizing.report))
        if planning.sizing
        else "",
        wave_name=wave_name,
        outcomes=[outcome.value for outcome in Outcome],
        duration=duration,
    )
    return Markup(text)  # noqa: S704 - a template that escapes has written it


def picture(drawn: Any) -> Any:
    """Return a picture as markup. Its labels are escaped by the library that writes it."""
    from markupsafe import Markup

    with drawn as figure:
        return Markup(as_svg(figure))  # noqa: S704 - written as XML, with its texts escaped
