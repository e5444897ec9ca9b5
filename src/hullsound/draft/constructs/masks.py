"""Masks of Oracle for dates and numbers, as PostgreSQL's to_char reads them.

Sources: Oracle Database 19c SQL Language Reference, "Format Models"; PostgreSQL 18, "Data Type Formatting Functions".
"""

import re
from typing import Final

from hullsound.analyze.types import NUMBERS
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.number_forms import fits
from hullsound.sql.tree import Node

_ELEMENT: Final = re.compile(
    r'"[^"]*"|FM|Y,YYY|YYYY|YYY|YY|IYYY|IYY|IY|I|MONTH|MON|MM|MI|RM|DDD|DD|DAY|DY|D|HH24|HH12|HH|SSSSS|SS|FF[1-6]?|AM|PM|A\.M\.|P\.M\.|'
    r"Q|WW|IW|W|CC|J|TZH|TZM|BC|AD|TH|Y|[^A-Za-z0-9\"]",
    re.IGNORECASE,
)
_WRITTEN_AS_THEY_STAND: Final = frozenset(("MONTH", "MON", "DAY", "DY", "RM", "AM", "PM", "A.M.", "P.M.", "BC", "AD"))
"""Elements whose letters say in which case a name is written."""
_WIDE: Final = frozenset(
    ("YYYY", "YYY", "YY", "MM", "DDD", "DD", "HH24", "HH12", "HH", "MI", "SS", "WW", "IW", "MONTH", "DAY", "RM", "CC")
)
"""Elements that are filled up with zeros or blanks unless FM is on."""
_NUMBER: Final = re.compile(r"(FM)?([SL$]?)([09,G]+)(?:[.D]([09]*))?(MI|PR|S)?", re.IGNORECASE)
_HEXADECIMAL: Final = re.compile(r"FM(X+)", re.IGNORECASE)


def date_mask(mask: str) -> str:
    """Turn a mask for dates into one of to_char. Raises CannotDraft for an element that is not known."""
    written, at, fills, before = "", 0, True, ""
    while at < len(mask):
        match = _ELEMENT.match(mask, at)
        if match is None:
            raise CannotDraft(f"the mask element at {mask[at:]}")
        element, at = match[0], match.end()
        name = element.upper()
        if name == "FM":
            fills = not fills
            continue
        if name == "TH":  # its letters are in the case of the element's
            written += "th" if before[1:2].islower() else "TH"
        elif name == "SSSSS":
            raise CannotDraft("seconds of the day among other elements: to_char writes them without zeros in front")
        else:
            text = element if name in _WRITTEN_AS_THEY_STAND or element.startswith('"') else name
            text = "US" if name == "FF" else text
            written += f"FM{text}" if not fills and name in _WIDE else text
        before = element
    return written


def date_text(value: Node, mask: str, rewriter: Rewriter) -> str:
    """Write a date by a mask."""
    if mask.upper() in ("SSSSS", "FMSSSSS"):
        seconds = f"to_char({rewriter.node(value)}, 'SSSSS')"
        return f"lpad({seconds}, 5, '0')" if mask.upper() == "SSSSS" else seconds
    return f"to_char({rewriter.node(value)}, {literal(date_mask(mask))})"


def number_text(value: Node, mask: str, rewriter: Rewriter) -> str:
    """Write a number by a mask: what does not fit becomes #, one more than the mask has places, for the sign.

    Raises CannotDraft for a mask with elements of Oracle's own.
    """
    hexadecimal = _HEXADECIMAL.fullmatch(mask)
    if hexadecimal is not None:
        digits = f"to_hex(CAST(round({rewriter.node(value)}) AS bigint))"
        return f"upper({digits})" if "X" in mask else digits
    match = _NUMBER.fullmatch(mask)
    if match is None:
        raise CannotDraft(f"the mask {mask}")
    text = f"to_char({rewriter.node(value)}, {literal(mask.upper().replace('G', ',').replace('D', '.'))})"
    if fits(value, len(re.sub("[,G]", "", match[3].upper())), rewriter):
        return text
    width = len(mask) - len(match[1] or "") + (0 if match[2].upper() == "S" or match[5] else 1)
    return f"regexp_replace({text}, '^.*#.*$', {literal('#' * width)})"


def text_by_mask(value: Node, mask: Node, rewriter: Rewriter) -> str:
    """Write a number or a date by a constant mask. Raises CannotDraft for one that is not constant or not known."""
    constant = text_value(mask, rewriter)
    if constant is None:
        raise CannotDraft("a mask that is not a constant")
    is_number = (
        rewriter.types.family(value) in NUMBERS or _NUMBER.fullmatch(constant) or _HEXADECIMAL.fullmatch(constant)
    )
    return number_text(value, constant, rewriter) if is_number else date_text(value, constant, rewriter)
