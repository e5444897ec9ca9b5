"""Oracle Database 19c: expressions and what they give, after the SQL Language Reference."""

import re
from datetime import datetime, timedelta
from decimal import ROUND_CEILING, ROUND_DOWN, ROUND_FLOOR, ROUND_HALF_EVEN, ROUND_HALF_UP, Decimal
from typing import Final

from tests.manuals.model import MOMENTS, NUMBERS, WHOLE_MANY, Manual, Value

MANUAL: Final = Manual("Oracle Database 19c SQL Language Reference")
says = MANUAL.says
TEXTS: Final = ("Quay Seven", "a", " x ", "aXbXc", "007", None)


def or_null(text: str | None) -> str | None:
    """An empty text is NULL."""
    return text or None


@says("SUBSTR", "SUBSTR({0}, {1})", "text whole", "text", TEXTS, (-20, -3, 0, 1, 2, 20, None))
def substr(text: str | None, place: int | None) -> Value:
    if text is None or place is None or abs(place) > len(text):
        return None
    return or_null(text[place:] if place < 0 else text[max(place - 1, 0) :])


@says(
    "SUBSTR",
    "SUBSTR({0}, {1}, {2})",
    "text whole whole",
    "text",
    TEXTS[:4],
    (-20, -3, 0, 1, 3),
    (-1, 0, 1, 2, 30, None),
)
def substr_of(text: str | None, place: int | None, length: int | None) -> Value:
    rest = substr(text, place)
    return None if length is None or length < 1 or rest is None else str(rest)[:length]


@says("SUBSTR", "SUBSTR({0}, {1}, {2})", "text number number", "text", TEXTS[:2], NUMBERS[3:6], NUMBERS[3:7])
def substr_fractions(text: str | None, place: Decimal | None, length: Decimal | None) -> Value:
    return None if place is None or length is None else substr_of(text, int(place), int(length))


def found(text: str, part: str, place: int, occurrence: int) -> int:
    if place == 0:
        return 0
    starts = [at + 1 for at in range(len(text) - len(part) + 1) if text.startswith(part, at)]
    if place > 0:
        starts = [at for at in starts if at >= place]
    else:
        starts = [at for at in reversed(starts) if at <= len(text) + place + 1]
    return starts[occurrence - 1] if len(starts) >= occurrence else 0


@says("INSTR", "INSTR({0}, {1})", "text text", "whole", TEXTS, ("a", "e", "X", "zz", None))
def instr(text: str | None, part: str | None) -> Value:
    return None if text is None or part is None else found(text, part, 1, 1)


@says(
    "INSTR", "INSTR({0}, {1}, {2})", "text text whole", "whole", TEXTS[:4], ("a", "e", "X"), (-3, -1, 0, 1, 4, 50, None)
)
def instr_from(text: str, part: str, place: int | None) -> Value:
    return None if place is None else found(text, part, place, 1)


@says(
    "INSTR", "INSTR({0}, {1}, {2}, {3})", "text text whole whole", "whole", TEXTS[:4], ("e", "X"), (-1, 1, 3), (1, 2, 3)
)
def instr_nth(text: str, part: str, place: int, occurrence: int) -> Value:
    return found(text, part, place, occurrence)


def padding(length: int, size: int, pad: str) -> str:
    return (pad * size)[: max(size - length, 0)]


@says("LPAD", "LPAD({0}, {1})", "text whole", "text", TEXTS, (-1, 0, 2, 12, None))
def lpad(text: str | None, size: int | None, pad: str | None = " ") -> Value:
    if text is None or size is None or size < 1 or pad is None:
        return None
    return (padding(len(text), size, pad) + text)[:size]


@says("RPAD", "RPAD({0}, {1})", "text whole", "text", TEXTS, (-1, 0, 2, 12, None))
def rpad(text: str | None, size: int | None, pad: str | None = " ") -> Value:
    if text is None or size is None or size < 1 or pad is None:
        return None
    return (text + padding(len(text), size, pad))[:size]


says("LPAD", "LPAD({0}, {1}, {2})", "text whole text", "text", TEXTS[:3], (0, 2, 13), ("0", "ab", None))(lpad)
says("RPAD", "RPAD({0}, {1}, {2})", "text whole text", "text", TEXTS[:3], (0, 2, 13), ("0", "ab", None))(rpad)


