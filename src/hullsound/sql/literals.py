"""What text constants hold, by the quoting of each engine."""

import re
from calendar import monthrange
from typing import Final

_ESCAPES: Final = {"n": "\n", "t": "\t", "r": "\r", "0": "", "b": "\b", "Z": "\x1a"}
_ESCAPED: Final = re.compile(r"\\([\s\S])")
_POSTGRESQL_ESCAPES: Final = {"n": "\n", "t": "\t", "r": "\r", "b": "\b", "f": "\f"}
_POSTGRESQL_ESCAPED: Final = re.compile(
    r"\\(?:([0-7]{1,3})|(x[0-9A-Fa-f]{1,2}|u[0-9A-Fa-f]{4}|U[0-9A-Fa-f]{8})|([\s\S]))"
)
_PREFIX: Final = re.compile(r"(?:_[A-Za-z0-9_]+\s+[XxBb]?|[A-Za-z0-9_]*)(?=['\"])")
_BACKSLASHED: Final = frozenset(("mysql", "mariadb"))


def string_content(source: str, engine: str) -> str:
    """Return what a text constant of the source holds, by the engine's own quoting."""
    body = _PREFIX.sub("", source, count=1)
    quote, inner = body[0], body[1:-1]
    inner = inner.replace(quote * 2, quote)
    if engine == "postgresql" and has_escapes(source):
        return _POSTGRESQL_ESCAPED.sub(_of_postgresql, inner)
    if engine in _BACKSLASHED and "\\" in inner:
        # Before % and _ the backslash stays: it is for LIKE.
        inner = _ESCAPED.sub(lambda m: m[0] if m[1] in "%_" else _ESCAPES.get(m[1], m[1]), inner)
    return inner


def has_escapes(source: str) -> bool:
    """Whether a text constant of PostgreSQL has escapes: E'...' (PostgreSQL 18, "String Constants With C-Style Escapes")."""
    return source[:2] in ("E'", "e'")


def _of_postgresql(match: re.Match[str]) -> str:
    octal, hexadecimal, letter = match.groups()
    if octal or hexadecimal:
        return chr(int(octal, 8) if octal else int(hexadecimal[1:], 16))
    return _POSTGRESQL_ESCAPES.get(letter, letter)


def bytes_content(source: str, engine: str) -> bytes | None:
    """Return the bytes of a text constant that stands for bytes; None for signs whose bytes the text alone does not tell."""
    content = string_content(source, engine)
    is_plain = content.isascii() and content.isprintable() and "\\" not in source
    return content.encode("ascii") if is_plain else None


def string_literal(text: str, engine: str) -> str:
    """Write a text constant as an engine reads it."""
    escaped = text.replace("\\", "\\\\") if engine in _BACKSLASHED else text
    return "'" + escaped.replace("'", "''") + "'"


_DAY: Final = re.compile(r"\s*(\d{4})-(\d{1,2})-(\d{1,2})(?!\d)")


def is_no_day(text: str) -> bool:
    """Whether a text begins with year, month and day of no calendar, such as 2020-02-30."""
    found = _DAY.match(text)
    if found is None or found[1] == "0000":
        return found is not None
    year, month, day = int(found[1]), int(found[2]), int(found[3])
    return not (1 <= month <= 12 and 1 <= day <= monthrange(year, month)[1])


def has_letters(text: str) -> bool:
    """Whether case can make a difference to a text."""
    return text.lower() != text.upper()
