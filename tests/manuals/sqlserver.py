"""SQL Server 2022: expressions and what they give, after the Transact-SQL reference. Texts compare without case, as by default."""

import re
from datetime import date, datetime, timedelta
from decimal import ROUND_CEILING, ROUND_DOWN, ROUND_FLOOR, ROUND_HALF_UP, Decimal
from typing import Final

from tests.manuals.model import DAYS, MOMENTS, NUMBERS, WHOLE_MANY, Manual, Value

MANUAL: Final = Manual("Transact-SQL reference")
says = MANUAL.says
TEXTS: Final = ("Quay Seven", "a", " x ", "aXbXc", "007", "", None)
PLACES: Final = (-20, -3, 0, 1, 3, 20, None)


@says("LEFT", "LEFT({0}, {1})", "text whole", "text", TEXTS, (0, 1, 3, 20, None))
def left(text: str | None, count: int | None) -> Value:
    return None if text is None or count is None else text[:count]


@says("RIGHT", "RIGHT({0}, {1})", "text whole", "text", TEXTS, (0, 1, 3, 20, None))
def right(text: str | None, count: int | None) -> Value:
    return None if text is None or count is None else text[max(len(text) - count, 0) :]


@says("SUBSTRING", "SUBSTRING({0}, {1}, {2})", "text whole whole", "text", TEXTS, PLACES, (0, 2, 30, None))
def substring(text: str | None, start: int | None, length: int | None) -> Value:
    if text is None or start is None or length is None:
        return None
    return text[max(start - 1, 0) : max(start - 1 + length, 0)]


@says("CHARINDEX", "CHARINDEX({0}, {1})", "text text", "whole", ("a", "x", "zz", "", None), TEXTS)
def charindex(part: str | None, text: str | None, start: int = 1) -> Value:
    if part is None or text is None:
        return None
    return text.lower().find(part.lower(), max(start - 1, 0)) + 1 if part else 0


@says(
    "CHARINDEX", "CHARINDEX({0}, {1}, {2})", "text text whole", "whole", ("a", "x", "e"), TEXTS[:4], (-1, 0, 1, 3, 50)
)
def charindex_from(part: str, text: str, start: int) -> Value:
    return charindex(part, text, start)


@says(
    "STUFF",
    "STUFF({0}, {1}, {2}, {3})",
    "text whole whole text",
    "text",
    TEXTS,
    (-1, 0, 1, 3, 20),
    (-1, 0, 2, 30),
    ("ZZ", "", None),
)
def stuff(text: str | None, start: int, length: int, new: str | None) -> Value:
    if text is None or start < 1 or start > len(text) or length < 0:
        return None
    return text[: start - 1] + (new or "") + text[start - 1 + length :]


@says("REPLICATE", "REPLICATE({0}, {1})", "text whole", "text", TEXTS, (-1, 0, 1, 3, None))
def replicate(text: str | None, count: int | None) -> Value:
    return None if text is None or count is None or count < 0 else text * count


@says("REPLACE", "REPLACE({0}, {1}, {2})", "text text text", "text", TEXTS, ("a", "x", "", None), ("#", "", None))
def replaced(text: str | None, part: str | None, new: str | None) -> Value:
    if text is None or part is None or new is None:
        return None
    return re.sub(re.escape(part), lambda _: new, text, flags=re.IGNORECASE) if part else text


@says("LEN", "LEN({0})", "text", "whole", (*TEXTS, "ab  ", "  "))
def length(text: str | None) -> Value:
    return None if text is None else len(text.rstrip(" "))


@says("DATALENGTH", "DATALENGTH({0})", "text", "whole", (*TEXTS, "ab  "))
def data_length(text: str | None) -> Value:
    return None if text is None else len(text)


@says("LTRIM", ["LTRIM(RTRIM({0}))", "TRIM({0})"], "text", "text", (*TEXTS, "  "))
def trim(text: str | None) -> Value:
    return None if text is None else text.strip(" ")


