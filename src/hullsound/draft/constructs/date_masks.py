"""Masks of percent signs, as MySQL and SQLite write dates by them."""

import re
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Node

from . import call_of, fixer
from .dates import timestamp_of

_PERCENT: Final = {
    "Y": "YYYY", "y": "YY", "m": "MM", "c": "FMMM", "d": "DD", "e": "FMDD", "H": "HH24", "k": "FMHH24", "h": "HH12",
    "I": "HH12", "l": "FMHH12", "i": "MI", "s": "SS", "S": "SS", "f": "US", "p": "AM", "M": "FMMonth", "b": "Mon",
    "W": "FMDay", "a": "Dy", "j": "DDD", "T": "HH24:MI:SS", "r": "HH12:MI:SS AM", "D": "FMDDth", "v": "IW", "x": "IYYY",
}  # fmt: skip
"""Letters of percent masks (MySQL 8.4 Reference Manual, "DATE_FORMAT") and the patterns of to_char that mean the same."""


_TIME_LETTERS: Final = frozenset("HkhIlisSfpTr")


def percent_mask(mask: str) -> str:
    """Turn a mask such as %Y-%m-%d into a pattern of to_char. Raises CannotDraft for a letter without a like."""
    pieces: list[str] = []
    plain = ""
    at = 0
    while at < len(mask):
        letter = mask[at + 1] if mask[at] == "%" and at + 1 < len(mask) else ""
        if letter and letter != "%":
            if letter not in _PERCENT:
                raise CannotDraft(f"%{letter} in a mask")
            pieces += [_plain(plain), _PERCENT[letter]]
            plain = ""
        else:
            plain += mask[at]
        at += 2 if letter else 1
    return "".join([*pieces, _plain(plain)])


def _plain(text: str) -> str:
    """Quote what stands between patterns where to_char would read letters in it."""
    if not any(c.isalpha() for c in text):
        return text
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def _constant_mask(node: Node, rewriter: Rewriter) -> str:
    mask = text_value(node, rewriter)
    if mask is None:
        raise CannotDraft("a mask that is not a constant")
    return mask


@fixer("date_by_percent_mask")
def fix_date_by_percent_mask(place: Found, rewriter: Rewriter) -> str:
    date, mask = call_of(place).arguments[:2]
    value = rewriter.node(date) if rewriter.types.family(date) is Family.TIME else timestamp_of(date, rewriter)
    return f"to_char({value}, {literal(percent_mask(_constant_mask(mask, rewriter)))})"


@fixer("date_from_percent_mask")
def fix_date_from_percent_mask(place: Found, rewriter: Rewriter) -> str:
    value, mask = call_of(place).arguments
    text = _constant_mask(mask, rewriter)
    pattern = literal(percent_mask(text))
    if any(letter in _TIME_LETTERS for letter in re.findall(r"%(.)", text)):
        return f"CAST(to_timestamp({rewriter.node(value)}, {pattern}) AS timestamp)"
    return f"to_date({rewriter.node(value)}, {pattern})"
