"""Fixers for MySQL and MariaDB as targets: masks of dates and numbers, cut dates, joined rows, parts of moments.

Source: MySQL 8.4 Reference Manual, "Date and Time Functions" (DATE_FORMAT) and "Aggregate Functions" (GROUP_CONCAT); MariaDB's own
pages of the same functions, of version 10.11.
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.conversions.ages import is_age, part_of_age
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.mysql import quoted
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import truncate_unit
from hullsound.sql.tree import Cast, Node

from . import call_of, fixer
from .dates import unit_of
from .moments import check_cut

_CUTS: Final = {
    "YEAR": "MAKEDATE(YEAR({0}), 1)",
    "QUARTER": "(MAKEDATE(YEAR({0}), 1) + INTERVAL (QUARTER({0}) - 1) QUARTER)",
    "MONTH": "CAST(DATE_FORMAT({0}, '%Y-%m-01') AS DATE)",
    "WEEK": "(DATE({0}) - INTERVAL WEEKDAY({0}) DAY)",
    "SUNDAY": "(DATE({0}) - INTERVAL (DAYOFWEEK({0}) - 1) DAY)",
    "DAY": "DATE({0})",
    "HOUR": "CAST(DATE_FORMAT({0}, '%Y-%m-%d %H:00:00') AS DATETIME)",
    "MINUTE": "CAST(DATE_FORMAT({0}, '%Y-%m-%d %H:%i:00') AS DATETIME)",
}
_UNITS: Final = {
    **dict.fromkeys(("YYYY", "YEAR", "YY", "Y"), "YEAR"), "Q": "QUARTER", **dict.fromkeys(("MM", "MONTH", "MON"), "MONTH"),
    "IW": "WEEK", **dict.fromkeys(("D", "DY", "DAY"), "SUNDAY"), **dict.fromkeys(("DD", "DDD", "J"), "DAY"),
    **dict.fromkeys(("HH", "HH24", "HH12"), "HOUR"), "MI": "MINUTE",
}  # fmt: skip
_EXTRACTED: Final = ("YEAR", "QUARTER", "MONTH", "DAY", "HOUR", "MINUTE")
"""Parts that PostgreSQL and MySQL count alike."""
_PARTS: Final = {
    "year": "YEAR({0})", "quarter": "QUARTER({0})", "month": "MONTH({0})", "day": "DAYOFMONTH({0})", "dayofyear": "DAYOFYEAR({0})",
    "hour": "HOUR({0})", "minute": "MINUTE({0})", "second": "SECOND({0})", "weekday": "DAYOFWEEK({0})", "isoweek": "WEEK({0}, 3)",
}  # fmt: skip


@fixer("cut_moment")
def fix_cut_moment(place: Found, rewriter: Rewriter) -> str:
    """TRUNC(date, unit)."""
    call = call_of(place)
    if call.parts[-1] in ("DATE_TRUNC", "DATETRUNC"):
        unit_node, value = call.arguments[:2]
        unit = (text_value(unit_node, rewriter) or unit_of(unit_node, rewriter)).upper()
    else:
        value, unit = call.arguments[0], _UNITS.get(truncate_unit(call, rewriter.subject) or "", "")
    if unit not in _CUTS or (call.parts[-1] == "DATETRUNC" and unit == "WEEK"):  # which follows DATEFIRST
        raise CannotDraft("a unit that is not known")
    cut = _CUTS[unit].format(rewriter.node(value))
    if call.parts[-1] != "DATE_TRUNC":
        is_moment = rewriter.catalog.engine in ("db2", "teradata") and rewriter.types.family(value) is Family.TIMESTAMP
        return f"CAST({cut} AS DATETIME)" if is_moment and unit not in ("HOUR", "MINUTE") else cut
    check_cut(call, value, rewriter)
    is_cast = isinstance(rewriter.subject.read.parent(call), Cast)
    return cut if is_cast or unit in ("HOUR", "MINUTE") else f"CAST({cut} AS DATETIME)"


@fixer("part_of_moment")
def fix_part_of_moment(place: Found, rewriter: Rewriter) -> str:
    """DATEPART(unit, date), DATENAME(unit, date), DAYNAME and MONTHNAME; weeks begin on Sunday."""
    call = call_of(place)
    if call.parts[-1] in ("DAYNAME", "MONTHNAME") and len(call.arguments) == 1:
        return f"{call.parts[-1]}({rewriter.nodes(call.arguments)})"
    if len(call.arguments) != 2 or not call.parts[-1].startswith("DATE"):
        raise CannotDraft(f"{call.parts[-1]} in a language that is named")
    unit, date = unit_of(call.arguments[0], rewriter), rewriter.node(call.arguments[1])
    if call.parts[-1] == "DATENAME" and unit in ("month", "weekday"):
        return f"{'MONTHNAME' if unit == 'month' else 'DAYNAME'}({date})"
    if unit not in _PARTS:
        raise CannotDraft(f"the {unit} of a moment")
    part = _PARTS[unit].format(date)
    return f"CAST({part} AS CHAR)" if call.parts[-1] == "DATENAME" else part


@fixer("part_by_text")
def fix_part_by_text(place: Found, rewriter: Rewriter) -> str:
    """DATE_PART('month', moment) of PostgreSQL."""
    part, value = call_of(place).arguments
    field = (text_value(part, rewriter) or "").upper()
    if is_age(value):
        return part_of_age(field, value, rewriter)
    if field not in _EXTRACTED or rewriter.types.family(value) not in MOMENTS:
        raise CannotDraft(f"the part {field.lower() or 'that only running code knows'} of a moment")
    return f"EXTRACT({field} FROM {rewriter.node(value)})"


@fixer("greatest_word")
def fix_greatest_word(place: Found, rewriter: Rewriter) -> str:
    """MAX and MIN of several values."""
    call = call_of(place)
    return f"{'GREATEST' if call.parts[-1] == 'MAX' else 'LEAST'}({rewriter.nodes(call.arguments)})"


@fixer("regex_test")
def fix_regex_test(place: Found, rewriter: Rewriter) -> str:
    """REGEXP_LIKE, which minds case unless told otherwise."""
    call = call_of(place)
    value, pattern, *flags = call.arguments
    flag = text_value(flags[0], rewriter) if flags else "c"
    if flag not in ("c", "i"):
        raise CannotDraft("flags of a pattern other than i and c")
    return pattern_test(value, pattern, flag, rewriter)


def pattern_test(value: Node, pattern: Node, flag: str, rewriter: Rewriter) -> str:
    """Write whether a pattern fits, with the flag i or c for case."""
    if rewriter.target.engine == "mysql":
        return f"REGEXP_LIKE({rewriter.node(value)}, {rewriter.node(pattern)}, '{flag}')"
    option = "(?i)" if flag == "i" else "(?-i)"
    known = text_value(pattern, rewriter)
    if known is not None and re.search(r"(?<!\\)\$$", known):
        known = known[:-1] + r"\z"  # where $ would also fit before a line's end
    written = quoted(option + known) if known is not None else f"CONCAT('{option}', {rewriter.node(pattern)})"
    return f"({rewriter.node(value)} REGEXP {written})"


@fixer("neighbour_or_default")
def fix_neighbour_or_default(place: Found, rewriter: Rewriter) -> str:
    """LAG(value, n, default) and LEAD, of which MariaDB takes no default."""
    call = call_of(place)
    value, count, default = (rewriter.node(each) for each in call.arguments)
    window = rewriter.text(call.closing + 1, call.last)
    near = f"{call.parts[-1]}({value}, {count}) {window}"
    if call.parts[-1] == "LAG":
        return f"(CASE WHEN ROW_NUMBER() {window} <= {count} THEN {default} ELSE {near} END)"
    if not rewriter.types.is_never_null(call.arguments[0]):
        raise CannotDraft("LEAD with a default, of values that may be NULL")
    return f"COALESCE({near}, {default})"