@says("LPAD", "LPAD({0}, {1}, '0')", "whole whole", "text", WHOLE_MANY, (2, 5))
def lpad_number(number: int | None, size: int) -> Value:
    return None if number is None else lpad(str(number), size, "0")


@says("LPAD", "LPAD({0}, {1})", "number whole", "text", NUMBERS, (3, 12))
def lpad_fraction(number: Decimal | None, size: int) -> Value:
    return None if number is None else lpad(as_text(number), size)


@says("LTRIM", "LTRIM({0}, {1})", "text text", "text", TEXTS, ("a", "0", "Qa ", None))
def ltrim(text: str | None, letters: str | None) -> Value:
    return None if text is None or letters is None else or_null(text.lstrip(letters))


@says("RTRIM", "RTRIM({0}, {1})", "text text", "text", TEXTS, ("a", "n7", "c ", None))
def rtrim(text: str | None, letters: str | None) -> Value:
    return None if text is None or letters is None else or_null(text.rstrip(letters))


@says("TRIM", ["TRIM({0})", "LTRIM(RTRIM({0}))", "TRIM(BOTH ' ' FROM {0})"], "text", "text", (*TEXTS, "  "))
def trim(text: str | None) -> Value:
    return None if text is None else or_null(text.strip(" "))


@says("TRIM", "TRIM(LEADING '0' FROM {0})", "text", "text", (*TEXTS, "00"))
def trim_leading(text: str | None) -> Value:
    return None if text is None else or_null(text.lstrip("0"))


@says(
    "REPLACE",
    "REPLACE({0}, {1}, {2})",
    "text text text",
    "text",
    TEXTS,
    ("a", "X", "Quay Seven", None),
    ("#", "bb", None),
)
def replaced(text: str | None, part: str | None, by: str | None = None) -> Value:
    if text is None or part is None:
        return text
    return or_null(text.replace(part, by or ""))


says("REPLACE", "REPLACE({0}, {1})", "text text", "text", TEXTS, ("a", "X", None))(replaced)


@says("TRANSLATE", "TRANSLATE({0}, {1}, {2})", "text text text", "text", TEXTS, ("aQ", "0X7", "a"), ("b", "12", None))
def translated(text: str | None, old: str, new: str | None) -> Value:
    if text is None or new is None:
        return None
    return or_null("".join(c if c not in old else new[old.index(c)] if old.index(c) < len(new) else "" for c in text))


@says("INITCAP", "INITCAP({0})", "text", "text", (*TEXTS, "the old-quay 3rd o'clock", "ABC_def"))
def initcap(text: str | None) -> Value:
    return None if text is None else re.sub("[A-Za-z0-9]+", lambda m: m[0][0].upper() + m[0][1:].lower(), text)


@says("UPPER", "UPPER({0})", "text", "text", TEXTS)
def upper(text: str | None) -> Value:
    return None if text is None else text.upper()


@says("LENGTH", "LENGTH({0})", "text", "whole", (*TEXTS, "  "))
def length(text: str | None) -> Value:
    return None if text is None else len(text)


@says("LENGTH", "LENGTH(TRIM({0}))", "text", "whole", (*TEXTS, "  "))
def length_of_trimmed(text: str | None) -> Value:
    return length(trim(text))  # type: ignore[arg-type]


@says("LENGTH", "NVL(LENGTH(REPLACE({0}, 'a')), 0)", "text", "whole", TEXTS)
def length_of_replaced(text: str | None) -> Value:
    return length(replaced(text, "a")) or 0  # type: ignore[arg-type]


@says("ASCII", "ASCII({0})", "text", "whole", TEXTS)
def ascii_of(text: str | None) -> Value:
    return None if text is None else ord(text[0])


@says("CHR", "CHR({0})", "whole", "text", (65, 97, 32, None))
def character(code: int | None) -> Value:
    return None if code is None else chr(code)


@says("Concatenation Operator", ["{0} || {1}", "CONCAT({0}, {1})"], "text text", "text", TEXTS, ("!", " ", None))
def joined(left: str | None, right: str | None) -> Value:
    return or_null((left or "") + (right or ""))


@says("Concatenation Operator", "{0} || '-' || {1}", "text whole", "text", (*TEXTS[:3], None), WHOLE_MANY)
def joined_number(left: str | None, right: int | None) -> Value:
    return f"{left or ''}-{'' if right is None else right}"


def as_text(number: Decimal) -> str:
    text = format(number.normalize(), "f")
    return re.sub(r"^(-?)0\.", r"\1.", text)


