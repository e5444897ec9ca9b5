"""Lengths of texts on Oracle, where a text that has become empty is NULL, and so is its length.

Sources: Oracle Database 19c, SQL Language Reference, "Nulls", "LENGTH"; Transact-SQL reference of SQL Server 2022, "LEN".
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.empty_tests import may_be_filled
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Literal, Name, Node, Paren

from . import call_of, fixer

_SHORTENING: Final = frozenset(
    ("REPLACE", "LTRIM", "RTRIM", "TRIM", "SUBSTRING", "SUBSTR", "MID", "LEFT", "RIGHT", "UPPER", "LOWER")
)
"""Functions that give NULL only for NULL, and an empty text for some texts that are not."""


@fixer("length_of_text")
def fix_length_of_text(place: Found, rewriter: Rewriter) -> str:
    """CHAR_LENGTH(text): 0 where a text that is not NULL has become empty; of a column itself nobody can tell."""
    (value,) = call_of(place).arguments
    length = f"LENGTH({rewriter.node(value)})"
    is_shown = isinstance(value, Name) and not may_be_filled(value, rewriter)
    return length if is_shown or _root(value) is value else _unless_null(value, length, rewriter)


@fixer("length_without_blanks")
def fix_length_without_blanks(place: Found, rewriter: Rewriter) -> str:
    """LEN(text) of SQL Server: 0 for blanks alone, which RTRIM makes NULL in Oracle, and NULL for NULL."""
    (value,) = call_of(place).arguments
    text = rewriter.node(value)
    if rewriter.types.family(value) is Family.INTEGER:
        return f"LENGTH({text})"
    return _unless_null(value, f"LENGTH(RTRIM({text}))", rewriter)


def _unless_null(value: Node, length: str, rewriter: Rewriter) -> str:
    """Return a length that is 0 for an empty text, and NULL where the value that it was made of is NULL."""
    root, length = _root(value), f"NVL({length}, 0)"
    if rewriter.types.is_never_null(value) or rewriter.types.is_never_null(root) or may_be_filled(root, rewriter):
        return length
    text = rewriter.elsewhere(root)
    return f"(CASE WHEN {text} IS NOT NULL THEN {length} END)" if rewriter.is_code else f"NVL2({text}, {length}, NULL)"


def _root(value: Node) -> Node:
    """Return the value that alone decides whether another is NULL."""
    while True:
        if isinstance(value, Paren):
            value = value.inner
        elif isinstance(value, Call) and value.parts[-1] in _SHORTENING and _is_constant(value.arguments[1:]):
            value = value.arguments[0]
        else:
            return value


def _is_constant(nodes: list[Node]) -> bool:
    return all(isinstance(each, Literal) and each.form != "null" for each in nodes)
