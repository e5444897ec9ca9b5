"""Moments as texts and numbers by a mask of letters, for every target.

Source for PostgreSQL: documentation of version 18, "Data Type Formatting Functions".
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Node

from .reading import read_letters
from .writing import write_moment

_AS_NUMBER: Final = {
    Family.DATE: "YYYYMMDD", Family.TIME: "HH24MISS", Family.TIMESTAMP: "YYYYMMDDHH24MISS",
}  # fmt: skip


def by_letters(value: Node, mask: str, rewriter: Rewriter) -> str:
    """Write a moment as text by a mask of letters. Raises CannotDraft where the target cannot."""
    if rewriter.target.engine != "postgresql":
        return write_moment(value, read_letters(mask, "oracle"), rewriter)
    text = rewriter.node(value)
    if rewriter.types.family(value) is Family.TIME:
        text = f"CAST('2000-01-01' AS date) + {text}"
    return f"to_char({text}, {literal(mask.replace('FF6', 'US'))})"


def moment_as_number(value: Node, *, has_fraction: bool, rewriter: Rewriter) -> str:
    """Write a date, time or timestamp as the number of its digits. Raises CannotDraft for another value."""
    family = rewriter.types.family(value)
    mask = _AS_NUMBER.get(family)
    if mask is None:
        raise CannotDraft("a value as number that is no moment")
    if has_fraction and family is Family.TIMESTAMP:
        kind = {"postgresql": "numeric", "oracle": "number"}.get(rewriter.target.engine, "decimal")
        return f"CAST({by_letters(value, f'{mask}.FF6', rewriter)} AS {kind}(20, 6))"
    kind = {"postgresql": "bigint", "sqlserver": "bigint", "oracle": "number(14)"}.get(rewriter.target.engine, "SIGNED")
    return f"CAST({by_letters(value, mask, rewriter)} AS {kind})"
