"""Db2 11.5 for Linux, UNIX and Windows: expressions and what they give, after the SQL reference ("Built-in functions")."""

from datetime import date, datetime, timedelta
from decimal import ROUND_CEILING, ROUND_DOWN, ROUND_FLOOR, ROUND_HALF_UP, Decimal
from typing import Final

from tests.manuals.model import DAYS, MOMENTS, NUMBERS, WHOLE_MANY, Manual, Value

MANUAL: Final = Manual("Db2 11.5 SQL reference")
says = MANUAL.says
TEXTS: Final = ("Quay Seven", "a", " x ", "aXbXc", "007", "", None)


@says("LEFT", "LEFT({0}, {1})", "text whole", "text", TEXTS, (0, 1, None))
def left(text: str | None, count: int | None) -> Value:
    return None if text is None or count is None else text[:count]


@says("LOCATE", "LOCATE({0}, {1})", "text text", "whole", ("a", "X", "zz", None), TEXTS)
def locate(part: str | None, text: str | None, start: int = 1) -> Value:
    return None if part is None or text is None else text.find(part, start - 1) + 1


@says("POSSTR", "POSSTR({1}, {0})", "text text", "whole", ("a", "X", "zz", None), TEXTS)
def posstr(part: str | None, text: str | None) -> Value:
    return locate(part, text)


@says("LOCATE", "LOCATE({0}, {1}, {2})", "text text whole", "whole", ("a", "X", "e"), TEXTS[:4], (1, 3))
def locate_from(part: str, text: str, start: int) -> Value:
    return locate(part, text, start)


@says("INSTR", "INSTR({0}, {1}, 1, {2})", "text text whole", "whole", TEXTS[:4], ("X", "e"), (1, 2, 3))
def instr(text: str, part: str, occurrence: int) -> Value:
    starts = [at + 1 for at in range(len(text)) if text.startswith(part, at)]
    return starts[occurrence - 1] if len(starts) >= occurrence else 0


@says("REPLACE", "REPLACE({0}, {1}, {2})", "text text text", "text", TEXTS, ("a", "X", "", None), ("#", "", None))
def replaced(text: str | None, part: str | None, new: str | None) -> Value:
    if text is None or part is None or new is None:
        return None
    return text.replace(part, new) if part else text


@says("TRANSLATE", "TRANSLATE({0}, {1}, {2})", "text text text", "text", TEXTS, ("b#", "1"), ("aX", "07"))
def translated(text: str | None, new: str, old: str) -> Value:
    if text is None:
        return None
    return "".join(c if c not in old else (new + " " * len(old))[old.index(c)] for c in text)


@says(
    "STRIP", ["STRIP({0})", "TRIM({0})", "TRIM(BOTH ' ' FROM {0})", "LTRIM(RTRIM({0}))"], "text", "text", (*TEXTS, "  ")
)
def strip(text: str | None) -> Value:
    return None if text is None else text.strip(" ")


@says("STRIP", ["STRIP({0}, LEADING, '0')", "TRIM(LEADING '0' FROM {0})"], "text", "text", TEXTS)
def strip_leading(text: str | None) -> Value:
    return None if text is None else text.lstrip("0")


@says("STRIP", ["STRIP({0}, TRAILING)", "STRIP({0}, T)"], "text", "text", TEXTS)
def strip_trailing(text: str | None) -> Value:
    return None if text is None else text.rstrip(" ")


@says("UCASE", ["UCASE({0})", "UPPER({0})"], "text", "text", TEXTS)
def ucase(text: str | None) -> Value:
    return None if text is None else text.upper()


@says("LENGTH", "LENGTH({0})", "text", "whole", (*TEXTS, "ab  "))
def length(text: str | None) -> Value:
    return None if text is None else len(text)


@says("REPEAT", "REPEAT({0}, {1})", "text whole", "text", TEXTS, (0, 1, 3, None))
def repeat(text: str | None, count: int | None) -> Value:
    return None if text is None or count is None else text * count


@says("INSERT", "INSERT({0}, {1}, {2}, {3})", "text whole whole text", "text", TEXTS[:4], (1,), (0, 1), ("ZZ", ""))
def insert(text: str, start: int, size: int, new: str) -> Value:
    return text[: start - 1] + new + text[start - 1 + size :]


@says(
    "Concatenation operator",
    ["{0} || {1}", "{0} CONCAT {1}", "CONCAT({0}, {1})"],
    "text text",
    "text",
    TEXTS,
    ("!", "", None),
)
def joined(one: str | None, two: str | None) -> Value:
    return None if one is None or two is None else one + two


@says(
    "COALESCE", ["COALESCE({0}, {1})", "VALUE({0}, {1})", "NVL({0}, {1})"], "text text", "text", TEXTS, ("none", None)
)
def coalesce(value: Value, other: Value) -> Value:
    return other if value is None else value


says("COALESCE", ["COALESCE({0}, {1})", "VALUE({0}, {1})"], "whole whole", "whole", WHOLE_MANY, (0, None))(coalesce)


