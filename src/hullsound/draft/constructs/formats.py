"""Moments and numbers as text in the T-SQL family: styles, patterns, and what a plain cast gives.

Source: Transact-SQL reference, "CAST and CONVERT" and "FORMAT".
"""

import re
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found

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
_GROUPS: Final = "999,999,999,999,999,999,999,99"
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
