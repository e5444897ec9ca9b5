"""Moments and numbers as text in the T-SQL family: styles, patterns, and what a plain cast gives.

Source: Transact-SQL reference, "CAST and CONVERT" and "FORMAT".
"""

import re
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.catalog.model import DataType
from hullsound.draft.names import literal
from hullsound.draft.rewrite import CannotDraft, Rewriter
from hullsound.draft.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Node, Paren

from . import call_of, fixer
from .dates import timestamp_of

# --- patterns ---

_LETTERS: Final = {
    "yyyy": "YYYY", "yy": "YY", "MMMM": "FMMonth", "MMM": "Mon", "MM": "MM", "dddd": "FMDay", "ddd": "Dy", "dd": "DD",
    "HH": "HH24", "hh": "HH12", "mm": "MI", "ss": "SS", "fff": "MS", "ffffff": "US", "tt": "AM",
}  # fmt: skip
"""Letters of the patterns of FORMAT and the elements of to_char that write the same."""
_LETTER_RUN: Final = re.compile(r"([A-Za-z])\1*|[^A-Za-z]+")


@fixer("format_by_letters")
def fix_format_by_letters(place: Found, rewriter: Rewriter) -> str:
    """FORMAT(value, pattern) with a constant pattern and no language of its own."""
    arguments = call_of(place).arguments
    pattern = text_value(arguments[1], rewriter) if len(arguments) == 2 else None
    kind = rewriter.types.family(arguments[0])
    if pattern is None or kind not in (Family.DATE, Family.TIMESTAMP, Family.INTEGER, Family.NUMBER):
        raise CannotDraft("FORMAT by a pattern that is not a constant, or in a language")
    if kind in NUMBERS:
        return f"to_char(CAST({rewriter.node(arguments[0])} AS numeric), {literal(number_mask(pattern))})"
    pieces = [match[0] for match in _LETTER_RUN.finditer(pattern)]
    if len(pieces) < 2 or any(piece[0].isalpha() and piece not in _LETTERS for piece in pieces) or '"' in pattern:
        raise CannotDraft(f"the pattern {pattern}")
    mask = "".join(_LETTERS.get(piece, piece) for piece in pieces)
    return f"to_char({timestamp_of(arguments[0], rewriter)}, {literal(mask)})"


_STANDARD_NUMBER: Final = re.compile(r"([NnFfDd])(\d{0,2})")
_CUSTOM_NUMBER: Final = re.compile(r"(#,##)?(#?)(0*)(?:\.(0+))?")
_GROUPS: Final = "999,999,999,999,99"
_DIGITS: Final = "99999999999999"


def number_mask(pattern: str) -> str:
    """Turn a pattern of FORMAT for numbers into one of to_char. Raises CannotDraft for one without a like."""
    standard = _STANDARD_NUMBER.fullmatch(pattern)
    if standard is not None:
        letter, count = standard[1].upper(), int(standard[2] or (0 if standard[1].upper() == "D" else 2))
        if letter == "D":
            return f"FM{_DIGITS}{'0' * max(count, 1)}"
        return f"FM{_GROUPS if letter == 'N' else _DIGITS}0{f'.{chr(48) * count}' if count else ''}"
    custom = _CUSTOM_NUMBER.fullmatch(pattern)
    if custom is None or not custom[3] or (custom[1] and len(custom[3]) > 1):
        raise CannotDraft(f"the pattern {pattern} for a number")
    return f"FM{_GROUPS if custom[1] else _DIGITS}{custom[3]}{f'.{custom[4]}' if custom[4] else ''}"


# --- styles ---