@says("TO_CHAR (number)", ["TO_CHAR({0})", "{0} || ''", "CAST({0} AS VARCHAR2(30))"], "number", "text", NUMBERS)
def number_as_text(number: Decimal | None) -> Value:
    return None if number is None else as_text(number)


@says("Number Format Models", "TO_CHAR({0}, 'FM9990.00')", "number", "text", NUMBERS)
def with_two_places(number: Decimal | None) -> Value:
    return None if number is None else format(number.quantize(Decimal("0.01"), ROUND_HALF_UP), "f")


@says("Number Format Models", "TO_CHAR({0}, '9990.00')", "number", "text", NUMBERS)
def with_blanks(number: Decimal | None) -> Value:
    return None if number is None else str(with_two_places(number)).rjust(8)


@says("Number Format Models", "TO_CHAR({0}, 'FM999,990.0')", "number", "text", (*NUMBERS, Decimal("123456.78")))
def grouped(number: Decimal | None) -> Value:
    return None if number is None else format(number.quantize(Decimal("0.1"), ROUND_HALF_UP), ",f")


@says(
    "Number Format Models",
    ["TO_CHAR({0}, 'FM00000')", "TO_CHAR({0}, 'fm00000')"],
    "whole",
    "text",
    (-7, 0, 1, 42, 99999, 100000, None),
)
def zero_filled(number: int | None) -> Value:
    if number is None:
        return None
    return "######" if abs(number) > 99999 else ("-" if number < 0 else "") + str(abs(number)).rjust(5, "0")


@says("Number Format Models", "TO_CHAR({0}, '99999')", "whole", "text", (-7, 0, 1, 42, 99999, None))
def blank_filled(number: int | None) -> Value:
    return None if number is None else str(number).rjust(6)


@says("NVL", "NVL({0}, {1})", "text text", "text", TEXTS, ("none", None))
def nvl(value: Value, other: Value) -> Value:
    return other if value is None else value


says("NVL", "NVL({0}, {1})", "whole whole", "whole", WHOLE_MANY, (0, 5, None))(nvl)
says("NVL", "NVL({0}, {1})", "number whole", "number", NUMBERS, (0, None))(nvl)
says("COALESCE", "COALESCE({0}, {1})", "text text", "text", TEXTS, ("none", None))(nvl)


@says("NVL2", "NVL2({0}, {1}, {2})", "text whole whole", "whole", TEXTS, (1, None), (0, 5))
def nvl2(value: Value, there: Value, absent: Value) -> Value:
    return absent if value is None else there


@says("NULLIF", "NULLIF({0}, {1})", "whole whole", "whole", WHOLE_MANY[:-1], (0, 1, None))
def nullif(value: Value, other: Value) -> Value:
    return None if value == other else value


@says("NVL", "NVL(SUBSTR({0}, {1}), 'none')", "text whole", "text", TEXTS, (-3, 1, 5, 20))
def nvl_of_substr(text: str | None, place: int) -> Value:
    return substr(text, place) or "none"


@says("DECODE", "DECODE({0}, {1}, 'same', 'other')", "whole whole", "text", WHOLE_MANY, (0, 1, None))
def decode(value: Value, searched: Value) -> Value:
    return "same" if value == searched else "other"


says("DECODE", "DECODE({0}, {1}, 'same', 'other')", "text text", "text", TEXTS, ("a", "007", None))(decode)


@says("DECODE", "DECODE({0}, 1, 'one', NULL, 'none', 0, 'zero')", "whole", "text", WHOLE_MANY)
def decode_many(value: int | None) -> Value:
    return {1: "one", None: "none", 0: "zero"}.get(value)


@says("GREATEST", "GREATEST({0}, {1}, 1)", "whole whole", "whole", WHOLE_MANY, (0, 2, None))
def greatest(first: int | None, second: int | None) -> Value:
    return None if first is None or second is None else max(first, second, 1)


@says("LEAST", "LEAST({0}, {1})", "text text", "text", TEXTS, ("A", "b", None))
def least(first: str | None, second: str | None) -> Value:
    return None if first is None or second is None else min(first, second)


def truth(expression: str) -> str:
    return f"CASE WHEN {expression} THEN 1 ELSE 0 END"


