"""Dates and numbers of days that are added and subtracted, for targets whose signs do not: MySQL, MariaDB and SQL Server.

Sources: Oracle SQL Language Reference, "Datetime/Interval Arithmetic"; Teradata SQL Date and Time Functions and Expressions,
"Arithmetic Operators and Functions"; MySQL 8.4 Reference Manual, TIMESTAMPADD and TIMESTAMPDIFF; Transact-SQL reference, DATEADD.
"""

import re
from typing import Final, NamedTuple

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Node, Operation

from . import fixer
from .portable import shifted

_MYSQL: Final = ("mysql", "mariadb")
_MASKS_OF_CLOCK: Final = ("HH", "MI")


class _Sum(NamedTuple):
    """What the operands so far come to, and whether the clock of a moment is known to stand at zero."""

    text: str
    family: Family
    is_day: bool = False


@fixer("date_and_days")
def fix_date_and_days(place: Found, rewriter: Rewriter) -> str:
    """A date and numbers of days, as Oracle and Teradata add them."""
    return _sum_up(place.node, rewriter)


@fixer("days_between_moments")
def fix_days_between_moments(place: Found, rewriter: Rewriter) -> str:
    """One date of Oracle minus another: days, with their fraction, to which numbers may be added."""
    return _sum_up(place.node, rewriter)


def _sum_up(node: Node, rewriter: Rewriter) -> str:
    """Write additions and subtractions step by step from the left."""
    if not isinstance(node, Operation) or len(node.operands) < 2 or not set(node.operators) <= {"+", "-"}:
        raise CannotDraft("dates and numbers among other signs")
    first, *others = node.operands
    found = _Sum(rewriter.node(first), rewriter.types.family(first), _is_day(first, rewriter))
    for sign, operand in zip(node.operators, others, strict=True):
        found = _added(found, sign, operand, rewriter)
    return found.text


def _is_day(node: Node, rewriter: Rewriter) -> bool:
    if rewriter.catalog.engine != "oracle":
        return rewriter.types.family(node) is Family.DATE
    if not isinstance(node, Call) or node.parts != ("TRUNC",):
        return False
    mask = text_value(node.arguments[1], rewriter) if len(node.arguments) > 1 else "DD"
    return mask is not None and not mask.upper().startswith(_MASKS_OF_CLOCK)


def _added(total: _Sum, sign: str, operand: Node, rewriter: Rewriter) -> _Sum:
    family, text = rewriter.types.family(operand), rewriter.node(operand)
    if total.family in MOMENTS and family in NUMBERS:
        amount = _Sum(text, family)
        return _Sum(_moved(total, sign, amount, rewriter), total.family, total.is_day and family is Family.INTEGER)
    if total.family in NUMBERS and family in MOMENTS and sign == "+":
        moment = _Sum(text, family, _is_day(operand, rewriter))
        return _Sum(_moved(moment, sign, total, rewriter), family)
    if total.family in MOMENTS and family in MOMENTS and sign == "-":
        is_whole = total.is_day and _is_day(operand, rewriter)
        found = Family.INTEGER if is_whole else Family.NUMBER
        days = _days_between(total.text, text, is_whole, rewriter)
        is_divided = is_whole and rewriter.target.engine == "sqlserver" and _is_divided(operand, rewriter)
        return _Sum(f"CAST({days} AS decimal(38, 12))" if is_divided else days, found)
    if total.family in NUMBERS and family in NUMBERS:
        return _Sum(
            f"{total.text} {sign} {text}",
            Family.INTEGER if {total.family, family} == {Family.INTEGER} else Family.NUMBER,
        )
    raise CannotDraft("a date and a number of which it is not clear which is which")


def _is_divided(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is part of a quotient, which SQL Server would cut if all of it were whole."""
    around = (each for each in rewriter.subject.all(Operation) if each.first <= node.first and node.last <= each.last)
    return any("/" in each.operators for each in around)


def _moved(moment: _Sum, sign: str, amount: _Sum, rewriter: Rewriter) -> str:
    is_plain = re.fullmatch(r"[\w.]+|\(.*\)|[\w.]+\(.*\)", amount.text) is not None
    number = amount.text if is_plain or sign == "+" else f"({amount.text})"
    minus = "-" if sign == "-" else ""
    if amount.family is Family.INTEGER:
        return shifted(moment.text, minus + number, "day", rewriter)
    if rewriter.catalog.engine != "oracle" and moment.family is Family.DATE:
        raise CannotDraft("a day that is moved by a number with a fraction")
    # A day may have a fraction, and moves by whole units do not.
    seconds = (
        f"{minus}CAST(ROUND(({amount.text}) * 86400, 0) AS {'SIGNED' if rewriter.target.engine in _MYSQL else 'int'})"
    )
    return shifted(moment.text, seconds, "second", rewriter)


def _days_between(later: str, earlier: str, is_whole: bool, rewriter: Rewriter) -> str:
    if rewriter.target.engine == "sqlserver":
        if is_whole:
            return f"DATEDIFF(day, {earlier}, {later})"
        return f"(CAST(DATEDIFF_BIG(second, {earlier}, {later}) AS decimal(38, 20)) / 86400)"
    if is_whole:
        return f"DATEDIFF({later}, {earlier})"
    return f"(CAST(TIMESTAMPDIFF(SECOND, {earlier}, {later}) AS DECIMAL(30,12)) / 86400)"
