"""Moments as text in the T-SQL family: by the number of a style, and what a plain cast gives.

Source: Transact-SQL reference, "CAST and CONVERT".
"""

import re
from typing import Final

from hullsound.analyze.types import Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks import reading
from hullsound.sql.tree import Call, Node, Paren

# --- styles ---

STYLES: Final = {
    **{
        number: re.sub("([.:])FF3", r"\1MS", mask)
        for number, mask in reading.STYLES.items()
        if number not in reading.BLANK_FILLED
    },
    "126": 'YYYY-MM-DD"T"HH24:MI:SS.MS',
}
"""Styles of dates as text (Transact-SQL reference, "CAST and CONVERT") as patterns of to_char."""


def mask_of_style(node: Node, rewriter: Rewriter) -> str:
    """Return the pattern for a style number. Raises CannotDraft for one that is unknown or no constant."""
    mask = STYLES.get(rewriter.subject.source(node))
    if mask is None:
        raise CannotDraft("a style of CONVERT that is not known")
    return literal(mask)


_OLD_STYLES: Final = {number: reading.STYLES[number].replace(":FF3", ":MS") for number in sorted(reading.BLANK_FILLED)}
"""Styles in which days and hours of one digit have a blank before them."""


def by_style(value: str, style: Node, rewriter: Rewriter) -> str:
    """Write a moment by the number of a style. Raises CannotDraft for one that is unknown or no constant."""
    number = rewriter.subject.source(style)
    if number in _OLD_STYLES:
        return _with_blanks(value, _OLD_STYLES[number])
    text = f"to_char({value}, {mask_of_style(style, rewriter)})"
    return f"regexp_replace({text}, '[.]000$', '')" if number == "126" else text  # no fraction where it is zero


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