def likened(text: str | None, pattern: str | None, escape: str = "") -> int:
    if text is None or pattern is None:
        return 0
    parts, at = [], 0
    while at < len(pattern):
        if escape and pattern[at] == escape:
            at += 1
            parts.append(re.escape(pattern[at]))
        else:
            parts.append({"%": ".*", "_": "."}.get(pattern[at], re.escape(pattern[at])))
        at += 1
    return int(re.fullmatch("".join(parts), text, re.DOTALL) is not None)


LIKED: Final = ("Quay Seven", "a\\b", "50%", "a_c", "abc", None)


@says(
    "LIKE Condition",
    truth("{0} LIKE {1}"),
    "text text",
    "whole",
    LIKED,
    ("%", "a%", "a\\b", "%\\%", "a_c", "50%", "_____", None),
)
def like(text: str | None, pattern: str | None) -> Value:
    return likened(text or None, pattern)


@says(
    "LIKE Condition", truth("{0} LIKE {1} ESCAPE '\\'"), "text text", "whole", LIKED, ("a\\_c", "50\\%", "a\\\\b", "a%")
)
def like_escaped(text: str | None, pattern: str | None) -> Value:
    return likened(text or None, pattern, "\\")


@says("LIKE Condition", truth("{0} NOT LIKE {1}"), "text text", "whole", LIKED, ("%", "a%", None))
def not_like(text: str | None, pattern: str | None) -> Value:
    return int(bool(text) and pattern is not None and not likened(text, pattern))


@says("Null Conditions", truth("{0} IS NULL"), "text", "whole", TEXTS)
def is_null(text: str | None) -> Value:
    return int(not text)


@says("Null Conditions", truth("TRIM({0}) IS NULL"), "text", "whole", (*TEXTS, "  "))
def is_blank(text: str | None) -> Value:
    return int(trim(text) is None)


@says("Comparison Conditions", truth("{0} = ''"), "text", "whole", TEXTS)
def is_empty(text: str | None) -> Value:
    return 0


@says("Comparison Conditions", truth("{0} <> {1}"), "text text", "whole", TEXTS, ("a", "007", None))
def is_other(left: str | None, right: str | None) -> Value:
    return int(left is not None and right is not None and left != right)


@says("Comparison Conditions", truth("{0} > {1}"), "text text", "whole", TEXTS, ("Z", "b", None))
def is_greater(left: str | None, right: str | None) -> Value:
    return int(left is not None and right is not None and left > right)


@says(
    "Data Type Comparison Rules", truth("{0} = {1}"), "text whole", "whole", ("7", "007", " 7", "-1", None), WHOLE_MANY
)
def is_number(text: str | None, number: int | None) -> Value:
    return int(text is not None and number is not None and Decimal(text) == number)


@says("Data Type Comparison Rules", "{0} + {1}", "text whole", "number", ("7", "007", " 7", "-1.5", None), (0, 1, None))
def text_plus(text: str | None, number: int | None) -> Value:
    return None if text is None or number is None else Decimal(text) + number


@says("TO_NUMBER", "TO_NUMBER({0})", "text", "number", ("7", "007", " 7 ", "-1.5", ".5", "1E2", None))
def to_number(text: str | None) -> Value:
    return None if text is None else Decimal(text.strip())


@says("ROUND (number)", "ROUND({0}, {1})", "number whole", "number", NUMBERS, (-2, -1, 0, 1, 2, None))
def rounded(number: Decimal | None, places: int | None = 0) -> Value:
    return None if number is None or places is None else number.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP)


says("ROUND (number)", "ROUND({0})", "number", "number", NUMBERS)(rounded)


@says("TRUNC (number)", "TRUNC({0}, {1})", "number whole", "number", NUMBERS, (-2, -1, 0, 1, 2, None))
def cut(number: Decimal | None, places: int | None = 0) -> Value:
    return None if number is None or places is None else number.quantize(Decimal(1).scaleb(-places), ROUND_DOWN)


says("TRUNC (number)", "TRUNC({0})", "number", "number", NUMBERS)(cut)


@says("MOD", "MOD({0}, {1})", "whole whole", "number", WHOLE_MANY, (-3, 0, 3, None))
def mod(number: int | None, by: int | None) -> Value:
    if number is None or by is None:
        return None
    return number if by == 0 else int(Decimal(number) % Decimal(by))


@says("MOD", "MOD({0}, {1})", "number number", "number", NUMBERS, (Decimal("-2.5"), Decimal("0"), Decimal("0.3"), None))
def mod_of_fractions(number: Decimal | None, by: Decimal | None) -> Value:
    if number is None or by is None:
        return None
    return number if by == 0 else number % by


