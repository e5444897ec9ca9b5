"""Dates and times that text constants hold, by the forms that each engine reads by itself.

Sources: Transact-SQL reference, "date", "datetime" and "time" (formats of literals, for the settings of us_english);
PostgreSQL 18, "Date/Time Input" (DateStyle ISO, MDY); MySQL 8.4 Reference Manual, "Date and Time Literals"; Db2 11.5 SQL
Reference, "String representations of datetime values"; Teradata, "Data Types and Literals".
"""

import re
from calendar import monthrange
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Final

_MONTHS: Final = "jan feb mar apr may jun jul aug sep oct nov dec".split()
_NAME: Final = (
    r"(?P<name>jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?"
    r"|nov(?:ember)?|dec(?:ember)?)\.?"
)
_YEAR: Final = r"(?P<year>\d{4}|\d\d)"
_YEAR4: Final = r"(?P<year>\d{4})"
_MONTH: Final = r"(?P<month>\d{1,2})"
_DAY: Final = r"(?P<day>\d{1,2})"
_DAYS: Final = {
    "dashes": rf"{_YEAR4}-{_MONTH}-{_DAY}",
    "slashes": rf"{_YEAR4}(?P<parting>[/.]){_MONTH}(?P=parting){_DAY}",
    "any signs": rf"{_YEAR}[-/.:^@,+*#]{_MONTH}[-/.:^@,+*#]{_DAY}",
    "digits": r"(?P<year>\d{4})(?P<month>\d\d)(?P<day>\d\d)",
    "six digits": r"(?P<year>\d\d)(?P<month>\d\d)(?P<day>\d\d)",
    "year": r"(?P<year>\d{4})",
    "month first": rf"{_MONTH}(?P<parting>[/.-]){_DAY}(?P=parting){_YEAR}",
    "month first, long year": rf"{_MONTH}/{_DAY}/{_YEAR4}",
    "day first": rf"{_DAY}\.{_MONTH}\.{_YEAR4}",
    "name, day": rf"{_NAME}\s*{_DAY}(?:,\s*|\s+){_YEAR}",
    "day, name": rf"{_DAY}[\s-]*{_NAME}[\s,-]*{_YEAR}",
    "year, name": rf"{_YEAR4}\s+{_NAME}\s+{_DAY}",
    "name, year": rf"{_NAME}[\s,]*{_YEAR4}",
}
"""How a day is written, by a name of its own."""
_PATTERNS: Final = {form: re.compile(pattern, re.IGNORECASE) for form, pattern in _DAYS.items()}
_FORMS: Final = {
    **dict.fromkeys(
        ("sqlserver", "ase"),
        ("dashes", "slashes", "digits", "six digits", "year", "month first", "name, day", "day, name", "year, name", "name, year"),
    ),
    **dict.fromkeys(("mysql", "mariadb"), ("digits", "six digits", "any signs")),
    "postgresql": ("dashes", "slashes", "digits", "six digits", "month first", "name, day", "day, name", "year, name"),
    "db2": ("dashes", "digits", "month first, long year", "day first"),
    "teradata": ("dashes", "slashes"),
    "sqlite": ("dashes",),
}  # fmt: skip
_BY_SESSION: Final = frozenset(("month first",))
"""Forms whose order of day and month a setting of the session tells."""
_CLOCK: Final = re.compile(
    r"(?P<hour>\d{1,2})(?::(?P<minute>\d{1,2})(?::(?P<second>\d{1,2})(?P<fraction>[.:]\d{1,9})?)?)?\s*(?P<half>[ap]m)?",
    re.IGNORECASE,
)
_POINTED_CLOCK: Final = re.compile(
    r"(?P<hour>\d{1,2})\.(?P<minute>\d\d)(?:\.(?P<second>\d\d)(?P<fraction>[.]\d{1,12})?)?(?P<half>)"
)
_LONG_DIGITS: Final = re.compile(r"(\d{8})(\d\d)(\d\d)(\d\d)(\.\d{1,9})?")
_FIRST_DAY: Final = {"sqlserver": "1900-01-01", "ase": "1900-01-01"}
"""The day that a moment has of which the text tells the time alone, or nothing."""
_LAST_DAY: Final = 2_958_464
"""Days from 1900 to the end of the year 9999."""
_PIVOTS: Final = {"sqlserver": 50, "ase": 50, "mysql": 70, "mariadb": 70, "postgresql": 70}
"""The first year of two digits that belongs to the last century."""


