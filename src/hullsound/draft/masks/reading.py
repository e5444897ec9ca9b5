"""Masks of moments read into pieces: letters (Oracle, PostgreSQL, Db2), percent signs (MySQL), patterns and styles (SQL Server).

Sources: Oracle Database 19c SQL Language Reference, "Format Models"; PostgreSQL 18, "Data Type Formatting Functions"; MySQL 8.4
Reference Manual, "DATE_FORMAT"; .NET, "Custom date and time format strings"; Transact-SQL reference, "CAST and CONVERT".
"""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .pieces import LONG_NAMES, NAMES, Case, Fill, Part, Piece

# --- letters ---

_LETTERS: Final = {
    "YYYY": Part.YEAR, "RRRR": Part.YEAR, "YY": Part.SHORT_YEAR, "RR": Part.SHORT_YEAR, "IYYY": Part.ISO_YEAR, "CC": Part.CENTURY,
    "Q": Part.QUARTER, "MM": Part.MONTH, "MONTH": Part.MONTH_NAME, "MON": Part.SHORT_MONTH_NAME, "WW": Part.WEEK,
    "IW": Part.ISO_WEEK,
    "W": Part.WEEK_OF_MONTH, "DDD": Part.DAY_OF_YEAR, "DD": Part.DAY, "DAY": Part.DAY_NAME, "DY": Part.SHORT_DAY_NAME,
    "D": Part.DAY_OF_WEEK, "HH24": Part.HOUR, "HH12": Part.HALF_DAY_HOUR, "HH": Part.HALF_DAY_HOUR, "MI": Part.MINUTE,
    "SSSSS": Part.SECONDS_OF_DAY, "SS": Part.SECOND, "AM": Part.HALF_DAY, "PM": Part.HALF_DAY, "J": Part.JULIAN_DAY,
}  # fmt: skip
_OF_POSTGRESQL: Final = {"ID": Part.ISO_DAY_OF_WEEK, "SSSS": Part.SECONDS_OF_DAY}
_FRACTIONS: Final = {"MS": 3, "US": 6, "FF": 6}
_WORDS: Final = (*_LETTERS, *_OF_POSTGRESQL, *_FRACTIONS, "FM", "TH")
_ELEMENT: Final = re.compile(
    r'"[^"]*"|FF[1-9]|' + "|".join(sorted(_WORDS, key=len, reverse=True)) + r'|[^A-Za-z0-9"\\]', re.IGNORECASE
)


def read_letters(mask: str, engine: str) -> list[Piece]:
    """Read a mask of letters, such as DD.MM.YYYY. Raises CannotDraft for an element that is not known.

    FM stands for all that follows in Oracle, and for the next element in PostgreSQL.
    """
    pieces: list[Piece] = []
    at, is_bare, before = 0, False, ""
    while at < len(mask):
        match = _ELEMENT.match(mask, at)
        word = match[0] if match is not None else ""
        name = word.upper()
        if not word or (engine != "postgresql" and (name in _OF_POSTGRESQL or name in ("MS", "US"))):
            raise CannotDraft(f"the mask {mask[:30]}")
        at += len(word)
        if name == "FM":
            is_bare = not is_bare
            continue
        if name == "TH":
            if not pieces or pieces[-1].part is not Part.DAY:
                raise CannotDraft("an ordinal number of another part than the day")
            is_small = word.islower() if engine == "postgresql" else before[1:2].islower()
            pieces[-1] = pieces[-1]._replace(part=Part.ORDINAL_DAY, case=Case.LOWER if is_small else Case.UPPER)
            continue
        is_unfilled = engine == "postgresql" and _letters_of(word) is Part.SECONDS_OF_DAY
        pieces.append(_piece_of_letters(word, is_bare or is_unfilled))
        before = word
        if engine == "postgresql":
            is_bare = False
    return _shown(pieces)


