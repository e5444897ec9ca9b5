"""Functions of Db2 whose names say the unit: ADD_DAYS, HOURS_BETWEEN and their like.

Source: Db2 11.5 for LUW, SQL Reference, "Built-in scalar functions".
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call

from . import call_of, dates, fixer
from .portable import shifted
from .spans import whole_units

_MYSQL: Final = ("mysql", "mariadb")


def _unit(call: Call, begins: str = "", ends: str = "") -> str:
    return call.parts[-1].removeprefix(begins).removesuffix(ends).removesuffix("S").lower()


@fixer("moved_by_named_unit")
def fix_moved_by_named_unit(place: Found, rewriter: Rewriter) -> str:
    """ADD_YEARS(moment, n), ADD_HOURS(moment, n) and their like."""
    call = call_of(place)
    moment, amount = call.arguments
    if rewriter.types.family(moment) not in MOMENTS:
        raise CannotDraft("a moment that may be a text, moved by units")
    unit = _unit(call, begins="ADD_")
    if rewriter.target.engine == "postgresql":
        return dates.moved(moment, "+", amount, unit, rewriter)
    return shifted(rewriter.node(moment), rewriter.node(amount), unit, rewriter)


@fixer("units_between_by_name")
def fix_units_between_by_name(place: Found, rewriter: Rewriter) -> str:
    """HOURS_BETWEEN(later, earlier) and its like, which count whole units."""
    call = call_of(place)
    later, earlier = call.arguments
    if any(rewriter.types.family(each) not in MOMENTS for each in (later, earlier)):
        raise CannotDraft("units between what may be texts")
    unit = _unit(call, ends="_BETWEEN")
    if unit == "day" and all(rewriter.types.family(each) is Family.DATE for each in (later, earlier)):
        return _days_between(rewriter.node(later), rewriter.node(earlier), rewriter.target.engine)
    if rewriter.target.engine == "postgresql":
        return dates.whole_units_between(earlier, later, unit, rewriter)
    if rewriter.target.engine in _MYSQL:
        return f"TIMESTAMPDIFF({unit.upper()}, {rewriter.node(earlier)}, {rewriter.node(later)})"
    return whole_units(earlier, later, unit, rewriter)


def _days_between(later: str, earlier: str, engine: str) -> str:
    if engine in _MYSQL:
        return f"DATEDIFF({later}, {earlier})"
    return f"DATEDIFF(day, {earlier}, {later})" if engine == "sqlserver" else f"({later} - {earlier})"
