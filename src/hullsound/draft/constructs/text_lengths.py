"""Lengths of texts on Oracle, where a text that has become empty is NULL, and so is its length.

Sources: Oracle Database 19c, SQL Language Reference, "Nulls", "LENGTH"; Transact-SQL reference of SQL Server 2022, "LEN".
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.empty_tests import may_be_filled
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Literal, Name, Node, Operation, Paren

from . import call_of, fixer

_SHORTENING: Final = frozenset(
    ("REPLACE", "LTRIM", "RTRIM", "TRIM", "SUBSTRING", "SUBSTR", "MID", "LEFT", "RIGHT", "UPPER", "LOWER")
)
"""Functions that give NULL only for NULL, and an empty text for some texts that are not."""


@fixer("length_of_text")
def fix_length_of_text(place: Found, rewriter: Rewriter) -> str:
    """CHAR_LENGTH(text): 0 where a text that is not NULL has become empty; of a column itself nobody can tell."""
    value = _measured(call_of(place))
    length = f"LENGTH({rewriter.node(value)})"
    is_shown = isinstance(value, Name) and not may_be_filled(value, rewriter)
    return length if is_shown or _root(value) is value else _unless_null(value, length, rewriter)


@fixer("length_with_blanks")
def fix_length_with_blanks(place: Found, rewriter: Rewriter) -> str:
    """CHAR_LENGTH(text), for SQL Server, whose LEN leaves blanks at the end out."""
    value = _measured(call_of(place))
    family, text = rewriter.types.family(value), rewriter.node(value)
    if family is Family.INTEGER and rewriter.catalog.engine != "db2":
        return f"LEN(CAST({text} AS nvarchar(20)))"
    if family not in (Family.TEXT, Family.UNKNOWN):
        raise CannotDraft("the length of something that is no text")
    return f"(LEN({f'({text})' if isinstance(value, Operation) else text} + 'x') - 1)"


@fixer("length_in_code_units")
def fix_length_in_code_units(place: Found, rewriter: Rewriter) -> str:
    """LENGTH(text) of Db2, which counts the bytes in which other values are kept; for MySQL and MariaDB."""
    value = _measured(call_of(place))
    if rewriter.types.family(value) not in (Family.TEXT, Family.UNKNOWN):
        raise CannotDraft("the bytes in which a value is kept that is no text")
    return f"LENGTH({rewriter.node(value)})"


def _measured(call: Call) -> Node:
    """Return the text that is measured. Raises CannotDraft for one that is counted in other units than characters."""
    value, *units = call.arguments
    if any(not isinstance(each, Name) or each.parts[-1] != "CODEUNITS32" for each in units):
        raise CannotDraft("a text that is counted in bytes or units of UTF-16")
    return value


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
