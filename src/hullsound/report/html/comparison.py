"""Draws the page that puts targets side by side."""

from hullsound.assess.model import Outcome
from hullsound.report.compare import Comparison

from .template import load_asset, load_template


def render_comparison(comparison: Comparison) -> str:
    """Return the page of a comparison."""
    return str(
        load_template("comparison.html.j2").render(
            comparison=comparison,
            sides=comparison.sides,
            outcomes=[outcome.value for outcome in Outcome],
            style=load_asset("page.css"),
        )
    )
