"""Weekdays and weeks of the T-SQL family, whose numbers follow SET DATEFIRST.

Source: Transact-SQL reference, "SET DATEFIRST" and "DATEPART".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import OtherStatement

from . import fixer

_SUNDAY: Final = 7


def first_weekday_of(rewriter: Rewriter) -> int:
    """Return the weekday on which weeks begin, Monday being 1. Raises CannotDraft where it is not known."""
    found = {
        rewriter.words[each.last - 1]
        for each in rewriter.subject.all(OtherStatement)
        if each.words.startswith("set datefirst")
    }
    if len(found) > 1 or not all(number.isdigit() and 1 <= int(number) <= 7 for number in found):
        raise CannotDraft("a first day of the week that only running code knows")
    return int(found.pop()) if found else _SUNDAY


@fixer("first_weekday")
def fix_first_weekday(place: Found, rewriter: Rewriter) -> str:
    return str(first_weekday_of(rewriter))


def weekday(value: str, rewriter: Rewriter) -> str:
    """Write the number of a moment's weekday: 1 for the first day of the week."""
    first = first_weekday_of(rewriter)
    day = f"CAST(EXTRACT(DOW FROM {value}) AS integer)"
    return f"({day} + 1)" if first == _SUNDAY else f"(({day} + {7 - first}) % 7 + 1)"


def week(value: str, rewriter: Rewriter) -> str:
    """Write the number of a moment's week: the first holds 1 January, and others begin on the first weekday."""
    shift = (7 - first_weekday_of(rewriter)) % 7
    new_year = f"CAST(EXTRACT(DOW FROM date_trunc('year', {value})) AS integer)"
    before = f"({new_year} + {shift}) % 7" if shift else new_year
    return f"((CAST(EXTRACT(DOY FROM {value}) AS integer) + 6 + {before}) / 7)"
