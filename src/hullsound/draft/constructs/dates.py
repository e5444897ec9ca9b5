"""Fixers for dates and times: moving them, taking them apart, writing and reading them by a mask."""

import datetime
import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.sums import moment_of_day
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation

from . import call_of, fixer
from .weeks import week, weekday

_UNITS: Final = {
    "MICROSECOND": "microsecond", "SECOND": "second", "MINUTE": "minute", "HOUR": "hour", "DAY": "day", "WEEK": "week",
    "MONTH": "month", "QUARTER": "quarter", "YEAR": "year", "MICROSECONDS": "microsecond", "SECONDS": "second",
    "MINUTES": "minute", "HOURS": "hour", "DAYS": "day", "WEEKS": "week", "MONTHS": "month", "QUARTERS": "quarter",
    "YEARS": "year", "SQL_TSI_SECOND": "second", "SQL_TSI_MINUTE": "minute", "SQL_TSI_HOUR": "hour",
    "SQL_TSI_DAY": "day", "SQL_TSI_WEEK": "week", "SQL_TSI_MONTH": "month", "SQL_TSI_QUARTER": "quarter",
    "SQL_TSI_YEAR": "year",
}  # fmt: skip
_TSQL_PARTS: Final = {
    part: unit
    for unit, parts in {
        "year": "YEAR YY YYYY", "quarter": "QUARTER QQ Q", "month": "MONTH MM M", "dayofyear": "DAYOFYEAR DY Y",
        "day": "DAY DD D", "week": "WEEK WK WW", "weekday": "WEEKDAY DW W", "hour": "HOUR HH", "minute": "MINUTE MI N",
        "second": "SECOND SS S", "millisecond": "MILLISECOND MS", "microsecond": "MICROSECOND MCS",
        "isoweek": "ISO_WEEK ISOWK ISOWW CALWEEKOFYEAR CWK",
    }.items()
    for part in parts.split()
}  # fmt: skip
"""Abbreviations of date parts (Transact-SQL reference, "DATEADD" and "DATEPART")."""
_MAKE: Final = {"year": "years", "month": "months", "week": "weeks", "day": "days", "hour": "hours", "minute": "mins",
                "second": "secs"}  # fmt: skip
"""Units and the arguments of make_interval."""
_WHOLE_DAYS: Final = frozenset(("year", "quarter", "month", "week", "day", "dayofyear", "weekday"))
_SECONDS: Final = {"second": 1, "minute": 60, "hour": 3600, "day": 86400, "week": 604800}

_DAY_ZERO: Final = datetime.date(1900, 1, 1)
"""The day that the number 0 means where a moment is wanted (Transact-SQL reference, "datetime")."""

_DAY_ZERO_TEXT: Final = f"timestamp '{_DAY_ZERO}'"

# --- moving by an interval ---


def timestamp_of(node: Node, rewriter: Rewriter) -> str:
    """Render a value so that it is a date or timestamp: text becomes a timestamp."""
    text = rewriter.node(node)
    if rewriter.catalog.engine in ("sqlserver", "ase") and (days := re.fullmatch(r"-?\s*(\d{1,5})", text)):
        day = _DAY_ZERO + datetime.timedelta(days=int(days[1]) * (-1 if text.startswith("-") else 1))
        return f"timestamp '{day}'"
    of_day = moment_of_day(node, rewriter) if rewriter.catalog.engine in ("sqlserver", "ase") else ""
    if of_day:
        return of_day
    if rewriter.catalog.engine in ("sqlserver", "ase") and rewriter.types.family(node) in NUMBERS:
        return f"({_DAY_ZERO_TEXT} + ({text}) * interval '1 day')"
    if rewriter.types.family(node) in MOMENTS:
        return text if isinstance(node, Name | Call | Cast | Literal) else f"({text})"
    return f"CAST({text} AS timestamp)"


