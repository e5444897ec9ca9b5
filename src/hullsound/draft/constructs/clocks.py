"""Clocks: the moment and the day that a statement asks for."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call

from . import fixer


@fixer("clock_local")
def fix_clock_local(place: Found, rewriter: Rewriter) -> str:
    """The moment the transaction began, with as many digits as the source keeps."""
    digits = {"GETDATE": 3, "NOW": 0, "SYSDATETIME": 6, "CURRENT_TIMESTAMP": 0, "LOCALTIMESTAMP": 0, "LOCALTIME": 0}
    words = rewriter.words
    asked = words[place.first + 2] if place.last - place.first >= 3 and words[place.first + 1] == "(" else ""
    return f"LOCALTIMESTAMP({asked if asked.isdigit() else digits.get(words[place.first], 6)})"


_CLOCKS: Final = {
    "DATE": {"postgresql": "CURRENT_DATE", "mysql": "CURRENT_DATE", "mariadb": "CURRENT_DATE",
             "sqlserver": "CAST(SYSDATETIME() AS date)", "oracle": "TRUNC(CURRENT_DATE)"},
    "TIME": {"postgresql": "LOCALTIME(0)", "mysql": "CURRENT_TIME", "mariadb": "CURRENT_TIME",
             "sqlserver": "CAST(SYSDATETIME() AS time(0))"},
    "TIMESTAMP": {"postgresql": "LOCALTIMESTAMP", "mysql": "CURRENT_TIMESTAMP(6)", "mariadb": "CURRENT_TIMESTAMP(6)",
                  "sqlserver": "SYSDATETIME()", "oracle": "LOCALTIMESTAMP"},
}  # fmt: skip
"""Clocks of Db2 by the word behind CURRENT and a blank or a stroke, as each target has them."""


def clock(kind: str, target: str) -> str:
    """Return a target's clock of a DATE, TIME or TIMESTAMP without a zone; '' where it has none."""
    return _CLOCKS.get(kind, {}).get(target, "")


_WITH_DIGITS: Final = {
    "sqlserver": {"zoned": ("SYSDATETIMEOFFSET()", "CAST({0} AS datetimeoffset({1}))"),
                  "local": ("SYSDATETIME()", "CAST({0} AS datetime2({1}))"),
                  "utc": ("SYSUTCDATETIME()", "CAST({0} AS datetime2({1}))")},
    "oracle": {"local": ("LOCALTIMESTAMP", "{0}({1})"), "utc": ("SYS_EXTRACT_UTC(SYSTIMESTAMP)", "CAST({0} AS TIMESTAMP({1}))")},
    "postgresql": {"utc": ("(CURRENT_TIMESTAMP AT TIME ZONE 'UTC')", "CAST({0} AS timestamp({1}))")},
}  # fmt: skip
"""Clocks of targets, and how they have as many digits of seconds as are asked for, by what they show."""


_ZONED_SOURCES: Final = ("postgresql", "teradata", "oracle")


@fixer("clock_of_digits")
def fix_clock_of_digits(place: Found, rewriter: Rewriter) -> str:
    """CURRENT_TIMESTAMP, LOCALTIMESTAMP, NOW and UTC_TIMESTAMP, with as many digits of seconds as are asked for."""
    word = rewriter.words[place.first]
    is_zoned = word == "CURRENT_TIMESTAMP" and rewriter.catalog.engine in _ZONED_SOURCES
    kind = "utc" if "UTC" in word else "zoned" if is_zoned else "local"
    now, with_digits = _WITH_DIGITS[rewriter.target.engine][kind]
    digits = rewriter.words[place.first + 2] if isinstance(place.node, Call) and place.node.arguments else ""
    return with_digits.format(now, digits) if digits.isdigit() else now


@fixer("clock_with_blank")
def fix_clock_with_blank(place: Found, rewriter: Rewriter) -> str:
    word = rewriter.words[place.first]
    kind = rewriter.words[place.last - 1] if word == "CURRENT" else word.removeprefix("CURRENT_")
    text = clock(kind, rewriter.target.engine)
    if not text:
        raise CannotDraft("the time of day alone, for which the target has no type")
    return text
