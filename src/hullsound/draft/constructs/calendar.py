"""Fixers for months, weekdays, rounded dates and parts of dates of Oracle, MySQL and SQL Server, on targets other than PostgreSQL.

Sources: Oracle Database 19c SQL Language Reference, "MONTHS_BETWEEN", "NEXT_DAY" and "ROUND (date)"; Transact-SQL reference,
"DATEPART", "DATEFIRST"; MySQL 8.4 Reference Manual, "Date and Time Functions".
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.pieces import Fill, Part, Piece
from hullsound.draft.masks.writing import write_moment
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import truncate_unit
from hullsound.sql.tree import Call, Node

from . import call_of, fixer
from .dates import unit_of
from .weeks import first_weekday_of

_MYSQL: Final = ("mysql", "mariadb")
_SUNDAY: Final = 7
_WEEKDAYS: Final = ("MON", "TUE", "WED", "THU", "FRI", "SAT", "SUN")
_SECONDS_OF_31_DAYS: Final = 2678400
_UNITS: Final = {
    **dict.fromkeys(("YYYY", "YEAR", "YY", "Y"), "year"), **dict.fromkeys(("MM", "MONTH", "MON"), "month"),
    **dict.fromkeys(("DD", "DDD", "J"), "day"), **dict.fromkeys(("HH", "HH24", "HH12"), "hour"), "MI": "minute",
}  # fmt: skip
_ROUNDED: Final = {
    "mysql": {
        "year": "MAKEDATE(YEAR({0}) + (MONTH({0}) > 6), 1)",
        "month": "(DATE({0}) - INTERVAL (DAYOFMONTH({0}) - 1) DAY + INTERVAL (DAYOFMONTH({0}) > 15) MONTH)",
        "day": "DATE({0} + INTERVAL 12 HOUR)",
        "hour": "(DATE({0}) + INTERVAL (HOUR({0}) + (MINUTE({0}) >= 30)) HOUR)",
        "minute": "(DATE({0}) + INTERVAL (HOUR({0}) * 60 + MINUTE({0}) + (SECOND({0}) >= 30)) MINUTE)",
    },
    "sqlserver": {
        "year": "CAST(DATEFROMPARTS(YEAR({0}) + CASE WHEN MONTH({0}) > 6 THEN 1 ELSE 0 END, 1, 1) AS datetime2(0))",
        "month": "DATEADD(month, CASE WHEN DAY({0}) > 15 THEN 1 ELSE 0 END, "
        "CAST(DATEFROMPARTS(YEAR({0}), MONTH({0}), 1) AS datetime2(0)))",
        "day": "CAST(CAST(DATEADD(hour, 12, {0}) AS date) AS datetime2(0))",
        "hour": "DATEADD(hour, DATEPART(hour, {0}) + CASE WHEN DATEPART(minute, {0}) >= 30 THEN 1 ELSE 0 END, "
        "CAST(CAST({0} AS date) AS datetime2(0)))",
        "minute": "DATEADD(minute, DATEPART(hour, {0}) * 60 + DATEPART(minute, {0}) + "
        "CASE WHEN DATEPART(second, {0}) >= 30 THEN 1 ELSE 0 END, CAST(CAST({0} AS date) AS datetime2(0)))",
    },
}  # fmt: skip
"""A moment rounded to a unit: years up from 1 July, months from the sixteenth day."""
_PARTS_OF_ORACLE: Final = {
    "year": "EXTRACT(YEAR FROM {0})",
    "month": "EXTRACT(MONTH FROM {0})",
    "day": "EXTRACT(DAY FROM {0})",
    "quarter": "TO_NUMBER(TO_CHAR({0}, 'Q'))",
    "dayofyear": "TO_NUMBER(TO_CHAR({0}, 'DDD'))",
    "hour": "TO_NUMBER(TO_CHAR({0}, 'HH24'))",
    "minute": "TO_NUMBER(TO_CHAR({0}, 'MI'))",
    "second": "TO_NUMBER(TO_CHAR({0}, 'SS'))",
    "isoweek": "TO_NUMBER(TO_CHAR({0}, 'IW'))",
    "weekday": "(MOD(TRUNC({0}) - TRUNC({0}, 'IW') + 1, 7) + 1)",
}
"""Parts of DATEPART, of which weekdays count from Sunday."""
_NAMED: Final = {"month": Part.MONTH_NAME, "weekday": Part.DAY_NAME}


def _moments(nodes: list[Node], rewriter: Rewriter) -> list[str]:
    if any(rewriter.types.family(each) not in MOMENTS for each in nodes):
        raise CannotDraft("months, weekdays or parts of a value that is no moment")
    return [rewriter.node(each) for each in nodes]


# --- months and weekdays ---


@fixer("months_and_weekdays")
def fix_months_and_weekdays(place: Found, rewriter: Rewriter) -> str:
    """ADD_MONTHS, MONTHS_BETWEEN and NEXT_DAY, for MySQL, MariaDB and SQL Server."""
    call = call_of(place)
    if call.parts[-1] == "MONTHS_BETWEEN" and len(call.arguments) == 2:
        first, second = _moments(call.arguments, rewriter)
        if rewriter.target.engine == "sqlserver":  # whose dates have no hours
            dates = [rewriter.types.family(each) is Family.DATE for each in call.arguments]
            first, second = (
                f"CAST({text} AS datetime2(0))" if is_date else text
                for text, is_date in zip((first, second), dates, strict=True)
            )
        return _months_between(first, second, rewriter)
    if call.parts[-1] == "NEXT_DAY":
        return _next_day(call, rewriter)
    if call.parts[-1] != "ADD_MONTHS":
        raise CannotDraft(f"{call.parts[-1].lower()}, which the target does not count")
    return _months_added(call, rewriter)


def _months_added(call: Call, rewriter: Rewriter) -> str:
    """Move a date by months; the last day of a month stays one."""
    date, months = (rewriter.node(each) for each in call.arguments)
    if rewriter.target.engine == "sqlserver":
        moved = f"DATEADD(month, {months}, {date})"
        last = f"DATEADD(day, DAY(EOMONTH({moved})) - DAY({moved}), {moved})"
        return f"(CASE WHEN CAST({date} AS date) = EOMONTH({date}) THEN {last} ELSE {moved} END)"
    if rewriter.types.family(call.arguments[1]) is Family.NUMBER:  # fractions are cut off
        months = f"TRUNCATE({months}, 0)"
    moved = f"{date} + INTERVAL ({months}) MONTH"
    if rewriter.types.family(call.arguments[0]) is Family.DATE and rewriter.catalog.engine != "oracle":
        return f"(CASE WHEN {date} = LAST_DAY({date}) THEN LAST_DAY({moved}) ELSE {moved} END)"
    return (
        f"(CASE WHEN DATE({date}) = LAST_DAY({date}) THEN TIMESTAMP(LAST_DAY({moved}), TIME({date})) ELSE {moved} END)"
    )


def _months_between(a: str, b: str, rewriter: Rewriter) -> str:
    """Count months: whole ones between equal days or last days of months, and parts of 31 days otherwise."""
    if rewriter.target.engine == "sqlserver":
        months = f"DATEDIFF(month, {b}, {a})"
        days, last = "DAY({0})", "CAST({0} AS date) = EOMONTH({0})"
        clock = "DATEPART(hour, {0}) * 3600 + DATEPART(minute, {0}) * 60 + DATEPART(second, {0})"
        kind = "decimal(38, 20)"
    else:
        months = f"TIMESTAMPDIFF(MONTH, LAST_DAY({b}) + INTERVAL 1 DAY, LAST_DAY({a}) + INTERVAL 1 DAY)"
        days, last, clock = "DAYOFMONTH({0})", "DATE({0}) = LAST_DAY({0})", "TIME_TO_SEC(TIME({0}))"
        kind = "DECIMAL(38, 20)"
    first, second = ([each.format(value) for each in (days, last, clock)] for value in (a, b))
    seconds = f"({first[0]} - {second[0]}) * 86400 + ({first[2]}) - ({second[2]})"
    is_whole = f"{first[0]} = {second[0]} OR ({first[1]} AND {second[1]})"
    return f"({months} + CASE WHEN {is_whole} THEN 0 ELSE CAST({seconds} AS {kind}) / {_SECONDS_OF_31_DAYS} END)"


def _next_day(call: Call, rewriter: Rewriter) -> str:
    """The next date behind a date that falls on a weekday, with its time of day."""
    name = (text_value(call.arguments[1], rewriter) or "").upper()[:3]
    if name not in _WEEKDAYS:
        raise CannotDraft("a weekday that is no constant, or not in English")
    (date,) = _moments(call.arguments[:1], rewriter)
    wanted = _WEEKDAYS.index(name)
    if rewriter.target.engine == "sqlserver":
        return f"DATEADD(day, 7 - (DATEPART(weekday, {date}) + @@DATEFIRST + {5 - wanted}) % 7, {date})"
    return f"({date} + INTERVAL (7 - MOD(WEEKDAY({date}) + {7 - wanted}, 7)) DAY)"


@fixer("rounded_moment")
def fix_rounded_moment(place: Found, rewriter: Rewriter) -> str:
    """ROUND(date, unit) of Oracle, for MySQL, MariaDB and SQL Server."""
    call = call_of(place)
    unit = _UNITS.get(truncate_unit(call, rewriter.subject) or "", "") if len(call.arguments) > 1 else "day"
    (date,) = _moments(call.arguments[:1], rewriter)
    engine = "mysql" if rewriter.target.engine in _MYSQL else rewriter.target.engine
    if unit not in _ROUNDED[engine]:
        raise CannotDraft("a unit that is not known")
    return _ROUNDED[engine][unit].format(date)


# --- parts ---


@fixer("part_for_oracle")
def fix_part_for_oracle(place: Found, rewriter: Rewriter) -> str:
    """DATEPART(unit, date) of SQL Server, for Oracle; weeks by 1 January and settings of the first day are for a person."""
    unit_node, value = call_of(place).arguments
    unit = unit_of(unit_node, rewriter)
    (date,) = _moments([value], rewriter)
    if unit not in _PARTS_OF_ORACLE or (unit == "weekday" and first_weekday_of(rewriter) != _SUNDAY):
        raise CannotDraft(f"the {unit} of a moment")
    return _PARTS_OF_ORACLE[unit].format(date)


@fixer("named_part")
def fix_named_part(place: Found, rewriter: Rewriter) -> str:
    """DATENAME(unit, date) of SQL Server, DAYNAME and MONTHNAME of MySQL, in English; for SQL Server and Oracle."""
    call = call_of(place)
    if call.parts[-1] == "DATENAME":
        unit, value = unit_of(call.arguments[0], rewriter), call.arguments[1]
    else:
        unit, value = {"DAYNAME": "weekday", "MONTHNAME": "month"}.get(call.parts[-1], ""), call.arguments[0]
    if unit not in _NAMED:
        raise CannotDraft(f"the {unit or 'part'} of a moment as text")
    return write_moment(value, [Piece(_NAMED[unit], fill=Fill.NOTHING)], rewriter)


_WEEK_MODES: Final = ("1", "3")
"""Modes in which YEARWEEK counts weeks as ISO 8601 does, of which WEEK has the second alone."""


@fixer("iso_week")
def fix_iso_week(place: Found, rewriter: Rewriter) -> str:
    """WEEKOFYEAR, WEEK(date, 3) and YEARWEEK(date, 1 or 3) of MySQL, for SQL Server and Oracle."""
    call = call_of(place)
    name, (value, *mode) = call.parts[-1], call.arguments
    number = rewriter.subject.source(mode[0]) if mode else "0"
    if name != "WEEKOFYEAR" and number not in (_WEEK_MODES if name == "YEARWEEK" else _WEEK_MODES[1:]):
        raise CannotDraft("weeks that are counted in another way than that of ISO 8601")
    (date,) = _moments([value], rewriter)
    if rewriter.target.engine == "oracle":
        return f"TO_NUMBER(TO_CHAR({date}, '{'IYYYIW' if name == 'YEARWEEK' else 'IW'}'))"
    week = f"DATEPART(iso_week, {date})"
    return f"(YEAR(DATEADD(day, 26 - {week}, {date})) * 100 + {week})" if name == "YEARWEEK" else week


@fixer("span_by_itself")
def fix_span_by_itself(place: Found, rewriter: Rewriter) -> str:
    """A span of time made of a number, which is written where a moment is moved by it."""
    raise CannotDraft("a span of time that stands by itself")