def interval_of(amount: Node, unit: str, rewriter: Rewriter) -> str:
    """Render so many units as an interval. Raises CannotDraft for a unit that is none."""
    if unit.upper() in _COMPOUND:
        return _compound(amount, unit.upper(), rewriter)
    source = rewriter.subject.source(amount)
    text = rewriter.node(amount)
    number = re.fullmatch(r"\(?(-?\s*\d+)\)?", source)
    if unit == "quarter":
        return f"interval '{3 * int(number[1])} months'" if number else f"make_interval(months => 3 * ({text}))"
    if unit in ("dayofyear", "weekday"):
        unit = "day"
    if number:
        return f"interval '{number[1].replace(' ', '')} {unit}{'' if number[1] == '1' else 's'}'"
    if unit in ("microsecond", "millisecond"):
        return f"({text}) * interval '1 {unit}'"
    if unit not in _MAKE:
        raise CannotDraft(f"the unit {unit}")
    whole = unit == "second" or (
        rewriter.types.family(amount) is Family.INTEGER and target_type(amount, rewriter) == "integer"
    )
    if rewriter.types.family(amount) is Family.NUMBER and rewriter.catalog.engine in ("sqlserver", "ase"):
        text = f"trunc({text})"  # fractions are cut off
    return f"make_interval({_MAKE[unit]} => {text if whole else f'CAST({text} AS integer)'})"


_COMPOUND: Final = {
    "YEAR_MONTH": ("years", "months"), "DAY_HOUR": ("days", "hours"), "DAY_MINUTE": ("days", "hours", "minutes"),
    "DAY_SECOND": ("days", "hours", "minutes", "seconds"), "HOUR_MINUTE": ("hours", "minutes"),
    "HOUR_SECOND": ("hours", "minutes", "seconds"), "MINUTE_SECOND": ("minutes", "seconds"),
}  # fmt: skip
"""Units of several parts, and what their numbers count."""


def _compound(amount: Node, unit: str, rewriter: Rewriter) -> str:
    """Render an amount such as '1:30' of several units; missing parts are those on the left."""
    text = text_value(amount, rewriter)
    numbers = re.findall(r"\d+", text) if text is not None else []
    units = _COMPOUND[unit]
    if not numbers or len(numbers) > len(units) or text is None:
        raise CannotDraft(f"an amount in {unit.lower()} that is not a constant")
    sign = "-" if text.strip().startswith("-") else ""
    parts = zip(numbers, units[-len(numbers) :], strict=True)
    return f"interval '{' '.join(f'{sign}{number} {name}' for number, name in parts)}'"


def moved(date: Node, sign: str, amount: Node, unit: str, rewriter: Rewriter) -> str:
    """Render date + interval; a date that moves by whole days stays a date."""
    is_date = rewriter.types.family(date) is Family.DATE
    text = f"{timestamp_of(date, rewriter)} {sign} {interval_of(amount, unit, rewriter)}"
    return f"CAST({text} AS date)" if is_date and unit in _WHOLE_DAYS else f"({text})"


def interval_parts(node: Node, rewriter: Rewriter) -> tuple[Node, str]:
    """Return amount and unit of INTERVAL amount unit."""
    if not (isinstance(node, Operation) and node.operators == ["INTERVAL"]):
        raise CannotDraft("an interval that is not written out")
    word = rewriter.words[node.last - 1]
    unit = _UNITS.get(word) or (word.lower() if word in _COMPOUND else None)
    if unit is None:
        raise CannotDraft(f"the unit {word.lower()}")
    return node.operands[0], unit


