"""Draws the page of an estate."""

from urllib.parse import quote

from hullsound.estate.document import Estate
from hullsound.report.pictures.members import draw_members

from .planning import picture
from .template import load_asset, load_template


def render_estate(estate: Estate, pages: frozenset[str] = frozenset()) -> str:
    """Return the page; members in `pages` open their own report below members/."""
    return str(
        load_template("estate.html.j2").render(
            estate=estate,
            totals=estate.totals,
            style=load_asset("page.css"),
            script=load_asset("estate.js"),
            members_picture=picture(draw_members(estate)) if estate.members else "",
            links={name: f"members/{quote(name)}/index.html" for name in pages},
        )
    )