@says("REMAINDER", "REMAINDER({0}, {1})", "whole whole", "number", WHOLE_MANY, (-3, 3, 4, None))
def remainder(number: int | None, by: int | None) -> Value:
    if number is None or by is None:
        return None
    return number - by * (Decimal(number) / Decimal(by)).quantize(Decimal(1), ROUND_HALF_EVEN)


@says("CEIL (number)", "CEIL({0})", "number", "number", NUMBERS)
def ceil(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_CEILING)


@says("FLOOR (number)", "FLOOR({0})", "number", "number", NUMBERS)
def floor(number: Decimal | None) -> Value:
    return None if number is None else number.to_integral_value(ROUND_FLOOR)


@says("SIGN", "SIGN({0})", "number", "number", NUMBERS)
def sign(number: Decimal | None) -> Value:
    return None if number is None else (number > 0) - (number < 0)


@says("POWER", "POWER({0}, {1})", "number whole", "number", NUMBERS[3:7], (-1, 0, 2, None))
def power(number: Decimal, exponent: int | None) -> Value:
    return None if exponent is None else number**exponent


@says("Arithmetic Operators", ["{0} / {1}", "1 * {0} / {1}"], "whole whole", "number", WHOLE_MANY, (-2, 3, 4, None))
def divided(left: int | None, right: int | None) -> Value:
    return None if left is None or right is None else Decimal(left) / right


@says("Arithmetic Operators", "ROUND({0} / {1}, 2)", "number whole", "number", NUMBERS, (-2, 3, None))
def divided_number(left: Decimal | None, right: int | None) -> Value:
    return None if left is None or right is None else rounded(left / right, 2)


@says("BITAND", "BITAND({0}, {1})", "whole whole", "whole", (0, 1, 6, 255, None), (3, 4, None))
def bitand(left: int | None, right: int | None) -> Value:
    return None if left is None or right is None else left & right


