"""Teradata 17.20: expressions and what they give, after "SQL Functions, Expressions, and Predicates". Case does not count."""

from datetime import date, datetime, timedelta
from decimal import ROUND_CEILING, ROUND_DOWN, ROUND_FLOOR, ROUND_HALF_UP, Decimal
from typing import Final

from tests.manuals.model import DAYS, MOMENTS, NUMBERS, WHOLE_MANY, Manual, Value

MANUAL: Final = Manual("Teradata 17.20 SQL Functions, Expressions, and Predicates")
says = MANUAL.says
TEXTS: Final = ("Quay Seven", "a", " x ", "aXbXc", "007", "", None)


@says(
    "SUBSTRING",
    ["SUBSTR({0}, {1}, {2})", "SUBSTRING({0} FROM {1} FOR {2})"],
    "text whole whole",
    "text",
    TEXTS,
    (-2, 0, 1, 3, 20),
    (0, 2, 30),
)
def substring(text: str | None, start: int, length: int) -> Value:
    return None if text is None else text[max(start - 1, 0) : max(start - 1 + length, 0)]


@says("SUBSTRING", ["SUBSTR({0}, {1})", "SUBSTRING({0} FROM {1})"], "text whole", "text", TEXTS, (-2, 0, 1, 3, 20))
def substring_from(text: str | None, start: int) -> Value:
    return None if text is None else text[max(start - 1, 0) :]


@says(
    "INDEX",
    ["INDEX({1}, {0})", "POSITION({0} IN {1})"],
    "text text",
    "whole",
    ("a", "X", "zz", None),
    (*TEXTS[:5], None),
)
def index(part: str | None, text: str | None) -> Value:
    return None if part is None or text is None else text.lower().find(part.lower()) + 1


@says("TRIM", ["TRIM({0})", "TRIM(BOTH FROM {0})"], "text", "text", (*TEXTS, "  "))
def trim(text: str | None) -> Value:
    return None if text is None else text.strip(" ")


@says("TRIM", "TRIM(LEADING '0' FROM {0})", "text", "text", TEXTS)
def trim_leading(text: str | None) -> Value:
    return None if text is None else text.lstrip("0")


@says("TRIM", "TRIM(TRAILING FROM {0})", "text", "text", TEXTS)
def trim_trailing(text: str | None) -> Value:
    return None if text is None else text.rstrip(" ")


@says("CHARACTER_LENGTH", ["CHARACTER_LENGTH({0})", "CHAR_LENGTH({0})", "CHARACTERS({0})"], "text", "whole", TEXTS)
def length(text: str | None) -> Value:
    return None if text is None else len(text)


@says("UPPER", "UPPER({0})", "text", "text", TEXTS)
def upper(text: str | None) -> Value:
    return None if text is None else text.upper()


@says("Concatenation Operator", "{0} || {1}", "text text", "text", TEXTS, ("!", "", None))
def joined(one: str | None, two: str | None) -> Value:
    return None if one is None or two is None else one + two


@says("COALESCE", ["COALESCE({0}, {1})"], "whole whole", "whole", WHOLE_MANY, (0, None))
def coalesce(value: Value, other: Value) -> Value:
    return other if value is None else value


says("COALESCE", ["COALESCE({0}, {1})", "NVL({0}, {1})"], "text text", "text", TEXTS, ("none", None))(coalesce)


@says("ZEROIFNULL", "ZEROIFNULL({0})", "whole", "whole", WHOLE_MANY)
def zero_if_null(number: int | None) -> Value:
    return number or 0


@says("NULLIFZERO", "NULLIFZERO({0})", "whole", "whole", WHOLE_MANY)
def null_if_zero(number: int | None) -> Value:
    return number or None


@says("NULLIF", "NULLIF({0}, {1})", "whole whole", "whole", WHOLE_MANY, (0, 1))
def nullif(value: Value, other: Value) -> Value:
    return None if value == other else value


@says("Arithmetic Operators", "{0} / {1}", "whole whole", "whole", WHOLE_MANY, (-2, 3, None))
def divided(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) / two)


@says("Arithmetic Operators", ["{0} MOD {1}"], "whole whole", "whole", WHOLE_MANY, (-3, 3, None))
def mod(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) % Decimal(two))


@says("Arithmetic Operators", "{0} ** {1}", "whole whole", "number", (-7, 0, 2), (0, 1, 2, None))
def power(one: int, two: int | None) -> Value:
    return None if two is None else one**two


@says("ROUND", "ROUND({0}, {1})", "number whole", "number", NUMBERS, (-1, 0, 1, 2))
def rounded(number: Decimal | None, places: int) -> Value:
    return None if number is None else number.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP)


@says("TRUNC", "TRUNC({0}, {1})", "number whole", "number", NUMBERS, (-1, 0, 1))
def cut(number: Decimal | None, places: int) -> Value:
    return None if number is None else number.quantize(Decimal(1).scaleb(-places), ROUND_DOWN)


@says("CEILING", ["CEILING({0})", "CEIL({0})"], "number", "number", NUMBERS)
def ceiling(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_CEILING)


@says("FLOOR", "FLOOR({0})", "number", "number", NUMBERS)
def floor(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_FLOOR)


@says("CAST", "CAST({0} AS INTEGER)", "number", "whole", NUMBERS)
def as_whole(number: Decimal | None) -> Value:
    return None if number is None else int(number)


@says("CASE", "CASE {0} WHEN 1 THEN 'one' ELSE 'other' END", "whole", "text", WHOLE_MANY)
def simple_case(number: int | None) -> Value:
    return "one" if number == 1 else "other"


def truth(expression: str) -> str:
    return f"CASE WHEN {expression} THEN 1 ELSE 0 END"


