"""Fixers for SQL Server and Oracle as targets: spans of time of MySQL that are added, and whole units between moments.

Source: MySQL 8.4 Reference Manual, "Date and Time Functions" (DATE_ADD, TIMESTAMPDIFF).
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.ages import whole_months
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks.writing import moment_operand
from hullsound.sight.detector import Found
from hullsound.sql.tree import Node

from . import call_of, fixer
from .dates import interval_parts, unit_of
from .portable import shifted

_SECONDS: Final = {"second": 1, "minute": 60, "hour": 3600, "day": 86400, "week": 604800}
_MONTHS: Final = {"month": 1, "quarter": 3, "year": 12}


@fixer("interval_added")
def fix_interval_added(place: Found, rewriter: Rewriter) -> str:
    """DATE_ADD(date, INTERVAL n unit) of MySQL and its kin."""
    call = call_of(place)
    date, span = call.arguments[:2]
    is_back = call.parts[-1] in ("DATE_SUB", "SUBDATE")
    amount, unit = (span, "day")
    if rewriter.words[span.first] == "INTERVAL":
        amount, unit = interval_parts(span, rewriter)
    family = rewriter.types.family(date)
    if unit not in (*_SECONDS, *_MONTHS) or rewriter.types.family(amount) is not Family.INTEGER:
        raise CannotDraft("an interval of several units, or one that is added to a text")
    text = moment_operand(date, rewriter)
    if family is Family.DATE and unit in ("second", "minute", "hour"):
        text = f"CAST({text} AS datetime2(0))" if rewriter.target.engine == "sqlserver" else text
    count = rewriter.node(amount)
    return shifted(text, f"-({count})" if is_back else count, unit, rewriter)


@fixer("whole_units")
def fix_whole_units(place: Found, rewriter: Rewriter) -> str:
    """TIMESTAMPDIFF(unit, a, b) of MySQL: whole units, cut towards zero."""
    unit_node, first, last = call_of(place).arguments
    return whole_units(first, last, unit_of(unit_node, rewriter), rewriter)


def whole_units(first: Node, last: Node, unit: str, rewriter: Rewriter) -> str:
    """Write how many whole units lie between two moments. Raises CannotDraft for a unit that is not counted."""
    a, b = moment_operand(first, rewriter), moment_operand(last, rewriter)
    if unit in _SECONDS:
        return _whole_seconds(a, b, _SECONDS[unit], rewriter)
    if unit in _MONTHS:
        return whole_months(a, b, _MONTHS[unit], rewriter.target.engine)
    raise CannotDraft(f"whole {unit}s between moments")


def _whole_seconds(a: str, b: str, size: int, rewriter: Rewriter) -> str:
    if rewriter.target.engine == "sqlserver":
        seconds = f"DATEDIFF_BIG(second, {a}, {b})"
        return f"({seconds} / {size})" if size > 1 else seconds
    seconds = f"ROUND((CAST({b} AS DATE) - CAST({a} AS DATE)) * 86400)"
    return f"TRUNC({seconds} / {size})" if size > 1 else seconds


@fixer("age_by_itself")
def fix_age_by_itself(place: Found, rewriter: Rewriter) -> str:
    """AGE(last, first) of PostgreSQL, where no part of it is taken."""
    raise CannotDraft("an age that stands by itself")
