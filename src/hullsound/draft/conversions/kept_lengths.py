"""Texts that ISNULL of the T-SQL family cuts to the length of its first argument.

Source: Transact-SQL reference, "ISNULL": the value has the type of what is checked.
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Node

_TEXTS: Final = frozenset(("CHAR", "NCHAR", "VARCHAR", "NVARCHAR"))


def cut_length(value: Node, other: Node, rewriter: Rewriter) -> int:
    """Return to how many characters the other value of ISNULL is cut; 0 where it fits, or where that is not known."""
    kind = rewriter.types.source_type(value)
    size = kind.arguments[0] if kind is not None and kind.name in _TEXTS and kind.arguments else ""
    if not size.isdigit() or rewriter.types.family(other) is not Family.TEXT:
        return 0
    known, own = text_value(other, rewriter), rewriter.types.source_type(other)
    if known is not None:
        longest = len(known)
    elif own is not None and own.name in _TEXTS and own.arguments and own.arguments[0].isdigit():
        longest = int(own.arguments[0])
    else:
        longest = int(size) + 1
    return int(size) if longest > int(size) else 0
