"""Texts that MySQL reads as numbers and moments without ever failing: what cannot be read is 0, or NULL.

Source: MySQL 8.4 Reference Manual, "Type Conversion in Expression Evaluation" and "Cast Functions and Operators".
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Cast, Literal, Node

_NUMBER_AT_BEGINNING: Final = literal(r"^\s*([-+]?(?:\d+\.?\d*|\.\d+))")


def number_at_beginning(text: str) -> str:
    """Write the number at the beginning of a text, 0 where there is none, NULL for NULL."""
    found = f"COALESCE(CAST(substring({text} FROM {_NUMBER_AT_BEGINNING}) AS numeric), 0)"
    return f"(CASE WHEN {text} IS NOT NULL THEN {found} END)"


def _is_moved(value: Node) -> bool:
    """Whether a value is a text that an interval moves, which the draft has made a moment."""
    return isinstance(value, Call) and value.parts[-1] in ("DATE_ADD", "DATE_SUB", "ADDDATE", "SUBDATE")


def cast_of_loose_text(node: Cast, value: str, kind: str, rewriter: Rewriter) -> str:
    """Write the cast of a text to a number or a moment; '' where an ordinary cast will do."""
    wanted = rewriter.types.family(node)
    if isinstance(node.value, Literal):
        return ""
    if wanted is Family.INTEGER:
        return f"CAST(trunc({number_at_beginning(value)}) AS {kind})"
    if wanted is Family.NUMBER:
        return f"CAST({number_at_beginning(value)} AS {kind})"
    if wanted in (Family.DATE, Family.TIMESTAMP, Family.TIME) and not _is_moved(node.value):
        return f"(CASE WHEN pg_input_is_valid({value}, {literal(kind)}) THEN CAST({value} AS {kind}) END)"
    return ""