@says("Comparison Operators", truth("{0} = {1}"), "text text", "whole", TEXTS, ("A", "a  ", "b", None))
def is_same(one: str | None, two: str | None) -> Value:
    return int(one is not None and two is not None and one.rstrip(" ").lower() == two.rstrip(" ").lower())


# Days and moments.
def last_of(day: date) -> date:
    return (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)


def plus_months(day: date, months: int) -> date:
    total = day.year * 12 + day.month - 1 + months
    first = day.replace(year=total // 12, month=total % 12 + 1, day=1)
    return first.replace(day=min(day.day, last_of(first).day))


@says("ADD_MONTHS", "ADD_MONTHS({0}, {1})", "day whole", "day", DAYS, (-13, -1, 0, 1, None))
def add_months(day: date | None, months: int | None) -> Value:
    return None if day is None or months is None else plus_months(day, months)


@says("ADD_MONTHS", "ADD_MONTHS({0}, {1})", "moment whole", "moment", MOMENTS, (-13, 0, 1, None))
def add_months_to_moment(moment: datetime | None, months: int | None) -> Value:
    return None if moment is None or months is None else plus_months(moment, months)


@says("ANSI DateTime and Interval Data Type Arithmetic", ["{0} + {1}"], "day whole", "day", DAYS, (-1, 0, 30, None))
def plus_days(day: date | None, days: int | None) -> Value:
    return None if day is None or days is None else day + timedelta(days=days)


@says("ANSI DateTime and Interval Data Type Arithmetic", "{0} - {1}", "day day", "whole", DAYS, (*DAYS[:3], None))
def days_between(later: date | None, earlier: date | None) -> Value:
    return None if later is None or earlier is None else later.toordinal() - earlier.toordinal()


@says("ANSI DateTime and Interval Data Type Arithmetic", "{0} + INTERVAL '1' DAY", "moment", "moment", MOMENTS)
def plus_one_day(moment: datetime | None) -> Value:
    return None if moment is None else moment + timedelta(days=1)


for unit in ("YEAR", "MONTH", "DAY"):

    @says("EXTRACT", f"EXTRACT({unit} FROM {{0}})", "day", "whole", DAYS)
    def part_of(day: date | None, unit: str = unit) -> Value:
        return None if day is None else getattr(day, unit.lower())  # type: ignore[no-any-return]


for unit in ("HOUR", "MINUTE"):

    @says("EXTRACT", f"EXTRACT({unit} FROM {{0}})", "moment", "whole", MOMENTS)
    def time_part_of(moment: datetime | None, unit: str = unit) -> Value:
        return None if moment is None else getattr(moment, unit.lower())  # type: ignore[no-any-return]


@says("CAST", "CAST({0} AS DATE)", "moment", "day", MOMENTS)
def day_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.date()


@says("LAST_DAY", "LAST_DAY({0})", "day", "day", DAYS)
def last_day(day: date | None) -> Value:
    return None if day is None else last_of(day)


STARTS: Final = {
    "MM": lambda d: d.replace(day=1),
    "YYYY": lambda d: d.replace(month=1, day=1),
    "RM": lambda d: d.replace(day=1),
    "Q": lambda d: d.replace(month=(d.month - 1) // 3 * 3 + 1, day=1),
    "IW": lambda d: d - timedelta(days=d.weekday()),
}
for unit in STARTS:

    @says("TRUNC", f"TRUNC({{0}}, '{unit}')", "day", "day", DAYS)
    def start_of(day: date | None, unit: str = unit) -> Value:
        return None if day is None else STARTS[unit](day)


FORMS: Final = {"YYYY-MM-DD": "%Y-%m-%d", "YYYYMMDD": "%Y%m%d", "DD.MM.YYYY": "%d.%m.%Y", "YYYYMM": "%Y%m"}
for mask, form in FORMS.items():

    @says("TO_CHAR", f"TO_CHAR({{0}}, '{mask}')", "day", "text", DAYS)
    def formatted(day: date | None, form: str = form) -> Value:
        return None if day is None else day.strftime(form)


for mask, form in {"YYYY-MM-DD": "%Y-%m-%d", "YYYYMMDD": "%Y%m%d", "DD/MM/YYYY": "%d/%m/%Y"}.items():

    @says("FORMAT Phrase", f"CAST(CAST({{0}} AS FORMAT '{mask}') AS VARCHAR(10))", "day", "text", DAYS)
    def cast_by_format(day: date | None, form: str = form) -> Value:
        return None if day is None else day.strftime(form)


for name, part in {
    "TD_DAY_OF_WEEK": lambda d: d.isoweekday() % 7 + 1,
    "TD_DAY_OF_YEAR": lambda d: d.timetuple().tm_yday,
    "TD_DAY_OF_MONTH": lambda d: d.day,
}.items():

    @says(name, f"{name}({{0}})", "day", "whole", DAYS)
    def day_part(day: date | None, part=part) -> Value:  # type: ignore[no-untyped-def]
        return None if day is None else part(day)


@says("NULLIF", "{0} / NULLIFZERO({1})", "whole whole", "whole", WHOLE_MANY, (0, 2))
def divided_safely(one: int | None, two: int) -> Value:
    return None if one is None or two == 0 else int(Decimal(one) / two)


@says("OREPLACE", "OREPLACE({0}, {1}, {2})", "text text text", "text", TEXTS[:5], ("a", "X"), ("#", ""))
def replaced(text: str, part: str, new: str) -> Value:
    return text.replace(part, new)


@says("OTRANSLATE", "OTRANSLATE({0}, {1}, {2})", "text text text", "text", TEXTS[:5], ("aX", "07"), ("b", "12"))
def translated(text: str, old: str, new: str) -> Value:
    return "".join(c if c not in old else new[old.index(c)] if old.index(c) < len(new) else "" for c in text)