@says("UPPER", "UPPER({0})", "text", "text", TEXTS)
def upper(text: str | None) -> Value:
    return None if text is None else text.upper()


@says("REVERSE", "REVERSE({0})", "text", "text", TEXTS)
def reverse(text: str | None) -> Value:
    return None if text is None else text[::-1]


@says("SPACE", "SPACE({0})", "whole", "text", (0, 1, 3, -1, None))
def space(count: int | None) -> Value:
    return None if count is None or count < 0 else " " * count


@says("ASCII", "ASCII({0})", "text", "whole", TEXTS)
def ascii_of(text: str | None) -> Value:
    return ord(text[0]) if text else None


@says("CHAR", "CHAR({0})", "whole", "text", (65, 97, 32, 256, -1, None))
def character(code: int | None) -> Value:
    return chr(code) if code is not None and 0 <= code <= 255 else None


@says("String concatenation", "{0} + {1}", "text text", "text", TEXTS, ("!", "", None))
def joined(one: str | None, two: str | None) -> Value:
    return None if one is None or two is None else one + two


@says("CONCAT", "CONCAT({0}, '-', {1})", "text whole", "text", TEXTS, WHOLE_MANY)
def concat(text: str | None, number: int | None) -> Value:
    return f"{text or ''}-{'' if number is None else number}"


@says("CONCAT_WS", "CONCAT_WS(',', {0}, {1})", "text whole", "text", TEXTS, WHOLE_MANY)
def concat_ws(text: str | None, number: int | None) -> Value:
    return ",".join(str(each) for each in (text, number) if each is not None)


@says(
    "String concatenation",
    ["{0} + CAST({1} AS varchar(10))", "{0} + CONVERT(varchar(10), {1})"],
    "text whole",
    "text",
    TEXTS,
    WHOLE_MANY,
)
def joined_number(text: str | None, number: int | None) -> Value:
    return None if text is None or number is None else text + str(number)


@says("STR", "STR({0}, {1}, {2})", "number whole whole", "text", (*NUMBERS[:1], *NUMBERS[2:]), (4, 10), (0, 1, 2))
def str_of(number: Decimal | None, width: int, places: int) -> Value:
    if number is None:
        return None
    whole = len(str(abs(int(number)))) + (number < 0)
    if whole > width:
        return "*" * width
    kept = min(places, max(width - whole - 1, 0))
    text = format(number.quantize(Decimal(1).scaleb(-kept), ROUND_HALF_UP), "f")
    return text.rjust(width)


@says("ISNULL", "ISNULL({0}, {1})", "text text", "text", TEXTS, ("none", "", None))
def isnull(value: Value, other: Value) -> Value:
    return other if value is None else value


says("ISNULL", "ISNULL({0}, {1})", "whole whole", "whole", WHOLE_MANY, (0, 5, None))(isnull)
says("ISNULL", "ISNULL({0}, {1})", "number whole", "number", NUMBERS, (0, None))(isnull)
says("COALESCE", "COALESCE({0}, {1})", "text text", "text", TEXTS, ("none", None))(isnull)


@says("ISNULL", "ISNULL({0}, {1})", "whole number", "whole", WHOLE_MANY, NUMBERS, has_literals=False)
def isnull_whole(value: int | None, other: Decimal | None) -> Value:
    return int(other) if value is None and other is not None else value


@says("NULLIF", "NULLIF({0}, {1})", "whole whole", "whole", WHOLE_MANY, (0, 1, None))
def nullif(value: Value, other: Value) -> Value:
    return None if value == other else value


@says("NULLIF", "NULLIF({0}, {1})", "text text", "text", TEXTS, ("A", "", "quay seven "))
def nullif_text(value: str | None, other: str) -> Value:
    return None if same(value, other) else value


def same(one: str | None, two: str | None) -> bool:
    return one is not None and two is not None and one.rstrip(" ").lower() == two.rstrip(" ").lower()