@dataclass(frozen=True, slots=True)
class ConstantMoment:
    """A moment that a text tells: its day as YYYY-MM-DD, its time as HH:MM:SS with the digits of its fraction."""

    day: str
    time: str = ""
    by_session: bool = False
    """Whether a setting of the session tells which number is the month."""

    @property
    def text(self) -> str:
        return f"{self.day} {self.time}" if self.time else self.day


def parse_moment(text: str, engine: str) -> ConstantMoment | None:
    """Return the moment that an engine reads in a text; None for a text in none of the known forms, and for days of no calendar.

    What tells a time alone has the day that the engine gives it, or none.
    """
    text = " ".join(text.split())
    first_day = _FIRST_DAY.get(engine, "")
    if not text:
        return ConstantMoment(first_day) if first_day else None
    digits = _LONG_DIGITS.fullmatch(text) if engine in ("mysql", "mariadb", "db2") else None
    if digits is not None:
        text = f"{digits[1]} {digits[2]}:{digits[3]}:{digits[4]}{digits[5] or ''}"
    for form in _FORMS.get(engine, ()):
        for day_text, clock_text in _halves(form, text, engine):
            found = _PATTERNS[form].fullmatch(day_text)
            day = _day(found.groupdict(), engine) if found is not None else ""
            time = _time(clock_text, engine) if clock_text else ""
            if day and time is not None:
                is_open = form in _BY_SESSION and int(day[8:]) <= 12 and day[5:7] != day[8:]
                return ConstantMoment(day, time, is_open)
    time = _time(text, engine) if ":" in text or text[-1] in "mM" or engine == "db2" else None
    return ConstantMoment(first_day, time) if time else None


def _halves(form: str, text: str, engine: str) -> list[tuple[str, str]]:
    """Return the ways to part a text into a day of some form and a time."""
    ways = [(text, "")]
    found = _PATTERNS[form].match(text)
    if found is not None and found.end() < len(text):
        rest = text[found.end() :]
        parting = "-" if engine == "db2" and form == "dashes" else ""
        if rest[0] in " Tt" + parting:
            ways.append((text[: found.end()], rest[1:]))
    return ways


def _day(parts: dict[str, str | None], engine: str) -> str:
    """Return a day as YYYY-MM-DD; '' for one that no calendar has."""
    year, name = parts["year"] or "", parts.get("name") or ""
    if len(year) == 2:
        pivot = _PIVOTS.get(engine)
        if pivot is None:
            return ""
        year = f"{19 if int(year) >= pivot else 20}{year}"
    month = _MONTHS.index(name[:3].lower()) + 1 if name else int(parts.get("month") or 1)
    day = int(parts.get("day") or 1)
    is_day = int(year) > 0 and 1 <= month <= 12 and 1 <= day <= monthrange(int(year), month)[1]
    return f"{year}-{month:02}-{day:02}" if is_day else ""


def _time(text: str, engine: str) -> str | None:
    """Return a time as HH:MM:SS with its fraction; None for one that no clock shows."""
    found = (_POINTED_CLOCK.fullmatch(text) if engine == "db2" else None) or _CLOCK.fullmatch(text)
    if found is None or not (found["minute"] or found["half"]):
        return None
    hour, minute, second = int(found["hour"]), int(found["minute"] or 0), int(found["second"] or 0)
    half, fraction = (found["half"] or "").lower(), found["fraction"] or ""
    if half and not 0 < hour <= 12:
        return None
    if half:
        hour = hour % 12 + (12 if half == "pm" else 0)
    if hour > 23 or minute > 59 or second > 59 or (fraction.startswith(":") and engine not in _FIRST_DAY):
        return None
    # Behind a colon stand thousandths, behind a point a fraction.
    digits = fraction[1:].zfill(3) if fraction.startswith(":") else fraction[1:]
    return f"{hour:02}:{minute:02}:{second:02}" + (f".{digits}" if digits else "")


def moment_of_number(number: str, engine: str) -> ConstantMoment | None:
    """Return the moment that an engine reads in a number without a sign: days since 1900, or the digits of a moment in MySQL."""
    if engine in _FIRST_DAY:
        days = Decimal(number)
        if days >= _LAST_DAY:
            return None
        moment = datetime(1900, 1, 1) + timedelta(days=int(days), milliseconds=int(days % 1 * 86_400_000))
        time = moment.strftime("%H:%M:%S") + (f".{moment.microsecond // 1000:03}" if moment.microsecond else "")
        return ConstantMoment(f"{moment:%Y-%m-%d}", time if time != "00:00:00" else "")
    return parse_moment(number, engine) if engine in ("mysql", "mariadb") and len(number) in (6, 8, 14) else None
