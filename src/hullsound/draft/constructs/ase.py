"""What constructs of ASE become on SQL Server, which reads the rest of the language as it is, and tests for NULL on every target.

Sources: ASE 16 Reference Manual, "Building Blocks" (data types, str_replace, @@sqlstatus); Transact-SQL reference of SQL Server
2022, "Data types", "REPLACE", "@@FETCH_STATUS".
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.literals import string_literal
from hullsound.sql.tree import Literal, Node, Operation, PlainStatement

from . import call_of, fixer
from .dates import unit_of

_SIGNED: Final = {
    "UNSIGNED TINYINT": "tinyint", "UNSIGNED SMALLINT": "int", "USMALLINT": "int", "UNSIGNED INT": "bigint",
    "UNSIGNED INTEGER": "bigint", "UINT": "bigint", "UNSIGNED BIGINT": "decimal(20, 0)", "UBIGINT": "decimal(20, 0)",
}  # fmt: skip
"""The next type that holds all values."""
_MILLISECONDS: Final = {"hour": 3_600_000, "minute": 60_000, "second": 1_000}
_NUMBERED_PLACE: Final = re.compile(r"%(\d+)!")
_NATIONAL: Final = {"UNICHAR": "nchar", "UNIVARCHAR": "nvarchar", "UNITEXT": "nvarchar(max)"}


@fixer("signed_type")
def fix_signed_type(place: Found, rewriter: Rewriter) -> str:
    return _SIGNED[" ".join(rewriter.words[place.first : place.last])]


@fixer("national_type")
def fix_national_type(place: Found, rewriter: Rewriter) -> str:
    """Rename what SQL Server calls otherwise; NCHAR and NVARCHAR stay."""
    text = rewriter.tokens.source(place.first, place.last)
    name = rewriter.words[place.first]
    return _NATIONAL[name] + text[len(name) :] if name in _NATIONAL else text


@fixer("replace_of_ase")
def fix_replace(place: Found, rewriter: Rewriter) -> str:
    """Write STR_REPLACE, which takes a text out where the new one is NULL."""
    text, old, new = call_of(place).arguments
    is_null = isinstance(new, Literal) and new.form == "null"
    is_text = isinstance(new, Literal) and not is_null
    written = "''" if is_null else rewriter.node(new) if is_text else f"ISNULL({rewriter.node(new)}, '')"
    return f"REPLACE({rewriter.node(text)}, {rewriter.node(old)}, {written})"


@fixer("print_of_ase")
def fix_print(place: Found, rewriter: Rewriter) -> str:
    """Write PRINT with places %1!, %2! for values as one joined text."""
    node = place.node
    if not isinstance(node, PlainStatement) or node.value is None or node.value.last == node.last:
        return rewriter.text(place.first, place.last)
    text = text_value(node.value, rewriter)
    values: list[Node] = []
    for each in rewriter.subject.read.inside(Node, node.value.last, node.last):
        if rewriter.words[each.first - 1] == "," and (not values or each.first >= values[-1].last):
            values.append(each)
    if text is None:
        raise CannotDraft("a message that is no constant, with values")
    pieces = _NUMBERED_PLACE.split(text)
    if any(not 0 < int(number) <= len(values) for number in pieces[1::2]):
        raise CannotDraft("a message whose places and values do not agree")
    parts = [
        rewriter.node(values[int(piece) - 1]) if at % 2 else string_literal(piece, "sqlserver")
        for at, piece in enumerate(pieces)
        if at % 2 or piece
    ]
    return f"PRINT CONCAT({', '.join(parts)})" if len(parts) > 1 else f"PRINT {''.join(parts)}"


@fixer("whole_times_between")
def fix_whole_times_between(place: Found, rewriter: Rewriter) -> str:
    """Count whole hours, minutes or seconds that passed, where SQL Server counts the borders that are crossed."""
    part, start, end = call_of(place).arguments
    unit = unit_of(part, rewriter)
    first, last = rewriter.node(start), rewriter.node(end)
    if unit not in _MILLISECONDS or any(rewriter.types.family(each) not in MOMENTS for each in (start, end)):
        raise CannotDraft(f"a difference in {unit}s, or of what may be no moments")
    if rewriter.target.engine in ("mysql", "mariadb"):
        return f"TIMESTAMPDIFF({unit.upper()}, {first}, {last})"
    return f"CAST(DATEDIFF_BIG(millisecond, {first}, {last}) / {_MILLISECONDS[unit]} AS int)"


@fixer("null_test")
def fix_null_test(place: Found, rewriter: Rewriter) -> str:
    """Write = NULL and <> NULL, which hold there while ANSINULL is off."""
    node = place.node
    assert isinstance(node, Operation)
    return f"{rewriter.node(node.operands[0])} IS {'' if node.operators[0] == '=' else 'NOT '}NULL"


@fixer("fetch_status_of_ase")
def fix_fetch_status(place: Found, rewriter: Rewriter) -> str:
    """Write @@SQLSTATUS: 0 after a row, 2 behind the last one, 1 after an error."""
    if rewriter.words[place.first] != "@@SQLSTATUS":
        raise CannotDraft("another variable than @@sqlstatus")
    is_zero = rewriter.words[place.last : place.last + 2] in (["=", "0"], ["<>", "0"], ["!=", "0"])
    return "@@FETCH_STATUS" if is_zero else "(CASE @@FETCH_STATUS WHEN 0 THEN 0 WHEN -1 THEN 2 ELSE 1 END)"