@says("IIF", "IIF({0} > {1}, 'more', 'less')", "whole whole", "text", WHOLE_MANY, (0, 1, None))
def iif(one: int | None, two: int | None) -> Value:
    return "more" if one is not None and two is not None and one > two else "less"


@says("CHOOSE", "CHOOSE({0}, 'a', 'b')", "whole", "text", WHOLE_MANY)
def choose(index: int | None) -> Value:
    return {1: "a", 2: "b"}.get(index or 0)


def truth(expression: str) -> str:
    return f"CASE WHEN {expression} THEN 1 ELSE 0 END"


@says("Comparison operators", truth("{0} = {1}"), "text text", "whole", TEXTS, ("A", "QUAY SEVEN", "a  ", "", None))
def is_same(one: str | None, two: str | None) -> Value:
    return int(same(one, two))


@says("Comparison operators", truth("{0} <> {1}"), "text text", "whole", TEXTS, ("A", "QUAY SEVEN", "a  ", "", None))
def is_other(one: str | None, two: str | None) -> Value:
    return int(one is not None and two is not None and not same(one, two))


@says("IN", truth("{0} IN ('A', 'quay seven', '7')"), "text", "whole", TEXTS)
def is_one_of(text: str | None) -> Value:
    return int(text is not None and text.lower() in ("a", "quay seven", "7"))


LIKED: Final = ("Quay Seven", "a\\b", "50%", "a_c", "ABC", "", "a[b", None)


def likened(text: str | None, pattern: str | None) -> int:
    if text is None or pattern is None:
        return 0
    pieces = re.findall(r"\[\^?[^\]]+\]|[\s\S]", pattern)
    classes = [f"[{each[1:-1].replace('[', re.escape('['))}]" if len(each) > 1 else re.escape(each) for each in pieces]
    regex = "".join({"%": ".*", "_": "."}.get(each, kind) for each, kind in zip(pieces, classes, strict=True))
    return int(re.fullmatch(regex, text, re.DOTALL | re.IGNORECASE) is not None)


@says("LIKE", truth("{0} LIKE {1}"), "text text", "whole", LIKED, ("%", "A%", "a\\b", "a_c", None))
def like(text: str | None, pattern: str | None) -> Value:
    return likened(text, pattern)


for pattern in ("a[_]c", "50[%]", "[a-c]%", "[^a]%", "[[]b", "%[[]%"):

    @says("LIKE", truth(f"{{0}} LIKE '{pattern}'"), "text", "whole", LIKED)
    def like_class(text: str | None, pattern: str = pattern) -> Value:
        return likened(text, pattern)


@says("LIKE", truth("{0} NOT LIKE {1}"), "text text", "whole", LIKED, ("A%", "Q_ay%", None))
def not_like(text: str | None, pattern: str | None) -> Value:
    return int(text is not None and pattern is not None and not likened(text, pattern))


@says("PATINDEX", "PATINDEX('%[0-9]%', {0})", "text", "whole", TEXTS)
def first_digit(text: str | None) -> Value:
    if text is None:
        return None
    match = re.search("[0-9]", text)
    return match.start() + 1 if match else 0


@says("ROUND", "ROUND({0}, {1})", "number whole", "number", NUMBERS, (-2, -1, 0, 1, 2, None))
def rounded(number: Decimal | None, places: int | None) -> Value:
    return None if number is None or places is None else number.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP)


@says("ROUND", "ROUND({0}, {1}, 1)", "number whole", "number", NUMBERS, (-1, 0, 1))
def cut(number: Decimal | None, places: int) -> Value:
    return None if number is None else number.quantize(Decimal(1).scaleb(-places), ROUND_DOWN)


@says("CEILING", "CEILING({0})", "number", "number", NUMBERS)
def ceiling(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_CEILING)


@says("FLOOR", "FLOOR({0})", "number", "number", NUMBERS)
def floor(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_FLOOR)


