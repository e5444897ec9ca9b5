"""Days and months as Oracle moves, cuts and counts them."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import literal_text, truncate_unit
from hullsound.sql.tree import Call, Name, TypedLiteral

from . import call_of, fixer

_UNITS = {
    "YYYY": "year", "YEAR": "year", "YY": "year", "Y": "year", "Q": "quarter", "MM": "month", "MONTH": "month",
    "MON": "month", "DD": "day", "DDD": "day", "J": "day", "HH": "hour", "HH24": "hour", "HH12": "hour", "MI": "minute",
    "IW": "week",
}  # fmt: skip
_INTERVAL_UNITS = {
    "DAY": "day",
    "HOUR": "hour",
    "MINUTE": "minute",
    "SECOND": "second",
    "MONTH": "month",
    "YEAR": "year",
}
_WEEKS_FROM_FIRST: Final = {"W": "DAY", "WW": "DOY"}
"""Weeks that begin on the weekday of the first day of the month or year, and the count of days since then."""


_FROM_FIRST: Final = frozenset(("MM", "MONTH", "MON", "Q", "YYYY", "YEAR", "YY", "Y"))
"""Units of TRUNC that give the first day of a month."""


@fixer("truncate_date")
def fix_truncate_date(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    unit = truncate_unit(call, rewriter.subject)
    if unit is None:
        raise CannotDraft("a unit that is not known")
    value = rewriter.node(call.arguments[0])
    if unit in ("DAY", "DY", "D"):
        # Weeks begin with a Sunday in the territory AMERICA, which is the default.
        return f"(date_trunc('week', {value} + interval '1 day') - interval '1 day')"
    if unit in _WEEKS_FROM_FIRST:
        part = _WEEKS_FROM_FIRST[unit]
        return f"(date_trunc('day', {value}) - ((EXTRACT({part} FROM {value}) - 1) % 7) * interval '1 day')"
    return f"date_trunc('{_UNITS[unit]}', {value})"


@fixer("interval_from_number")
def fix_interval_from_number(place: Found, rewriter: Rewriter) -> str:
    number, unit = call_of(place).arguments
    word = (literal_text(unit, rewriter.subject) or "").strip().upper()
    if word not in _INTERVAL_UNITS:
        raise CannotDraft("a unit that is not a constant")
    return f"(({rewriter.node(number)}) * interval '1 {_INTERVAL_UNITS[word]}')"


_AGGREGATES: Final = frozenset(("MIN", "MAX", "SUM", "AVG", "COUNT", "MEDIAN", "LISTAGG", "FIRST_VALUE", "LAST_VALUE"))
_LONG: Final = 300
"""Characters from which an argument that is needed several times is worked out once, in a query of its own."""


@fixer("months_moved")
def fix_months_moved(place: Found, rewriter: Rewriter) -> str:
    """ADD_MONTHS, which gives a date for a date; those of Oracle have a time of day."""
    call = call_of(place)
    moved = _months_moved(call, rewriter)
    is_date = rewriter.catalog.engine != "oracle" and rewriter.types.family(call.arguments[0]) is Family.DATE
    return f"CAST({moved} AS date)" if is_date else moved


def _months_moved(call: Call, rewriter: Rewriter) -> str:
    """Move a date: the last day of a month stays one; a date that is cut to its month or year never is one."""
    if len(call.arguments) != 2:
        raise CannotDraft("ADD_MONTHS without a number of months")
    date, months = (rewriter.node(each) for each in call.arguments)
    if rewriter.types.family(call.arguments[1]) is Family.NUMBER:  # fractions are cut off
        months = f"trunc({months})"
    moved = f"({date} + ({months}) * interval '1 month')"
    first = call.arguments[0]
    is_cut = isinstance(first, Call) and first.parts == ("TRUNC",) and len(first.arguments) == 2
    if (
        is_cut
        and isinstance(first, Call)
        and (literal_text(first.arguments[1], rewriter.subject) or "").upper() in _FROM_FIRST
    ):
        return moved
    end = "interval '1 month - 1 day'"
    if len(date) > _LONG:  # written once, so that months moved within months moved do not grow fivefold each time
        calls = rewriter.subject.read.inside(Call, first.first, first.last)
        if any(call.parts[-1] in _AGGREGATES for call in calls):
            raise CannotDraft("ADD_MONTHS over a long expression with an aggregate")
        last = f"date_trunc('month', d + m) + {end} + CAST(CAST(d AS timestamp) AS time)"
        moved = f"CASE WHEN date_trunc('day', d) = date_trunc('month', d) + {end} THEN {last} ELSE d + m END"
        return f"(SELECT {moved} FROM (SELECT {date} AS d, ({months}) * interval '1 month' AS m) AS given)"
    last = f"date_trunc('month', {moved}) + {end} + CAST(CAST({date} AS timestamp) AS time)"
    return f"(CASE WHEN date_trunc('day', {date}) = date_trunc('month', {date}) + {end} THEN {last} ELSE {moved} END)"


_DAYS: Final = ("MON", "TUE", "WED", "THU", "FRI", "SAT", "SUN")


@fixer("next_day")
def fix_next_day(place: Found, rewriter: Rewriter) -> str:
    """Find the next date on a day of the week that is named in English."""
    day, name = call_of(place).arguments
    word = (literal_text(name, rewriter.subject) or "").strip().upper()[:3]
    if word not in _DAYS:
        raise CannotDraft("NEXT_DAY with a day that is not a constant in English")
    date = rewriter.node(day)
    ahead = f"(CAST({_DAYS.index(word) + 7} - EXTRACT(ISODOW FROM {date}) AS integer) % 7 + 1)"
    if rewriter.types.family(day) is Family.DATE:
        kept = date if isinstance(day, TypedLiteral | Name) else f"CAST({date} AS date)"
        return f"({kept} + {ahead})"
    return f"({date} + {ahead} * interval '1 day')"


@fixer("months_between")
def fix_months_between(place: Found, rewriter: Rewriter) -> str:
    """Count months; the same day of the month, or the last day of both, gives a whole number (Oracle, MONTHS_BETWEEN)."""
    later, earlier = (f"CAST({rewriter.node(each)} AS timestamp)" for each in call_of(place).arguments)
    months = " - ".join(f"(EXTRACT(YEAR FROM {d}) * 12 + EXTRACT(MONTH FROM {d}))" for d in (later, earlier))
    same = f"EXTRACT(DAY FROM {later}) = EXTRACT(DAY FROM {earlier})"
    ends = " AND ".join(
        f"EXTRACT(MONTH FROM {d}) <> EXTRACT(MONTH FROM {d} + interval '1 day')" for d in (later, earlier)
    )
    days = f"EXTRACT(DAY FROM {later}) - EXTRACT(DAY FROM {earlier})"
    clock = f"EXTRACT(EPOCH FROM CAST({later} AS time) - CAST({earlier} AS time)) / 86400"
    return f"({months} + CASE WHEN {same} OR ({ends}) THEN 0 ELSE ({days} + {clock}) / 31 END)"