@says("NULLIF", "NULLIF({0}, {1})", "whole whole", "whole", WHOLE_MANY, (0, 1))
def nullif(value: Value, other: Value) -> Value:
    return None if value == other else value


@says("MAX", ["MAX({0}, {1})", "GREATEST({0}, {1})"], "whole whole", "whole", WHOLE_MANY, (0, 2, None))
def greatest(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else max(one, two)


@says("MIN", ["MIN({0}, {1})", "LEAST({0}, {1})"], "whole whole", "whole", WHOLE_MANY, (0, 2, None))
def least(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else min(one, two)


def truth(expression: str) -> str:
    return f"CASE WHEN {expression} THEN 1 ELSE 0 END"


@says("Basic predicate", truth("{0} = {1}"), "text text", "whole", TEXTS, ("a", "A", "", None))
def is_same(one: str | None, two: str | None) -> Value:
    return int(one is not None and two is not None and one.rstrip(" ") == two.rstrip(" "))


@says("MOD", "MOD({0}, {1})", "whole whole", "whole", WHOLE_MANY, (-3, 3, None))
def mod(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) % Decimal(two))


@says("Arithmetic operators", "{0} / {1}", "whole whole", "whole", WHOLE_MANY, (-2, 3, None))
def divided(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) / two)


@says("ROUND", "ROUND({0}, {1})", "number whole", "number", NUMBERS, (-2, -1, 0, 1, 2, None))
def rounded(number: Decimal | None, places: int | None) -> Value:
    return None if number is None or places is None else number.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP)


@says("TRUNCATE", ["TRUNCATE({0}, {1})", "TRUNC({0}, {1})"], "number whole", "number", NUMBERS, (-1, 0, 1, None))
def cut(number: Decimal | None, places: int | None) -> Value:
    return None if number is None or places is None else number.quantize(Decimal(1).scaleb(-places), ROUND_DOWN)


@says("CEILING", ["CEILING({0})", "CEIL({0})"], "number", "number", NUMBERS)
def ceiling(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_CEILING)


@says("FLOOR", "FLOOR({0})", "number", "number", NUMBERS)
def floor(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_FLOOR)


@says("INTEGER", ["INTEGER({0})", "INT({0})", "CAST({0} AS INTEGER)"], "number", "whole", NUMBERS)
def as_whole(number: Decimal | None) -> Value:
    return None if number is None else int(number)


@says("DECIMAL", ["CAST({0} AS DECIMAL(9,1))", "DECIMAL({0}, 9, 1)"], "number", "number", NUMBERS)
def with_one_place(number: Decimal | None) -> Value:
    return cut(number, 1)


@says("DIGITS", "DIGITS({0})", "whole", "text", WHOLE_MANY, has_literals=False)
def digits(number: int | None) -> Value:
    return None if number is None else f"{abs(number):010}"


@says("CHAR", ["TRIM(CHAR({0}))", "VARCHAR({0})", "CAST({0} AS VARCHAR(11))"], "whole", "text", WHOLE_MANY)
def as_text(number: int | None) -> Value:
    return None if number is None else str(number)


@says("CHAR", "CHAR({0})", "whole", "text", WHOLE_MANY, has_literals=False)
def as_fixed_text(number: int | None) -> Value:
    return None if number is None else str(number).ljust(11)


@says("CASE", "CASE {0} WHEN 1 THEN 'one' ELSE 'other' END", "whole", "text", WHOLE_MANY)
def simple_case(number: int | None) -> Value:
    return "one" if number == 1 else "other"


# Days and moments.
def last_of(day: date) -> date:
    return (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)