def _shown(pieces: list[Piece]) -> list[Piece]:
    """Leave out quotes with nothing between them. Raises CannotDraft for a mask that shows nothing."""
    found = [piece for piece in pieces if piece.part is not Part.LITERAL or piece.text]
    if not found:
        raise CannotDraft("a mask that shows nothing")
    return found


def _letters_of(word: str) -> Part | None:
    return _LETTERS.get(word.upper()) or _OF_POSTGRESQL.get(word.upper())


def _piece_of_letters(word: str, is_bare: bool) -> Piece:
    name = word.upper()
    if name.startswith("FF") or name in _FRACTIONS:
        return Piece(Part.FRACTION, digits=_FRACTIONS.get(name) or int(name[2:]))
    part = _letters_of(word)
    if part is None:
        return Piece(Part.LITERAL, word.strip('"'))
    case = (
        (Case.UPPER if word[1:2].isupper() else Case.TITLE if word[0].isupper() else Case.LOWER)
        if part in NAMES
        else Case.TITLE
    )
    fill = Fill.NOTHING if is_bare else Fill.BLANKS if part in LONG_NAMES else Fill.ZEROS
    return Piece(part, fill=fill, case=case)


# --- percent signs ---

_PERCENT: Final = {
    "Y": Part.YEAR, "y": Part.SHORT_YEAR, "m": Part.MONTH, "d": Part.DAY, "H": Part.HOUR, "h": Part.HALF_DAY_HOUR,
    "I": Part.HALF_DAY_HOUR,
    "i": Part.MINUTE, "s": Part.SECOND, "S": Part.SECOND, "j": Part.DAY_OF_YEAR, "v": Part.ISO_WEEK, "x": Part.ISO_YEAR,
    "b": Part.SHORT_MONTH_NAME, "a": Part.SHORT_DAY_NAME,
}  # fmt: skip
_BARE_PERCENT: Final = {
    "c": Part.MONTH, "e": Part.DAY, "k": Part.HOUR, "l": Part.HALF_DAY_HOUR, "M": Part.MONTH_NAME, "W": Part.DAY_NAME,
}  # fmt: skip
_WHOLE_TIMES: Final = {"T": "%H:%i:%s", "r": "%h:%i:%s %p"}


def read_percent_signs(mask: str) -> list[Piece]:
    """Read a mask such as %Y-%m-%d. Raises CannotDraft for a letter without a like."""
    pieces: list[Piece] = []
    for sign in re.findall(r"%.|[^%]+|%$", mask, re.DOTALL):
        letter = sign[1:] if sign[0] == "%" else ""
        if letter in _WHOLE_TIMES:
            pieces += read_percent_signs(_WHOLE_TIMES[letter])
        elif letter in _PERCENT:
            pieces.append(Piece(_PERCENT[letter]))
        elif letter in _BARE_PERCENT:
            pieces.append(Piece(_BARE_PERCENT[letter], fill=Fill.NOTHING))
        elif letter == "D":
            pieces.append(Piece(Part.ORDINAL_DAY, fill=Fill.NOTHING, case=Case.LOWER))
        elif letter == "p":
            pieces.append(Piece(Part.HALF_DAY, case=Case.UPPER))
        elif letter == "f":
            pieces.append(Piece(Part.FRACTION, digits=6))
        elif letter in ("", "%"):
            pieces.append(Piece(Part.LITERAL, letter or sign))
        else:
            raise CannotDraft(f"%{letter} in a mask")
    return pieces


# --- patterns ---

