"""Fixers for Oracle as target: borders between dates, bitwise signs, CONVERT with its styles, and patterns of PostgreSQL.

Sources: Oracle Database 19c, "SQL Language Reference"; PostgreSQL 18, "POSIX Regular Expressions".
"""

import re
from typing import Final

from hullsound.draft.conversions.kept_lengths import cut_length
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.writing import moment_operand
from hullsound.sight.detector import Found
from hullsound.sql.tree import Operation

from . import call_of, fixer
from .dates import unit_of

_OWN_ESCAPE: Final = re.compile(r"\\[^dDsSwW.^$*+?()\[\]{}|\\/-]|\(\?|\[\[[.=:][<>]")
"""What Oracle reads otherwise or not at all: escapes for words, constraints, options in the pattern."""
_DEFAULT_SIZE: Final = "30"
"""Length of a text type without one in CONVERT (Transact-SQL reference, "char and varchar")."""


@fixer("borders_of_oracle")
def fix_borders_of_oracle(place: Found, rewriter: Rewriter) -> str:
    """DATEDIFF(unit, a, b) of SQL Server, which counts the borders of units that are crossed; for Oracle."""
    unit_node, first, last = call_of(place).arguments
    unit = unit_of(unit_node, rewriter)
    a, b = moment_operand(first, rewriter), moment_operand(last, rewriter)
    years = f"(EXTRACT(YEAR FROM {b}) - EXTRACT(YEAR FROM {a}))"
    months = f"({years} * 12 + EXTRACT(MONTH FROM {b}) - EXTRACT(MONTH FROM {a}))"
    quarters = [f"TRUNC((EXTRACT(MONTH FROM {each}) - 1) / 3)" for each in (b, a)]
    cut = {"hour": ("HH24", 24), "minute": ("MI", 1440)}
    if unit == "year":
        return years
    if unit == "quarter":
        return f"({years} * 4 + {quarters[0]} - {quarters[1]})"
    if unit == "month":
        return months
    if unit == "day":
        return f"(TRUNC({b}) - TRUNC({a}))"
    if unit == "week":  # which begins on Sunday, whatever DATEFIRST says
        weeks = [f"FLOOR((TO_NUMBER(TO_CHAR({each}, 'J')) + 1) / 7)" for each in (b, a)]
        return f"({weeks[0]} - {weeks[1]})"
    if unit in cut:
        mask, size = cut[unit]
        return f"ROUND((TRUNC({b}, '{mask}') - TRUNC({a}, '{mask}')) * {size})"
    if unit == "second":
        return f"ROUND((CAST({b} AS DATE) - CAST({a} AS DATE)) * 86400)"
    raise CannotDraft(f"the {unit}s between dates")


@fixer("bits_of_oracle")
def fix_bits_of_oracle(place: Found, rewriter: Rewriter) -> str:
    """The bitwise signs of the T-SQL family: Oracle has BITAND alone."""
    node = place.node
    if not isinstance(node, Operation) or len(node.operands) != 2 or node.operators[0] not in ("&", "|", "^"):
        raise CannotDraft("several bitwise signs in a row, or a shift")
    a, b = (rewriter.node(each) for each in node.operands)
    both = f"BITAND({a}, {b})"
    return {"&": both, "|": f"({a} + {b} - {both})", "^": f"({a} + {b} - 2 * {both})"}[node.operators[0]]


@fixer("matches_replaced")
def fix_matches_replaced(place: Found, rewriter: Rewriter) -> str:
    """REGEXP_REPLACE(text, pattern, new, flags) of PostgreSQL, which replaces the first match unless the flags hold g."""
    call = call_of(place)
    value, *more = call.arguments
    pattern, new, flags = (*(text_value(each, rewriter) for each in more), "", "", "")[:3]
    if pattern is None or new is None or flags is None or set(flags) - {"g", "i"} or len(more) > 3:
        raise CannotDraft("a pattern, a replacement or flags that are no constant, or other flags than g and i")
    if _OWN_ESCAPE.search(pattern) or "\\&" in new:
        raise CannotDraft("escapes in a pattern or its replacement")
    occurrence, case = 0 if "g" in flags else 1, "i" if "i" in flags else "c"
    return f"REGEXP_REPLACE({rewriter.node(value)}, {literal(pattern)}, {literal(new)}, 1, {occurrence}, '{case}')"


@fixer("first_of_two")
def fix_first_of_two(place: Found, rewriter: Rewriter) -> str:
    """ISNULL(value, other) of SQL Server, which keeps the type and length of the value, and IFNULL, NVL and VALUE elsewhere."""
    arguments = call_of(place).arguments
    if len(arguments) != 2:
        return f"COALESCE({rewriter.nodes(arguments)})"
    value, other = arguments
    given = rewriter.node(other)
    if rewriter.catalog.engine in ("sqlserver", "ase"):
        size = cut_length(value, other, rewriter)
        if size:
            given = f"SUBSTR({given}, 1, {size})"
    return f"NVL({rewriter.node(value)}, {given})"