def plus_months(day: date, months: int) -> date:
    total = day.year * 12 + day.month - 1 + months
    first = day.replace(year=total // 12, month=total % 12 + 1, day=1)
    return first.replace(day=min(day.day, last_of(first).day))


SHIFTS: Final = {
    "YEARS": lambda d, n: plus_months(d, 12 * n),
    "MONTHS": plus_months,
    "DAYS": lambda d, n: d + timedelta(days=n),
}
for unit in SHIFTS:

    @says("Datetime operations", f"{{0}} + {{1}} {unit}", "day whole", "day", DAYS, (-13, -1, 0, 1, None))
    def shifted(day: date | None, count: int | None, unit: str = unit) -> Value:
        return None if day is None or count is None else SHIFTS[unit](day, count)

    @says("Datetime operations", f"{{0}} - {{1}} {unit}", "moment whole", "moment", MOMENTS, (-13, 0, 1, None))
    def shifted_back(moment: datetime | None, count: int | None, unit: str = unit) -> Value:
        return None if moment is None or count is None else SHIFTS[unit](moment, -count)


@says("Datetime operations", "{0} + {1} HOURS", "moment whole", "moment", MOMENTS, (-13, 0, 1, None))
def plus_hours(moment: datetime | None, hours: int | None) -> Value:
    return None if moment is None or hours is None else moment + timedelta(hours=hours)


@says("Datetime operations", ["DAYS({0}) - DAYS({1})"], "day day", "whole", DAYS, (*DAYS[:3], None))
def days_between(later: date | None, earlier: date | None) -> Value:
    return None if later is None or earlier is None else later.toordinal() - earlier.toordinal()


@says("Datetime operations", "{0} - {1}", "day day", "number", DAYS, (*DAYS[:3], None))
def duration(later: date | None, earlier: date | None) -> Value:
    """Return a date duration, YYYYMMDD, as the manual works it out: days are borrowed from the month before the later date's."""
    if later is None or earlier is None:
        return None
    if later < earlier:
        return -int(duration(earlier, later))  # type: ignore[arg-type]
    day, month, year = later.day - earlier.day, later.month - earlier.month, later.year - earlier.year
    if day < 0:
        day, month = day + last_of(earlier).day, month - 1
    if month < 0:
        month, year = month + 12, year - 1
    return year * 10000 + month * 100 + day


PARTS: Final = {
    "YEAR": lambda d: d.year, "MONTH": lambda d: d.month, "DAY": lambda d: d.day, "QUARTER": lambda d: (d.month + 2) // 3,
    "DAYOFYEAR": lambda d: d.timetuple().tm_yday, "DAYOFWEEK": lambda d: d.isoweekday() % 7 + 1,
    "DAYOFWEEK_ISO": lambda d: d.isoweekday(),
    "WEEK_ISO": lambda d: d.isocalendar()[1], "DAYS": lambda d: d.toordinal(), "JULIAN_DAY": lambda d: d.toordinal() + 1721425,
    "WEEK": lambda d: (d.timetuple().tm_yday - 1 + date(d.year, 1, 1).isoweekday() % 7) // 7 + 1,
}  # fmt: skip
for unit in PARTS:

    @says(unit, f"{unit}({{0}})", "day", "whole", DAYS)
    def part_of(day: date | None, unit: str = unit) -> Value:
        return None if day is None else PARTS[unit](day)


TIMES: Final = {
    "HOUR": lambda m: m.hour, "MINUTE": lambda m: m.minute, "SECOND": lambda m: m.second,
    "MIDNIGHT_SECONDS": lambda m: m.hour * 3600 + m.minute * 60 + m.second, "YEAR": lambda m: m.year,
    "DAYS": lambda m: m.toordinal(),
}  # fmt: skip
for unit in TIMES:

    @says(unit, f"{unit}({{0}})", "moment", "whole", MOMENTS)
    def time_part_of(moment: datetime | None, unit: str = unit) -> Value:
        return None if moment is None else TIMES[unit](moment)


@says("DATE", ["DATE({0})", "CAST({0} AS DATE)"], "moment", "day", MOMENTS)
def day_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.date()


@says("LAST_DAY", "LAST_DAY({0})", "day", "day", DAYS)
def last_day(day: date | None) -> Value:
    return None if day is None else last_of(day)


@says("ADD_MONTHS", "ADD_MONTHS({0}, {1})", "day whole", "day", DAYS, (-13, -1, 0, 1, None))
def add_months(day: date | None, months: int | None) -> Value:
    if day is None or months is None:
        return None
    moved = plus_months(day, months)
    return last_of(moved) if day == last_of(day) else moved


@says("NEXT_DAY", "NEXT_DAY({0}, 'MON')", "day", "day", DAYS)
def next_monday(day: date | None) -> Value:
    return None if day is None else day + timedelta(days=7 - day.weekday())


MASKS: Final = {
    "YYYY-MM-DD": "%Y-%m-%d",
    "YYYYMMDD": "%Y%m%d",
    "DD.MM.YYYY": "%d.%m.%Y",
    "YYYY-MM-DD HH24:MI:SS": "%Y-%m-%d %H:%M:%S",
}
for mask, form in MASKS.items():

    @says(
        "VARCHAR_FORMAT", [f"VARCHAR_FORMAT({{0}}, '{mask}')", f"TO_CHAR({{0}}, '{mask}')"], "moment", "text", MOMENTS
    )
    def formatted(moment: datetime | None, form: str = form) -> Value:
        return None if moment is None else moment.strftime(form)


@says("CHAR", ["CHAR({0}, ISO)", "CHAR({0})", "VARCHAR({0})"], "day", "text", DAYS)
def day_as_text(day: date | None) -> Value:
    return None if day is None else day.isoformat()


@says("CHAR", "CHAR({0}, EUR)", "day", "text", DAYS)
def day_as_european_text(day: date | None) -> Value:
    return None if day is None else f"{day:%d.%m.%Y}"


@says("CHAR", "CHAR({0}, USA)", "day", "text", DAYS)
def day_as_american_text(day: date | None) -> Value:
    return None if day is None else f"{day:%m/%d/%Y}"


@says("DAYNAME", "DAYNAME({0})", "day", "text", DAYS)
def day_name(day: date | None) -> Value:
    names = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
    return None if day is None else names[day.weekday()]