# Moments.
UNIT_STARTS: Final = {
    "YYYY": lambda d: d.replace(month=1, day=1),
    "YEAR": lambda d: d.replace(month=1, day=1),
    "Q": lambda d: d.replace(month=(d.month - 1) // 3 * 3 + 1, day=1),
    "MM": lambda d: d.replace(day=1),
    "MONTH": lambda d: d.replace(day=1),
    "IW": lambda d: d - timedelta(days=d.weekday()),
    "DD": lambda d: d,
    "W": lambda d: d - timedelta(days=(d.day - 1) % 7),
    "WW": lambda d: d - timedelta(days=(d.timetuple().tm_yday - 1) % 7),
}


def midnight(moment: datetime) -> datetime:
    return moment.replace(hour=0, minute=0, second=0)


@says("TRUNC (date)", "TRUNC({0})", "moment", "moment", MOMENTS)
def day_of(moment: datetime | None) -> Value:
    return None if moment is None else midnight(moment)


for unit in UNIT_STARTS:

    @says("TRUNC (date)", f"TRUNC({{0}}, '{unit}')", "moment", "moment", MOMENTS)
    def start_of(moment: datetime | None, unit: str = unit) -> Value:
        return None if moment is None else midnight(UNIT_STARTS[unit](moment))


@says("TRUNC (date)", "TRUNC({0}, 'HH24')", "moment", "moment", MOMENTS)
def hour_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.replace(minute=0, second=0)


@says("TRUNC (date)", "TRUNC({0}, 'MI')", "moment", "moment", MOMENTS)
def minute_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.replace(second=0)


def plus_months(moment: datetime, months: int) -> datetime:
    total = moment.year * 12 + moment.month - 1 + months
    first = moment.replace(year=total // 12, month=total % 12 + 1, day=1)
    last = last_of(first).day
    day = last if moment.day == last_of(moment).day else min(moment.day, last)
    return first.replace(day=day)


def last_of(moment: datetime) -> datetime:
    following = (moment.replace(day=28) + timedelta(days=4)).replace(day=1)
    return following - timedelta(days=1)


@says("ROUND (date)", "ROUND({0})", "moment", "moment", MOMENTS)
def rounded_day(moment: datetime | None) -> Value:
    return None if moment is None else midnight(moment + timedelta(hours=12))


@says("ROUND (date)", "ROUND({0}, 'MM')", "moment", "moment", MOMENTS)
def rounded_month(moment: datetime | None) -> Value:
    if moment is None:
        return None
    first = midnight(moment.replace(day=1))
    return plus_months(first, 1) if moment.day > 15 else first


@says("ROUND (date)", "ROUND({0}, 'YYYY')", "moment", "moment", MOMENTS)
def rounded_year(moment: datetime | None) -> Value:
    if moment is None:
        return None
    first = midnight(moment.replace(month=1, day=1))
    return plus_months(first, 12) if moment.month > 6 else first


@says("ROUND (date)", "ROUND({0}, 'HH24')", "moment", "moment", MOMENTS)
def rounded_hour(moment: datetime | None) -> Value:
    return None if moment is None else (moment + timedelta(minutes=30)).replace(minute=0, second=0)


@says("ADD_MONTHS", "ADD_MONTHS({0}, {1})", "moment whole", "moment", MOMENTS, (-13, -1, 0, 1, 12, None))
def add_months(moment: datetime | None, months: int | None) -> Value:
    return None if moment is None or months is None else plus_months(moment, months)


@says("ADD_MONTHS", "ADD_MONTHS({0}, {1})", "moment number", "moment", MOMENTS[:2], NUMBERS[:7])
def add_fractions(moment: datetime, months: Decimal) -> Value:
    return plus_months(moment, int(months))


@says("MONTHS_BETWEEN", "ROUND(MONTHS_BETWEEN({0}, {1}), 6)", "moment moment", "number", MOMENTS, (*MOMENTS[:4], None))
def months_between(later: datetime | None, earlier: datetime | None) -> Value:
    if later is None or earlier is None:
        return None
    months = Decimal((later.year - earlier.year) * 12 + later.month - earlier.month)
    if later.day == earlier.day or (later == last_of(later) and earlier == last_of(earlier)):
        return months
    days = Decimal(later.day - earlier.day)
    seconds = Decimal((later - midnight(later) - (earlier - midnight(earlier))).total_seconds())
    return rounded(months + (days + seconds / 86400) / 31, 6)


@says("LAST_DAY", "LAST_DAY({0})", "moment", "moment", MOMENTS)
def last_day(moment: datetime | None) -> Value:
    return None if moment is None else last_of(moment)


@says("NEXT_DAY", "NEXT_DAY({0}, 'MONDAY')", "moment", "moment", MOMENTS)
def next_monday(moment: datetime | None) -> Value:
    return None if moment is None else moment + timedelta(days=7 - moment.weekday())


@says("Datetime/Interval Arithmetic", ["{0} + {1}", "{1} + {0}"], "moment whole", "moment", MOMENTS, (-1, 0, 30, None))
def plus_days(moment: datetime | None, days: int | None) -> Value:
    return None if moment is None or days is None else moment + timedelta(days=days)


@says("Datetime/Interval Arithmetic", "{0} + {1} / 24", "moment whole", "moment", MOMENTS, (-1, 0, 36, None))
def plus_hours(moment: datetime | None, hours: int | None) -> Value:
    return None if moment is None or hours is None else moment + timedelta(hours=hours)


@says(
    "Datetime/Interval Arithmetic",
    ["{0} + {1} / 1440", "{0} + {1} / (24 * 60)", "{0} + NUMTODSINTERVAL({1}, 'MINUTE')"],
    "moment whole",
    "moment",
    MOMENTS,
    (-1, 0, 90, None),
)
def plus_minutes(moment: datetime | None, minutes: int | None) -> Value:
    return None if moment is None or minutes is None else moment + timedelta(minutes=minutes)


@says(
    "Datetime/Interval Arithmetic",
    "{0} - {1}",
    "moment number",
    "moment",
    MOMENTS,
    (Decimal("0.5"), Decimal("2.5"), None),
)
def minus_days(moment: datetime | None, days: Decimal | None) -> Value:
    return None if moment is None or days is None else moment - timedelta(days=float(days))


@says("Datetime/Interval Arithmetic", "ROUND({0} - {1}, 6)", "moment moment", "number", MOMENTS, (*MOMENTS[:4], None))
def days_between(later: datetime | None, earlier: datetime | None) -> Value:
    if later is None or earlier is None:
        return None
    return rounded(Decimal((later - earlier).total_seconds()) / 86400, 6)


@says(
    "Datetime/Interval Arithmetic", "TRUNC({0}) - TRUNC({1})", "moment moment", "number", MOMENTS, (*MOMENTS[:4], None)
)
def whole_days_between(later: datetime | None, earlier: datetime | None) -> Value:
    return None if later is None or earlier is None else (midnight(later) - midnight(earlier)).days


@says(
    "Datetime/Interval Arithmetic",
    "ROUND(({0} - {1}) * 24, 2)",
    "moment moment",
    "number",
    MOMENTS,
    (*MOMENTS[:4], None),
)
def hours_between(later: datetime | None, earlier: datetime | None) -> Value:
    return None if later is None or earlier is None else rounded(Decimal((later - earlier).total_seconds()) / 3600, 2)


@says(
    "Datetime/Interval Arithmetic",
    ["{0} + INTERVAL '1' DAY", "{0} + NUMTODSINTERVAL(1, 'DAY')"],
    "moment",
    "moment",
    MOMENTS,
)
def plus_one_day(moment: datetime | None) -> Value:
    return None if moment is None else moment + timedelta(days=1)


@says("EXTRACT (datetime)", "EXTRACT(MONTH FROM {0})", "moment", "whole", MOMENTS)
def month_of(moment: datetime | None) -> Value:
    return None if moment is None else moment.month


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
DAYS: Final = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def ordinal(number: int) -> str:
    return "th" if number % 100 in (11, 12, 13) else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")


MASKS: Final = {
    "YYYY-MM-DD": lambda d: f"{d:%Y-%m-%d}",
    "YYYYMMDD": lambda d: f"{d:%Y%m%d}",
    "DD.MM.YYYY HH24:MI:SS": lambda d: f"{d:%d.%m.%Y %H:%M:%S}",
    'YYYY-MM-DD"T"HH24:MI:SS': lambda d: f"{d:%Y-%m-%dT%H:%M:%S}",
    "DD-MON-YYYY": lambda d: f"{d.day:02}-{MONTHS[d.month - 1][:3].upper()}-{d.year}",
    "DD-Mon-YY": lambda d: f"{d.day:02}-{MONTHS[d.month - 1][:3]}-{d.year % 100:02}",
    "mon": lambda d: MONTHS[d.month - 1][:3].lower(),
    "Month": lambda d: MONTHS[d.month - 1].ljust(9),
    "MONTH YYYY": lambda d: f"{MONTHS[d.month - 1].upper():9} {d.year}",
    "FMMonth DD, YYYY": lambda d: f"{MONTHS[d.month - 1]} {d.day}, {d.year}",
    "FMDD/MM/YYYY": lambda d: f"{d.day}/{d.month}/{d.year}",
    "FMDay": lambda d: DAYS[d.weekday()],
    "DAY": lambda d: DAYS[d.weekday()].upper().ljust(9),
    "Dy": lambda d: DAYS[d.weekday()][:3],
    "DY": lambda d: DAYS[d.weekday()][:3].upper(),
    "HH24:MI": lambda d: f"{d:%H:%M}",
    "HH:MI AM": lambda d: f"{(d.hour + 11) % 12 + 1:02}:{d.minute:02} {'AM' if d.hour < 12 else 'PM'}",
    "HH12:MI:SS PM": lambda d: f"{(d.hour + 11) % 12 + 1:02}:{d:%M:%S} {'AM' if d.hour < 12 else 'PM'}",
    "hh:mi am": lambda d: f"{(d.hour + 11) % 12 + 1:02}:{d.minute:02} {'am' if d.hour < 12 else 'pm'}",
    "Q": lambda d: str((d.month + 2) // 3),
    "DDD": lambda d: f"{d.timetuple().tm_yday:03}",
    "IW": lambda d: f"{d.isocalendar().week:02}",
    "WW": lambda d: f"{(d.timetuple().tm_yday - 1) // 7 + 1:02}",
    "W": lambda d: str((d.day - 1) // 7 + 1),
    "IYYY": lambda d: str(d.isocalendar().year),
    "SSSSS": lambda d: f"{int((d - midnight(d)).total_seconds()):05}",
    "YY": lambda d: f"{d.year % 100:02}",
    "Y,YYY": lambda d: f"{d.year:,}",
    "CC": lambda d: f"{(d.year + 99) // 100}",
    "RM": lambda d: ("I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX", "X", "XI", "XII")[d.month - 1].ljust(4),
    "DDTH": lambda d: f"{d.day:02}{ordinal(d.day).upper()}",
    "fmDdth": lambda d: f"{d.day}{ordinal(d.day)}",
    "J": lambda d: str(d.toordinal() + 1721425),
    'YYYY"-Q"Q': lambda d: f"{d.year}-Q{(d.month + 2) // 3}",
}

for mask in MASKS:

    @says("Datetime Format Models", f"TO_CHAR({{0}}, '{mask}')", "moment", "text", MOMENTS)
    def formatted(moment: datetime | None, mask: str = mask) -> Value:
        return None if moment is None else MASKS[mask](moment)


@says("TO_NUMBER", "TO_NUMBER(TO_CHAR({0}, 'YYYYMM'))", "moment", "number", MOMENTS)
def year_and_month(moment: datetime | None) -> Value:
    return None if moment is None else moment.year * 100 + moment.month


READ: Final = {
    "YYYY-MM-DD": "%Y-%m-%d",
    "YYYYMMDD": "%Y%m%d",
    "DD.MM.YYYY": "%d.%m.%Y",
    "DD/MM/YYYY HH24:MI": "%d/%m/%Y %H:%M",
    "DD-MON-YYYY": "%d-%b-%Y",
    "YYYY-MM-DD HH24:MI:SS": "%Y-%m-%d %H:%M:%S",
}
for mask, form in READ.items():
    texts = tuple(None if m is None else m.strftime(form).upper() for m in MOMENTS)

    @says("TO_DATE", f"TO_DATE({{0}}, '{mask}')", "text", "moment", texts)
    def read(text: str | None, form: str = form) -> Value:
        return None if text is None else datetime.strptime(text, form)


@says("TO_DATE", "TO_DATE({0}, 'RR-MM-DD')", "text", "moment", ("24-02-29", "99-03-31", "49-12-31", "50-01-01", None))
def read_two_digits(text: str | None) -> Value:
    if text is None:
        return None
    year = int(text[:2])
    return datetime(year + (2000 if year < 50 else 1900), int(text[3:5]), int(text[6:]))


@says("Comparison Conditions", truth("{0} BETWEEN DATE '2024-01-01' AND DATE '2024-02-29'"), "moment", "whole", MOMENTS)
def in_winter(moment: datetime | None) -> Value:
    return int(moment is not None and datetime(2024, 1, 1) <= moment <= datetime(2024, 2, 29))


# Regular expressions, in the part that every engine reads alike.
@says(
    "REGEXP_SUBSTR",
    "REGEXP_SUBSTR({0}, '[^,]+', 1, {1})",
    "text whole",
    "text",
    ("a,b,,c", ",", "one", None),
    (1, 2, 3, 4),
)
def nth_part(text: str | None, occurrence: int) -> Value:
    parts = re.findall("[^,]+", text or "")
    return parts[occurrence - 1] if len(parts) >= occurrence else None


@says("REGEXP_REPLACE", "REGEXP_REPLACE({0}, '[^0-9]', '')", "text", "text", ("a1b22", "abc", "12", None))
def digits_only(text: str | None) -> Value:
    return None if text is None else or_null(re.sub("[^0-9]", "", text))


@says(
    "REGEXP_REPLACE", r"REGEXP_REPLACE({0}, '(\w+)-(\w+)', '\2-\1')", "text", "text", ("ab-cd", "abc", "a-b c-d", None)
)
def swapped(text: str | None) -> Value:
    return None if text is None else re.sub(r"(\w+)-(\w+)", r"\2-\1", text)


@says("REGEXP_COUNT", "REGEXP_COUNT({0}, '[aeiou]')", "text", "whole", TEXTS)
def vowels(text: str | None) -> Value:
    return None if text is None else len(re.findall("[aeiou]", text))


@says("REGEXP_INSTR", "REGEXP_INSTR({0}, '[0-9]')", "text", "whole", TEXTS)
def first_digit(text: str | None) -> Value:
    if text is None:
        return None
    match = re.search("[0-9]", text)
    return match.start() + 1 if match else 0


@says("REGEXP_LIKE Condition", truth("REGEXP_LIKE({0}, '^[0-9]+$')"), "text", "whole", (*TEXTS, "12\n"))
def all_digits(text: str | None) -> Value:
    return int(text is not None and re.fullmatch("[0-9]+", text) is not None)


@says("REGEXP_LIKE Condition", truth("REGEXP_LIKE({0}, '^quay', 'i')"), "text", "whole", TEXTS)
def begins_with_quay(text: str | None) -> Value:
    return int(text is not None and text.lower().startswith("quay"))