_PATTERNS: Final = {
    "yyyy": Piece(Part.YEAR), "yy": Piece(Part.SHORT_YEAR), "MMMM": Piece(Part.MONTH_NAME, fill=Fill.NOTHING),
    "MMM": Piece(Part.SHORT_MONTH_NAME), "MM": Piece(Part.MONTH), "M": Piece(Part.MONTH, fill=Fill.NOTHING),
    "dddd": Piece(Part.DAY_NAME, fill=Fill.NOTHING), "ddd": Piece(Part.SHORT_DAY_NAME), "dd": Piece(Part.DAY),
    "d": Piece(Part.DAY, fill=Fill.NOTHING), "HH": Piece(Part.HOUR), "H": Piece(Part.HOUR, fill=Fill.NOTHING),
    "hh": Piece(Part.HALF_DAY_HOUR), "h": Piece(Part.HALF_DAY_HOUR, fill=Fill.NOTHING), "mm": Piece(Part.MINUTE),
    "m": Piece(Part.MINUTE, fill=Fill.NOTHING), "ss": Piece(Part.SECOND), "s": Piece(Part.SECOND, fill=Fill.NOTHING),
    "tt": Piece(Part.HALF_DAY, case=Case.UPPER), **{"f" * count: Piece(Part.FRACTION, digits=count) for count in range(1, 8)},
}  # fmt: skip
_RUN: Final = re.compile(r"'[^']*'|([A-Za-z])\1*|[^A-Za-z'\"\\%]")


def read_pattern(pattern: str) -> list[Piece]:
    """Read a pattern of FORMAT, such as dd.MM.yyyy. Raises CannotDraft for standard ones of one letter, and for unknown letters."""
    if len(pattern) < 2 or "".join(match[0] for match in _RUN.finditer(pattern)) != pattern:
        raise CannotDraft(f"the pattern {pattern[:30]}")
    pieces = []
    for match in _RUN.finditer(pattern):
        word = match[0]
        if word[0].isalpha():
            if word not in _PATTERNS:
                raise CannotDraft(f"the pattern {pattern[:30]}")
            pieces.append(_PATTERNS[word])
        else:
            pieces.append(Piece(Part.LITERAL, word.strip("'") if len(word) > 1 else word))
    return _shown(pieces)


# --- styles ---

STYLES: Final = {
    "1": "MM/DD/YY", "3": "DD/MM/YY", "4": "DD.MM.YY", "5": "DD-MM-YY", "8": "HH24:MI:SS", "10": "MM-DD-YY", "12": "YYMMDD",
    "20": "YYYY-MM-DD HH24:MI:SS", "21": "YYYY-MM-DD HH24:MI:SS.FF3", "23": "YYYY-MM-DD", "101": "MM/DD/YYYY",
    "102": "YYYY.MM.DD", "103": "DD/MM/YYYY", "104": "DD.MM.YYYY", "105": "DD-MM-YYYY", "106": "DD Mon YYYY",
    "107": "Mon DD, YYYY", "108": "HH24:MI:SS", "110": "MM-DD-YYYY", "111": "YYYY/MM/DD", "112": "YYYYMMDD",
    "113": "DD Mon YYYY HH24:MI:SS:FF3", "114": "HH24:MI:SS:FF3", "120": "YYYY-MM-DD HH24:MI:SS",
    "121": "YYYY-MM-DD HH24:MI:SS.FF3", "0": "Mon DD YYYY HH12:MIAM", "100": "Mon DD YYYY HH12:MIAM",
    "9": "Mon DD YYYY HH12:MI:SS:FF3AM", "109": "Mon DD YYYY HH12:MI:SS:FF3AM",
}  # fmt: skip
"""Styles of moments as text, as masks of Oracle."""
BLANK_FILLED: Final = frozenset(("0", "100", "9", "109"))
"""Styles in which days and hours of one digit have a blank before them."""
_FILLED_PARTS: Final = frozenset((Part.DAY, Part.HALF_DAY_HOUR))


def read_style(number: str) -> list[Piece]:
    """Read the number of a style of CONVERT. Raises CannotDraft for one that is not known."""
    if number not in STYLES:
        raise CannotDraft("a style of CONVERT that is not known")
    pieces = read_letters(STYLES[number], "oracle")
    if number not in BLANK_FILLED:
        return pieces
    return [each._replace(fill=Fill.BLANKS) if each.part in _FILLED_PARTS else each for each in pieces]
