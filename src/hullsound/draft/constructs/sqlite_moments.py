"""Fixers for the clock of SQLite, and for its date(), time(), datetime() and strftime() on targets other than PostgreSQL.

Source: SQLite documentation, "Date And Time Functions": 'now' is the clock in UTC, and modifiers apply from left to right.
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Node

from . import call_of, fixer
from .moments import seconds_now
from .portable import shifted

_NOW: Final = {
    "mysql": "UTC_TIMESTAMP()", "mariadb": "UTC_TIMESTAMP()", "sqlserver": "CAST(SYSUTCDATETIME() AS datetime2(0))",
    "oracle": "CAST(SYS_EXTRACT_UTC(SYSTIMESTAMP) AS TIMESTAMP(0))",
}  # fmt: skip
_DAY: Final = {"mysql": "DATE({0})", "mariadb": "DATE({0})", "sqlserver": "CAST({0} AS date)", "oracle": "TRUNC({0})"}
_STARTS: Final = {
    "mysql": {"month": "CAST(DATE_FORMAT({0}, '%Y-%m-01') AS DATETIME)", "year": "CAST(DATE_FORMAT({0}, '%Y-01-01') AS DATETIME)",
              "day": "CAST(DATE({0}) AS DATETIME)"},
    "sqlserver": {"month": "CAST(DATEFROMPARTS(YEAR({0}), MONTH({0}), 1) AS datetime2(0))",
                  "year": "CAST(DATEFROMPARTS(YEAR({0}), 1, 1) AS datetime2(0))", "day": "CAST(CAST({0} AS date) AS datetime2(0))"},
    "oracle": {"month": "TRUNC({0}, 'MM')", "year": "TRUNC({0}, 'YYYY')", "day": "TRUNC({0})"},
}  # fmt: skip
_SHIFT: Final = re.compile(r"([+-]?\d+) (day|hour|minute|second|month|year)s?")
_ROLLED: Final = {
    "mysql": "(CAST(DATE_FORMAT({0}, '%Y-%m-01') AS DATETIME) + INTERVAL {1} MONTH + INTERVAL (DAYOFMONTH({0}) - 1) DAY + "
    "INTERVAL TIME_TO_SEC(TIME({0})) SECOND)",
    "sqlserver": "DATEADD(second, DATEDIFF(second, DATEFROMPARTS(YEAR({0}), MONTH({0}), 1), {0}), "
    "DATEADD(month, {1}, CAST(DATEFROMPARTS(YEAR({0}), MONTH({0}), 1) AS datetime2(0))))",
    "oracle": "(ADD_MONTHS(TRUNC({0}, 'MM'), {1}) + (CAST({0} AS DATE) - TRUNC({0}, 'MM')))",
}
"""A moment moved by months; a day that the month lacks goes over into the next one."""
_WEEKDAYS: Final = {
    "mysql": "({0} + INTERVAL MOD({1} - DAYOFWEEK({0}) + 8, 7) DAY)",
    "sqlserver": "DATEADD(day, ({1} - (DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7 + 7) % 7, {0})",
    "oracle": "({0} + MOD({1} - MOD(TO_NUMBER(TO_CHAR({0}, 'J')) + 1, 7) + 7, 7))",
}
"""The next moment on a day of the week, 0 for Sunday, or the moment itself."""
_NUMBERS: Final = {
    "JULIANDAY": {
        "mysql": "(TO_DAYS({0}) + 1721059.5e0 + TIME_TO_SEC(TIME({0})) / 86400e0)",
        "sqlserver": "(DATEDIFF(day, CAST('0001-01-01' AS date), {0}) + 1721425.5e0 + "
        "DATEDIFF(second, CAST({0} AS date), {0}) / 86400e0)",
        "oracle": "(TO_NUMBER(TO_CHAR({0}, 'J')) - 0.5 + TO_NUMBER(TO_CHAR({0}, 'SSSSS')) / 86400)",
    },
    "UNIXEPOCH": {
        "mysql": "TIMESTAMPDIFF(SECOND, '1970-01-01', {0})", "sqlserver": "DATEDIFF_BIG(second, CAST('1970-01-01' AS date), {0})",
        "oracle": "ROUND((CAST({0} AS DATE) - DATE '1970-01-01') * 86400)",
    },
    "%w": {
        "mysql": "(DAYOFWEEK({0}) - 1)", "sqlserver": "((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7)",
        "oracle": "MOD(TO_NUMBER(TO_CHAR({0}, 'J')) + 1, 7)",
    },
}  # fmt: skip
_DIGITS: Final = {"mysql": "CAST({0} AS CHAR)", "sqlserver": "CAST({0} AS nvarchar(20))", "oracle": "TO_CHAR({0})"}
_CLOCK: Final = {"mysql": "TIME({0})", "sqlserver": "CAST({0} AS time(0))", "oracle": "TO_CHAR({0}, 'HH24:MI:SS')"}
_CONSTANT: Final = re.compile(r"\d{4}-\d\d-\d\d(?:[ T]\d\d:\d\d(?::\d\d)?)?")
_CONSTANTS: Final = {
    "mysql": "CAST({0} AS DATETIME)",
    "sqlserver": "CAST({0} AS datetime2(0))",
    "oracle": "TIMESTAMP {0}",
}
_WEEKDAY: Final = re.compile(r"weekday ([0-6])")
_LETTERS: Final = {
    "mysql": {"Y": "%Y", "m": "%m", "d": "%d", "H": "%H", "M": "%i", "S": "%s", "j": "%j"},
    "sqlserver": {"Y": "yyyy", "m": "MM", "d": "dd", "H": "HH", "M": "mm", "S": "ss"},
    "oracle": {"Y": "YYYY", "m": "MM", "d": "DD", "H": "HH24", "M": "MI", "S": "SS", "j": "DDD"},
}  # fmt: skip
"""Letters of strftime and what DATE_FORMAT, FORMAT and TO_CHAR write for them."""
_WRITERS: Final = {
    "mysql": "DATE_FORMAT({0}, {1})",
    "sqlserver": "FORMAT({0}, {1}, 'en-US')",
    "oracle": "TO_CHAR({0}, {1})",
}


@fixer("utc_clock_word")
def fix_utc_clock_word(place: Found, rewriter: Rewriter) -> str:
    """CURRENT_TIMESTAMP, CURRENT_DATE and CURRENT_TIME: UTC to the second."""
    word, target = rewriter.words[place.first], rewriter.target.engine
    if target == "postgresql":
        moment, day = "date_trunc('second', CURRENT_TIMESTAMP AT TIME ZONE 'UTC')", "CAST({0} AS date)"
    else:
        moment, day = _NOW[target], _DAY[target]
    if word == "CURRENT_TIME":
        if target == "oracle":
            raise CannotDraft("the time of day alone, for which the target has no type")
        return f"CAST({moment} AS {'time(0)' if target == 'sqlserver' else 'time'})"
    return moment if word == "CURRENT_TIMESTAMP" else day.format(moment)


@fixer("moment_of_sqlite")
def fix_moment_of_sqlite(place: Found, rewriter: Rewriter) -> str:
    """date(), time(), datetime() and strftime() of the clock, or of a column that keeps moments."""
    call = call_of(place)
    name, arguments = call.parts[-1], list(call.arguments)
    mask = text_value(arguments.pop(0), rewriter) if name == "STRFTIME" and arguments else ""
    if name not in ("DATE", "DATETIME", "TIME", "STRFTIME", "JULIANDAY", "UNIXEPOCH") or mask is None:
        raise CannotDraft(f"{name.lower()} of SQLite")
    family = _family(rewriter)
    if mask == "%s" and [text_value(each, rewriter) for each in arguments] == ["now"]:
        return seconds_now(rewriter.target.engine)
    base, modifiers = _base(arguments[:1], rewriter), arguments[1:]
    is_day = bool(arguments) and rewriter.types.family(arguments[0]) is Family.DATE
    if is_day and (name == "DATETIME" or any(_moves_clock(each, rewriter) for each in modifiers)):
        base = _CONSTANTS[family].format(base) if family != "oracle" else base  # a DATE of Oracle has a time
    moment = _shifted(base, modifiers, rewriter)
    if name in _NUMBERS:
        return _NUMBERS[name][family].format(moment)
    if mask in ("%s", "%w"):
        return _DIGITS[family].format(_NUMBERS["UNIXEPOCH" if mask == "%s" else mask][family].format(moment))
    if name == "TIME":
        return _CLOCK[family].format(moment)
    if name == "DATE":
        return _DAY[rewriter.target.engine].format(moment)
    return moment if name == "DATETIME" else _written(moment, mask, rewriter)


def _moves_clock(modifier: Node, rewriter: Rewriter) -> bool:
    shift = _SHIFT.fullmatch((text_value(modifier, rewriter) or "").lower())
    return shift is not None and shift[2] in ("hour", "minute", "second")


def _base(first: list[Node], rewriter: Rewriter) -> str:
    if not first or text_value(first[0], rewriter) == "now":
        return _NOW[rewriter.target.engine]
    constant = text_value(first[0], rewriter)
    if constant is not None and _CONSTANT.fullmatch(constant):
        day, _, time = constant.replace("T", " ").partition(" ")
        clock = f"{time}:00" if time.count(":") == 1 else time or "00:00:00"
        return _CONSTANTS[_family(rewriter)].format(literal(f"{day} {clock}"))
    if rewriter.types.family(first[0]) not in MOMENTS:
        raise CannotDraft("a moment that is kept as text or as a number")
    return rewriter.node(first[0])


def _shifted(moment: str, modifiers: list[Node], rewriter: Rewriter) -> str:
    family, is_first_day = _family(rewriter), False
    for each in modifiers:
        text = (text_value(each, rewriter) or "?").lower()
        shift = _SHIFT.fullmatch(text)
        if text.startswith("start of ") and text.removeprefix("start of ") in _STARTS[family]:
            moment = _STARTS[family][text.removeprefix("start of ")].format(moment)
            is_first_day = is_first_day or not text.endswith("day")
        elif shift is not None and shift[2] in ("month", "year") and not is_first_day:
            months = int(shift[1]) * (12 if shift[2] == "year" else 1)
            moment = _ROLLED[family].format(moment, months)
        elif (weekday := _WEEKDAY.fullmatch(text)) is not None:
            moment, is_first_day = _WEEKDAYS[family].format(moment, weekday[1]), False
        elif shift is not None:
            moment = shifted(moment, shift[1].lstrip("+"), shift[2], rewriter)
            is_first_day = is_first_day and shift[2] in ("month", "year")
        else:
            raise CannotDraft(f"the modifier {text[:40]}")
    return moment


def _written(moment: str, mask: str, rewriter: Rewriter) -> str:
    family, text = _family(rewriter), ""
    letters = _LETTERS[family]
    for piece in re.findall(r"%.|[^%]", mask):
        if len(piece) == 1:
            if piece.isalpha() or piece in "'\"\\":
                raise CannotDraft(f"strftime with the mask {mask[:40]}")
            text += f"\\{piece}" if family == "sqlserver" and piece in "/:" else piece
        elif piece[1] in letters:
            text += letters[piece[1]]
        else:
            raise CannotDraft(f"strftime with {piece}")
    return _WRITERS[family].format(moment, literal(text))


def _family(rewriter: Rewriter) -> str:
    return "mysql" if rewriter.target.engine == "mariadb" else rewriter.target.engine