STYLES: Final = {
    "1": "MM/DD/YY", "3": "DD/MM/YY", "4": "DD.MM.YY", "5": "DD-MM-YY", "8": "HH24:MI:SS", "10": "MM-DD-YY", "12": "YYMMDD",
    "20": "YYYY-MM-DD HH24:MI:SS", "21": "YYYY-MM-DD HH24:MI:SS.MS", "23": "YYYY-MM-DD", "101": "MM/DD/YYYY",
    "102": "YYYY.MM.DD", "103": "DD/MM/YYYY", "104": "DD.MM.YYYY", "105": "DD-MM-YYYY", "106": "DD Mon YYYY",
    "107": "Mon DD, YYYY", "108": "HH24:MI:SS", "110": "MM-DD-YYYY", "111": "YYYY/MM/DD", "112": "YYYYMMDD",
    "113": "DD Mon YYYY HH24:MI:SS:MS", "114": "HH24:MI:SS:MS", "120": "YYYY-MM-DD HH24:MI:SS",
    "121": "YYYY-MM-DD HH24:MI:SS.MS", "126": 'YYYY-MM-DD"T"HH24:MI:SS.MS',
}  # fmt: skip
"""Styles of dates as text (Transact-SQL reference, "CAST and CONVERT") as patterns of to_char."""


def mask_of_style(node: Node, rewriter: Rewriter) -> str:
    """Return the pattern for a style number. Raises CannotDraft for one that is unknown or no constant."""
    mask = STYLES.get(rewriter.subject.source(node))
    if mask is None:
        raise CannotDraft("a style of CONVERT that is not known")
    return literal(mask)


_OLD_STYLES: Final = {
    "0": "Mon DD YYYY HH12:MIAM", "100": "Mon DD YYYY HH12:MIAM", "9": "Mon DD YYYY HH12:MI:SS:MSAM",
    "109": "Mon DD YYYY HH12:MI:SS:MSAM",
}  # fmt: skip
"""Styles in which days and hours of one digit have a blank before them."""


def by_style(value: str, style: Node, rewriter: Rewriter) -> str:
    """Write a moment by the number of a style. Raises CannotDraft for one that is unknown or no constant."""
    old = _OLD_STYLES.get(rewriter.subject.source(style))
    return _with_blanks(value, old) if old else f"to_char({value}, {mask_of_style(style, rewriter)})"


def _with_blanks(value: str, mask: str) -> str:
    return f"replace(to_char({value}, '{mask}'), ' 0', '  ')"


# --- without a style ---

_NEW_MOMENTS: Final = {"SYSDATETIME": 7, "SYSUTCDATETIME": 7, "SYSDATETIMEOFFSET": 7}
"""Functions that give moments of the newer types, and their digits behind the second."""


def plain_text_of(node: Node, value: str, rewriter: Rewriter) -> str:
    """Write a moment as the text that it becomes by itself; the old types keep to style 0."""
    kind = rewriter.types.family(node)
    if kind is Family.DATE:
        return f"to_char({value}, 'YYYY-MM-DD')"
    digits = _digits_of(node, rewriter)
    if kind is Family.TIME:
        return f"to_char({value}, 'HH24:MI:SS{_fraction(digits if digits >= 0 else 7)}')"
    if digits < 0:
        return _with_blanks(value, _OLD_STYLES["0"])
    return f"to_char({value}, 'YYYY-MM-DD HH24:MI:SS{_fraction(digits)}')"


def _fraction(digits: int) -> str:
    if digits > 6:
        return '.US"0"'  # PostgreSQL has six digits, the source shows seven
    return f".FF{digits}" if digits else ""


def _digits_of(node: Node, rewriter: Rewriter) -> int:
    """Return the digits behind the second that a value has; -1 for the old types."""
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Call) and len(node.parts) == 1:
        if node.parts[0] in _NEW_MOMENTS:
            return _NEW_MOMENTS[node.parts[0]]
        if node.parts[0] == "DATEADD" and len(node.arguments) == 3:
            return _digits_of(node.arguments[2], rewriter)
    source: DataType | None = rewriter.types.source_type(node)
    if source is None or source.name not in ("DATETIME2", "DATETIMEOFFSET", "TIME"):
        return -1
    return int(source.arguments[0]) if source.arguments and source.arguments[0].isdigit() else 7