@says("SIGN", "SIGN({0})", "number", "number", NUMBERS)
def sign(number: Decimal | None) -> Value:
    return None if number is None else (number > 0) - (number < 0)


@says("Arithmetic operators", "{0} / {1}", "whole whole", "whole", WHOLE_MANY, (-2, 3, 4, None))
def divided(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) / two)


@says("Arithmetic operators", "{0} % {1}", "whole whole", "whole", WHOLE_MANY, (-3, 3, None))
def remainder(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else int(Decimal(one) % Decimal(two))


@says("Arithmetic operators", "ROUND({0} / {1}, 2)", "number whole", "number", NUMBERS, (-2, 3, None))
def divided_number(one: Decimal | None, two: int | None) -> Value:
    return None if one is None or two is None else rounded(one / two, 2)


@says("Arithmetic operators", "ROUND({0} * 1.0 / {1}, 2)", "whole whole", "number", WHOLE_MANY, (-2, 3, None))
def divided_exactly(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else rounded(Decimal(one) / two, 2)


@says("CAST and CONVERT", ["CAST({0} AS int)", "CONVERT(int, {0})"], "number", "whole", NUMBERS)
def number_as_whole(number: Decimal | None) -> Value:
    return None if number is None else int(number)


@says("CAST and CONVERT", "CAST({0} AS decimal(10,1))", "number", "number", NUMBERS)
def number_with_one_place(number: Decimal | None) -> Value:
    return rounded(number, 1)


@says("CAST and CONVERT", ["CAST({0} AS int)", "CONVERT(int, {0})"], "text", "whole", ("7", " 007 ", "-1", "", None))
def text_as_whole(text: str | None) -> Value:
    return None if text is None else int(text.strip() or 0)


@says("TRY_CAST", "TRY_CAST({0} AS int)", "text", "whole", ("7", "abc", "1.5", "", " 12 ", None))
def tried_as_whole(text: str | None) -> Value:
    if text is None or not re.fullmatch(r"\s*[+-]?\d*\s*", text):
        return None
    return int(text.strip() or 0)


@says(
    "CAST and CONVERT",
    ["CAST({0} AS varchar(20))", "CONVERT(varchar(20), {0})"],
    "number",
    "text",
    NUMBERS,
    has_literals=False,
)
def number_as_text(number: Decimal | None) -> Value:
    return None if number is None else format(number.quantize(Decimal("0.0001")), "f")


@says("CAST and CONVERT", "CAST({0} AS varchar(3))", "text", "text", TEXTS)
def cut_text(text: str | None) -> Value:
    return None if text is None else text[:3]


@says("Bitwise operators", ["{0} & {1}"], "whole whole", "whole", (0, 1, 6, -1, None), (3, 4, None))
def bits_and(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else one & two


@says("Bitwise operators", "{0} | {1}", "whole whole", "whole", (0, 1, 6, -1, None), (3, 4, None))
def bits_or(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else one | two


@says("Bitwise operators", "{0} ^ {1}", "whole whole", "whole", (0, 1, 6, -1, None), (3, 4, None))
def bits_xor(one: int | None, two: int | None) -> Value:
    return None if one is None or two is None else one ^ two


@says("Bitwise operators", "~{0}", "whole", "whole", (0, 1, 6, -1, None))
def bits_not(one: int | None) -> Value:
    return None if one is None else ~one


# Moments.
def plus_months(moment: datetime, months: int) -> datetime:
    total = moment.year * 12 + moment.month - 1 + months
    first = moment.replace(year=total // 12, month=total % 12 + 1, day=1)
    last = ((first.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)).day
    return first.replace(day=min(moment.day, last))


SHIFTS: Final = {
    "year": lambda m, n: plus_months(m, 12 * n), "quarter": lambda m, n: plus_months(m, 3 * n), "month": plus_months,
    "week": lambda m, n: m + timedelta(weeks=n), "day": lambda m, n: m + timedelta(days=n),
    "hour": lambda m, n: m + timedelta(hours=n),
    "minute": lambda m, n: m + timedelta(minutes=n), "second": lambda m, n: m + timedelta(seconds=n),
}  # fmt: skip
for unit in SHIFTS:

    @says("DATEADD", f"DATEADD({unit}, {{0}}, {{1}})", "whole moment", "moment", (-13, -1, 0, 1, 36, None), MOMENTS)
    def shifted(count: int | None, moment: datetime | None, unit: str = unit) -> Value:
        return None if count is None or moment is None else SHIFTS[unit](moment, count)


@says("DATEADD", "DATEADD(day, {0}, {1})", "number moment", "moment", NUMBERS, MOMENTS[:3])
def shifted_by_fractions(count: Decimal | None, moment: datetime) -> Value:
    return None if count is None else moment + timedelta(days=int(count))


@says("DATEADD", "DATEADD(month, {0}, {1})", "whole day", "day", (-13, -1, 0, 1, None), DAYS)
def shifted_day(count: int | None, day: date | None) -> Value:
    return None if count is None or day is None else plus_months(datetime(day.year, day.month, day.day), count).date()


def seconds(moment: datetime) -> int:
    return int((moment - datetime(1900, 1, 1)).total_seconds())


BORDERS: Final = {
    "year": lambda m: m.year, "quarter": lambda m: m.year * 4 + (m.month - 1) // 3, "month": lambda m: m.year * 12 + m.month,
    "week": lambda m: (m.toordinal()) // 7, "day": lambda m: m.toordinal(), "hour": lambda m: seconds(m) // 3600,
    "minute": lambda m: seconds(m) // 60, "second": seconds,
}  # fmt: skip
"""Borders passed since a beginning; a week begins with a Sunday, whatever DATEFIRST says."""
for unit in BORDERS:

    @says("DATEDIFF", f"DATEDIFF({unit}, {{0}}, {{1}})", "moment moment", "whole", MOMENTS, MOMENTS)
    def borders_between(start: datetime | None, end: datetime | None, unit: str = unit) -> Value:
        return None if start is None or end is None else BORDERS[unit](end) - BORDERS[unit](start)


@says("DATEDIFF", "DATEDIFF(day, {0}, {1})", "day moment", "whole", DAYS, MOMENTS[:3])
def days_between(start: date | None, end: datetime) -> Value:
    return None if start is None else end.toordinal() - start.toordinal()


PARTS: Final = {
    "year": lambda m: m.year, "quarter": lambda m: (m.month + 2) // 3, "month": lambda m: m.month, "day": lambda m: m.day,
    "dayofyear": lambda m: m.timetuple().tm_yday, "hour": lambda m: m.hour,
    "minute": lambda m: m.minute, "second": lambda m: m.second,
    "weekday": lambda m: m.isoweekday() % 7 + 1, "iso_week": lambda m: m.isocalendar().week,
    "week": lambda m: (m.timetuple().tm_yday - 1 + datetime(m.year, 1, 1).isoweekday() % 7) // 7 + 1,
}  # fmt: skip
for unit in PARTS:

    @says("DATEPART", f"DATEPART({unit}, {{0}})", "moment", "whole", MOMENTS)
    def part_of(moment: datetime | None, unit: str = unit) -> Value:
        return None if moment is None else PARTS[unit](moment)


for name in ("YEAR", "MONTH", "DAY"):

    @says(name, f"{name}({{0}})", "moment", "whole", MOMENTS)
    def named_part(moment: datetime | None, name: str = name) -> Value:
        return None if moment is None else PARTS[name.lower()](moment)


MONTHS: Final = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
WEEKDAYS: Final = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


@says("DATENAME", "DATENAME(month, {0})", "moment", "text", MOMENTS)
def month_name(moment: datetime | None) -> Value:
    return None if moment is None else MONTHS[moment.month - 1]


@says("DATENAME", "DATENAME(weekday, {0})", "moment", "text", MOMENTS)
def weekday_name(moment: datetime | None) -> Value:
    return None if moment is None else WEEKDAYS[moment.weekday()]


@says("DATENAME", "DATENAME(year, {0})", "moment", "text", MOMENTS)
def year_name(moment: datetime | None) -> Value:
    return None if moment is None else str(moment.year)


@says("EOMONTH", "EOMONTH({0})", "moment", "day", MOMENTS)
def end_of_month(moment: datetime | None, months: int = 0) -> Value:
    return None if moment is None else (plus_months(moment.replace(day=1), months + 1) - timedelta(days=1)).date()


@says("EOMONTH", "EOMONTH({0}, {1})", "moment whole", "day", MOMENTS, (-1, 0, 13))
def end_of_other_month(moment: datetime | None, months: int) -> Value:
    return end_of_month(moment, months)


@says("DATEFROMPARTS", "DATEFROMPARTS({0}, {1}, 28)", "whole whole", "day", (1999, 2024, None), (1, 2, 12))
def from_parts(year: int | None, month: int) -> Value:
    return None if year is None else date(year, month, 28)


@says("CAST and CONVERT", ["CAST({0} AS date)", "CONVERT(date, {0})"], "moment", "day", MOMENTS)
def day_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.date()


@says("DATEADD", "DATEADD(day, DATEDIFF(day, 0, {0}), 0)", "moment", "moment", MOMENTS)
def midnight(moment: datetime | None) -> Value:
    return None if moment is None else moment.replace(hour=0, minute=0, second=0)


@says("DATEADD", "DATEADD(month, DATEDIFF(month, 0, {0}), 0)", "moment", "moment", MOMENTS)
def first_of_month(moment: datetime | None) -> Value:
    return None if moment is None else moment.replace(day=1, hour=0, minute=0, second=0)


@says("Addition", ["{0} + {1}"], "moment whole", "moment", MOMENTS, (-1, 0, 30, None))
def plus_days(moment: datetime | None, days: int | None) -> Value:
    return None if moment is None or days is None else moment + timedelta(days=days)


def twelve(moment: datetime) -> str:
    return f"{(moment.hour + 11) % 12 + 1:2}:{moment.minute:02}{'AM' if moment.hour < 12 else 'PM'}"


STYLES: Final = {
    0: lambda m: f"{MONTHS[m.month - 1][:3]} {m.day:2} {m.year} {twelve(m)}",
    1: lambda m: f"{m:%m/%d/%y}", 3: lambda m: f"{m:%d/%m/%y}", 4: lambda m: f"{m:%d.%m.%y}", 8: lambda m: f"{m:%H:%M:%S}",
    12: lambda m: f"{m:%y%m%d}", 101: lambda m: f"{m:%m/%d/%Y}", 102: lambda m: f"{m:%Y.%m.%d}", 103: lambda m: f"{m:%d/%m/%Y}",
    104: lambda m: f"{m:%d.%m.%Y}", 105: lambda m: f"{m:%d-%m-%Y}", 106: lambda m: f"{m.day:02} {MONTHS[m.month - 1][:3]} {m.year}",
    107: lambda m: f"{MONTHS[m.month - 1][:3]} {m.day:02}, {m.year}", 108: lambda m: f"{m:%H:%M:%S}",
    110: lambda m: f"{m:%m-%d-%Y}",
    111: lambda m: f"{m:%Y/%m/%d}", 112: lambda m: f"{m:%Y%m%d}", 120: lambda m: f"{m:%Y-%m-%d %H:%M:%S}",
    121: lambda m: f"{m:%Y-%m-%d %H:%M:%S}.000", 126: lambda m: f"{m:%Y-%m-%dT%H:%M:%S}", 114: lambda m: f"{m:%H:%M:%S}:000",
    113: lambda m: f"{m.day:02} {MONTHS[m.month - 1][:3]} {m:%Y %H:%M:%S}:000",
}  # fmt: skip
for style in STYLES:

    @says("CAST and CONVERT", f"CONVERT(varchar(30), {{0}}, {style})", "moment", "text", MOMENTS)
    def styled(moment: datetime | None, style: int = style) -> Value:
        return None if moment is None else STYLES[style](moment)


@says("CAST and CONVERT", "CONVERT(varchar(10), {0}, 120)", "moment", "text", MOMENTS)
def styled_and_cut(moment: datetime | None) -> Value:
    return None if moment is None else f"{moment:%Y-%m-%d}"


@says("CAST and CONVERT", "CONVERT(varchar(7), {0}, 126)", "day", "text", DAYS)
def month_of_day(day: date | None) -> Value:
    return None if day is None else f"{day:%Y-%m}"


READ: Final = {101: "%m/%d/%Y", 103: "%d/%m/%Y", 104: "%d.%m.%Y", 112: "%Y%m%d", 120: "%Y-%m-%d %H:%M:%S"}
for style, form in READ.items():
    texts = tuple(None if m is None else m.strftime(form) for m in MOMENTS)

    @says("CAST and CONVERT", f"CONVERT(datetime, {{0}}, {style})", "text", "moment", texts)
    def read(text: str | None, form: str = form) -> Value:
        return None if text is None else datetime.strptime(text, form)


FORMATS: Final = {
    "yyyy-MM-dd": "%Y-%m-%d",
    "dd.MM.yyyy HH:mm": "%d.%m.%Y %H:%M",
    "yyyyMMdd": "%Y%m%d",
    "MM/yyyy": "%m/%Y",
    "HH:mm:ss": "%H:%M:%S",
}
for pattern, form in FORMATS.items():

    @says("FORMAT", f"FORMAT({{0}}, '{pattern}')", "moment", "text", MOMENTS)
    def formatted(moment: datetime | None, form: str = form) -> Value:
        return None if moment is None else moment.strftime(form)


@says("FORMAT", "FORMAT({0}, 'N2')", "number", "text", NUMBERS)
def grouped(number: Decimal | None) -> Value:
    return None if number is None else format(number.quantize(Decimal("0.01"), ROUND_HALF_UP), ",f")


@says("FORMAT", "FORMAT({0}, '0000')", "whole", "text", WHOLE_MANY)
def zero_filled(number: int | None) -> Value:
    return None if number is None else ("-" if number < 0 else "") + f"{abs(number):04}"


@says(
    "RIGHT",
    ["RIGHT('0000' + CAST({0} AS varchar(10)), 4)", "RIGHT(REPLICATE('0', 4) + CONVERT(varchar(10), {0}), 4)"],
    "whole",
    "text",
    (0, 1, 42, 99999, None),
)
def padded_by_hand(number: int | None) -> Value:
    return None if number is None else ("0000" + str(number))[-4:]


@says("CASE", "CASE {0} WHEN 1 THEN 'one' WHEN NULL THEN 'none' ELSE 'other' END", "whole", "text", WHOLE_MANY)
def simple_case(number: int | None) -> Value:
    return "one" if number == 1 else "other"


@says("Data type precedence", truth("{0} = {1}"), "text whole", "whole", ("7", "007", " 7", "-1", None), WHOLE_MANY)
def is_number(text: str | None, number: int | None) -> Value:
    return int(text is not None and number is not None and int(text) == number)


@says("Data type precedence", "{0} + {1}", "text whole", "whole", ("7", "007", " 7", None), (0, 1, None))
def text_plus(text: str | None, number: int | None) -> Value:
    return None if text is None or number is None else int(text) + number


@says("ISNUMERIC", "ISNUMERIC({0})", "text", "whole", ("7", "abc", "1.5", "-3", "1e4", "", None))
def is_numeric(text: str | None) -> Value:
    return int(text is not None and re.fullmatch(r"[+-]?\d+(\.\d*)?(e\d+)?", text) is not None)