@fixer("date_add_interval")
def fix_date_add_interval(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    date, span = call.arguments[:2]
    sign = "-" if call.parts[-1] in ("DATE_SUB", "SUBDATE") else "+"
    if isinstance(span, Operation) and span.operators == ["INTERVAL"]:
        return moved(date, sign, *interval_parts(span, rewriter), rewriter)
    return moved(date, sign, span, "day", rewriter)


@fixer("date_add_parts")
def fix_date_add_parts(place: Found, rewriter: Rewriter) -> str:
    unit, amount, date = call_of(place).arguments
    return moved(date, "+", amount, unit_of(unit, rewriter), rewriter)


def unit_of(node: Node, rewriter: Rewriter) -> str:
    word = rewriter.subject.source(node).strip("'\"").upper()
    unit = (_TSQL_PARTS if rewriter.catalog.engine in ("sqlserver", "ase") else _UNITS).get(word)
    if unit is None:
        raise CannotDraft(f"the part {word.lower()}")
    return unit


@fixer("date_plus_interval")
def fix_date_plus_interval(place: Found, rewriter: Rewriter) -> str:
    """Render INTERVAL n UNIT, or a labelled duration such as 3 DAYS."""
    node = place.node
    if isinstance(node, Operation) and node.operators == ["INTERVAL"]:
        return interval_of(*interval_parts(node, rewriter), rewriter)
    # A labelled duration: the sign, the number and the unit.
    sign, number = rewriter.words[place.first], rewriter.text(place.first + 1, place.last - 1).strip()
    unit = _UNITS.get(rewriter.words[place.last - 1])
    if unit is None or not number:
        raise CannotDraft("a span of time that is not known")
    return f"{sign} {number} * interval '1 {unit}'" if not number.isdigit() else f"{sign} interval '{number} {unit}s'"


def prepare_dates(rewriter: Rewriter) -> None:
    """Add the points of date + INTERVAL n UNIT as a whole, so that a date that moves by days stays a date."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in ("+", "-"):
            for date, span in (node.operands, node.operands[::-1]):
                if isinstance(span, Operation) and span.operators == ["INTERVAL"]:
                    rewriter.add(Point(node.first, node.last, partial(_moved_by, node, date, span)))
                    break


def _moved_by(node: Operation, date: Node, span: Operation, rewriter: Rewriter) -> str:
    return moved(date, node.operators[0], *interval_parts(span, rewriter), rewriter)


@fixer("month_arithmetic")
def fix_month_arithmetic(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    if call.parts[-1] != "ADD_MONTHS" or len(call.arguments) != 2:
        raise CannotDraft("months between two dates, with fractions")
    return moved(call.arguments[0], "+", call.arguments[1], "month", rewriter)


# --- differences ---


@fixer("date_difference_parts")
def fix_date_difference_parts(place: Found, rewriter: Rewriter) -> str:
    """Count the borders of a part between two moments, as DATEDIFF does."""
    part, start, end = call_of(place).arguments
    unit = unit_of(part, rewriter)
    first, last = timestamp_of(start, rewriter), timestamp_of(end, rewriter)
    if unit in ("day", "dayofyear", "weekday"):
        return f"({last}::date - {first}::date)"
    if unit == "year":
        return f"CAST(EXTRACT(YEAR FROM {last}) - EXTRACT(YEAR FROM {first}) AS integer)"
    if unit in ("month", "quarter"):
        size, name = (12, "MONTH") if unit == "month" else (4, "QUARTER")
        return (
            f"CAST((EXTRACT(YEAR FROM {last}) - EXTRACT(YEAR FROM {first})) * {size} + EXTRACT({name} FROM {last})"
            f" - EXTRACT({name} FROM {first}) AS integer)"
        )
    if unit == "week":  # weeks begin on Sunday, as 1899-12-31 was
        sunday = "DATE '1899-12-31'"
        return f"(({last}::date - {sunday}) / 7 - ({first}::date - {sunday}) / 7)"
    if unit in ("hour", "minute", "second"):
        cut = [f"date_trunc('{unit}', {each}::timestamp)" for each in (last, first)]
        return f"CAST(EXTRACT(EPOCH FROM {cut[0]} - {cut[1]}) / {_SECONDS[unit]} AS integer)"
    if unit == "millisecond":
        return f"CAST(EXTRACT(EPOCH FROM {last}::timestamp - {first}::timestamp) * 1000 AS bigint)"
    raise CannotDraft(f"a difference in {unit}s")


@fixer("whole_units_between")
def fix_whole_units_between(place: Found, rewriter: Rewriter) -> str:
    """Count whole units between two moments, as TIMESTAMPDIFF does."""
    part, start, end = call_of(place).arguments
    return whole_units_between(start, end, unit_of(part, rewriter), rewriter)


def whole_units_between(start: Node, end: Node, unit: str, rewriter: Rewriter) -> str:
    """Write how many whole units lie between two moments. Raises CannotDraft for a unit that is not counted."""
    first, last = timestamp_of(start, rewriter), timestamp_of(end, rewriter)
    if unit in _SECONDS:
        return f"CAST(trunc(EXTRACT(EPOCH FROM {last}::timestamp - {first}::timestamp) / {_SECONDS[unit]}) AS bigint)"
    if unit in ("month", "quarter", "year"):
        size = {"month": 1, "quarter": 3, "year": 12}[unit]
        months = f"EXTRACT(YEAR FROM age({last}, {first})) * 12 + EXTRACT(MONTH FROM age({last}, {first}))"
        return f"CAST(trunc(({months}) / {size}) AS bigint)"
    raise CannotDraft(f"a difference in {unit}s")


# --- parts ---


@fixer("date_part")
def fix_date_part(place: Found, rewriter: Rewriter) -> str:
    part, date = call_of(place).arguments
    unit = unit_of(part, rewriter)
    value = timestamp_of(date, rewriter)
    if unit == "weekday":
        return weekday(value, rewriter)
    if unit == "week" and rewriter.catalog.engine in ("sqlserver", "ase"):
        return week(value, rewriter)
    if unit == "millisecond":
        return f"CAST(EXTRACT(MILLISECONDS FROM {value}) AS integer) % 1000"
    field = {"dayofyear": "DOY", "isoweek": "WEEK"}.get(unit, unit.upper())
    if unit in ("week", "microsecond"):
        raise CannotDraft(f"the part {unit}, which counts otherwise")
    whole = f"trunc(EXTRACT({field} FROM {value}))" if unit == "second" else f"EXTRACT({field} FROM {value})"
    return f"CAST({whole} AS integer)"


@fixer("date_part_name")
def fix_date_part_name(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    if len(call.arguments) == 1:
        mask = "FMDay" if call.parts[-1] == "DAYNAME" else "FMMonth"
        return f"to_char({timestamp_of(call.arguments[0], rewriter)}, '{mask}')"
    masks = {"weekday": "FMDay", "month": "FMMonth", "year": "YYYY", "day": "FMDD", "quarter": "Q", "hour": "FMHH24",
             "minute": "FMMI", "second": "FMSS"}  # fmt: skip
    mask = masks.get(unit_of(call.arguments[0], rewriter), "")
    if not mask:
        raise CannotDraft("the name of this part")
    return f"to_char({timestamp_of(call.arguments[1], rewriter)}, '{mask}')"


@fixer("weekday_of_date")
def fix_weekday_of_date(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value = timestamp_of(call.arguments[0], rewriter)
    if call.parts[-1] == "WEEKDAY":  # Monday is 0
        return f"CAST(EXTRACT(ISODOW FROM {value}) - 1 AS integer)"
    return f"CAST(EXTRACT(DOW FROM {value}) + 1 AS integer)"


_FIELDS: Final = {"YEAR": "YEAR", "MONTH": "MONTH", "DAY": "DAY", "DAYOFMONTH": "DAY", "HOUR": "HOUR", "MINUTE": "MINUTE",
                  "SECOND": "SECOND", "QUARTER": "QUARTER", "DAYOFYEAR": "DOY", "WEEK_ISO": "WEEK", "WEEKOFYEAR": "WEEK",
                  "DAYOFWEEK_ISO": "ISODOW"}  # fmt: skip


@fixer("field_of_date")
def fix_field_of_date(place: Found, rewriter: Rewriter) -> str:
    """Take one field as a whole number."""
    call = call_of(place)
    if call.parts[-1] in ("DAYOFWEEK", "WEEKDAY"):
        return fix_weekday_of_date(place, rewriter)
    if call.parts[-1] in ("DAYNAME", "MONTHNAME"):
        return fix_date_part_name(place, rewriter)
    if call.parts[-1] == "WEEK" and rewriter.catalog.engine == "db2":
        return week(timestamp_of(call.arguments[0], rewriter), rewriter)
    if call.parts[-1] == "MICROSECOND":
        return f"(CAST(EXTRACT(MICROSECONDS FROM {timestamp_of(call.arguments[0], rewriter)}) AS integer) % 1000000)"
    field = _FIELDS.get(call.parts[-1])
    if field is None or len(call.arguments) != 1:
        raise CannotDraft(f"the count of {call.parts[-1].lower()}")
    argument = call.arguments[0]
    if isinstance(argument, Operation) and argument.operators == ["-"] and field in ("YEAR", "MONTH", "DAY"):
        ends = [rewriter.types.family(each) for each in argument.operands]
        # A special register such as CURRENT DATE has no kind that is known.
        is_span = isinstance(argument.operands[1], Operation) and argument.operands[1].operators == ["INTERVAL"]
        if not is_span and any(end in MOMENTS for end in ends) and all(end in MOMENTS or not end for end in ends):
            # The difference of two dates is a duration of years, months and days.
            return f"CAST(EXTRACT({field} FROM age({rewriter.nodes(argument.operands)})) AS integer)"
    is_time = field in ("HOUR", "MINUTE", "SECOND") and rewriter.types.family(argument) is Family.TIME
    value = rewriter.node(argument) if is_time else timestamp_of(argument, rewriter)
    if field in ("HOUR", "MINUTE", "SECOND") and rewriter.types.family(argument) is Family.DATE:
        value = f"CAST({value} AS timestamp)"
    whole = f"trunc(EXTRACT(SECOND FROM {value}))" if field == "SECOND" else f"EXTRACT({field} FROM {value})"
    return f"CAST({whole} AS integer)"


@fixer("moment_of_parts")
def fix_moment_of_parts(place: Found, rewriter: Rewriter) -> str:
    """TIMESTAMP(moment), and TIMESTAMP(date, time) of both."""
    date, *time = (rewriter.node(each) for each in call_of(place).arguments)
    return f"(CAST({date} AS timestamp) + CAST({time[0]} AS interval))" if time else f"CAST({date} AS timestamp)"


@fixer("end_of_month")
def fix_end_of_month(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value = timestamp_of(call.arguments[0], rewriter)
    months = f" + {interval_of(call.arguments[1], 'month', rewriter)}" if len(call.arguments) > 1 else ""
    return f"CAST(date_trunc('month', {value}{months}) + interval '1 month - 1 day' AS date)"


@fixer("date_time_of_parts")
def fix_date_time_of_parts(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    if call.parts[-1] == "TIMEFROMPARTS":
        return f"make_time({values[0]}, {values[1]}, {values[2]})"
    if len(values) < 7:
        raise CannotDraft("a moment with fewer than seven parts")
    digits = 1000 if len(values) == 7 else 0
    fraction = f" + ({values[6]}) / {digits}.0" if digits else ""
    return f"make_timestamp({', '.join(values[:5])}, {values[5]}{fraction})"


@fixer("truncate_date_part_first")
def fix_truncate_date_part_first(place: Found, rewriter: Rewriter) -> str:
    part, date = call_of(place).arguments
    return f"date_trunc('{unit_of(part, rewriter)}', {timestamp_of(date, rewriter)})"


@fixer("seconds_since_1970")
def fix_seconds_since_1970(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    if not arguments:
        return "CAST(EXTRACT(EPOCH FROM date_trunc('second', CURRENT_TIMESTAMP)) AS bigint)"
    seconds = f"EXTRACT(EPOCH FROM CAST({timestamp_of(arguments[0], rewriter)} AS timestamptz))"
    kind = rewriter.types.source_type(arguments[0])
    return seconds if kind is None or kind.arguments else f"CAST({seconds} AS bigint)"


@fixer("seconds_as_time")
def fix_seconds_as_time(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value = rewriter.node(call.arguments[0])
    if call.parts[-1] == "SEC_TO_TIME":
        return f"CAST(make_interval(secs => {value}) AS time)"
    seconds = f"EXTRACT(EPOCH FROM CAST({value} AS time))"
    kind = rewriter.types.source_type(call.arguments[0])
    if kind is not None and not kind.arguments:
        return f"CAST({seconds} AS integer)"
    return seconds if rewriter.catalog.engine == "mariadb" else f"CAST(trunc({seconds}) AS integer)"


def _sunday_week(value: str) -> str:
    """Year and week of weeks that begin on Sunday, the first one the first that lies whole in its year (modes 0 and 2)."""
    sunday = f"(CAST({value} AS date) - CAST(EXTRACT(DOW FROM {value}) AS integer))"
    return f"CAST(EXTRACT(YEAR FROM {sunday}) * 100 + (EXTRACT(DOY FROM {sunday})::integer + 6) / 7 AS integer)"


@fixer("year_and_week")
def fix_year_and_week(place: Found, rewriter: Rewriter) -> str:
    """Modes 1 and 3 are the weeks of ISO 8601 here: a week belongs to the year that holds its Thursday."""
    call = call_of(place)
    mode = rewriter.node(call.arguments[1]) if len(call.arguments) > 1 else "0"
    if mode in ("0", "2"):
        return _sunday_week(timestamp_of(call.arguments[0], rewriter))
    if mode not in ("1", "3"):
        raise CannotDraft(f"weeks counted in mode {mode}, which begin on a Sunday or elsewhere in the year")
    return f"CAST(to_char({timestamp_of(call.arguments[0], rewriter)}, 'IYYYIW') AS integer)"


@fixer("periods")
def fix_periods(place: Found, rewriter: Rewriter) -> str:
    """Count in months since the year 0, of which a number YYYYMM has year * 12 + month - 1."""
    call = call_of(place)
    first, second = (f"CAST({rewriter.node(each)} AS integer)" for each in call.arguments)
    months = f"({first} / 100 * 12 + {first} % 100 - 1)"
    if call.parts[-1] == "PERIOD_DIFF":
        return f"({months} - ({second} / 100 * 12 + {second} % 100 - 1))"
    later = f"({months} + {second})"
    return f"({later} / 12 * 100 + {later} % 12 + 1)"


@fixer("time_added")
def fix_time_added(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value, added = call.arguments
    if rewriter.types.family(value) not in MOMENTS:
        raise CannotDraft("a time of day with a time added, which may go beyond 24 hours")
    sign = "-" if call.parts[-1] == "SUBTIME" else "+"
    return f"({timestamp_of(value, rewriter)} {sign} CAST({rewriter.node(added)} AS interval))"


# --- masks ---


_CUT_TO: Final = {
    **dict.fromkeys(("HH", "HH12", "HH24"), "hour"), "MI": "minute",
    **dict.fromkeys(("MM", "MON", "MONTH"), "month"), **dict.fromkeys(("YY", "YYYY", "YEAR"), "year"),
    **dict.fromkeys(("DD", "DDD", "J"), "day"), "Q": "quarter", "IW": "week",
}  # fmt: skip


def add_truncated_dates(rewriter: Rewriter) -> None:
    """Write TRUNC (date, 'MM') of Db2 and Teradata, which gives a date for a date."""
    for call in rewriter.subject.all(Call):
        if call.parts[-1] in ("TRUNC", "TRUNC_TIMESTAMP") and rewriter.types.family(call.arguments[0]) in MOMENTS:
            rewriter.add(Point(call.first, call.last, partial(_truncated, call)))


def _truncated(call: Call, rewriter: Rewriter) -> str:
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else "DD"
    unit = _CUT_TO.get((mask or "").upper())
    if unit is None:
        raise CannotDraft("a unit that is not known")
    text = f"date_trunc('{unit}', {rewriter.node(call.arguments[0])})"
    return f"CAST({text} AS date)" if rewriter.types.family(call.arguments[0]) is Family.DATE else text
