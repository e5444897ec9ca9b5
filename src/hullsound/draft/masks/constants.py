"""Constant texts of the source as moments, whatever form of its own the source reads."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.literals import is_no_day
from hullsound.sql.moments import ConstantMoment, parse_moment

_COMPARING_MOMENTS: Final = frozenset(("mysql", "mariadb"))
"""Engines in which a day beside a text with a time is compared as a moment at midnight, not the text as a day."""


def moment_of_constant(content: str, family: Family, engine: str) -> str:
    """Return what a constant text of the source holds as a moment of standard SQL.

    Raises CannotDraft for a text in a form that is not known, and for days of no calendar.
    """
    text = constant_text(known_moment(content, engine), family, engine)
    return f"TIMESTAMP '{text}'" if " " in text else f"DATE '{text}'"


def known_moment(content: str, engine: str) -> ConstantMoment:
    """Return the moment that a text of the source tells.

    Raises CannotDraft for a form that is not known, and for days of no calendar.
    """
    if is_no_day(content):
        raise CannotDraft("a text as a moment that no calendar has")
    moment = parse_moment(content, engine)
    if moment is None:
        raise CannotDraft("a text as a moment, in a form that the tool does not know")
    return moment


def constant_text(moment: ConstantMoment, family: Family, engine: str) -> str:
    """Return a moment as a constant says it: the day alone beside days, unless the source compares these as moments."""
    if not moment.day:
        raise CannotDraft("a time of day as a moment without a day")
    is_day = family is Family.DATE and engine not in _COMPARING_MOMENTS
    return moment.day if is_day or not moment.time.strip("0:.") else moment.text
