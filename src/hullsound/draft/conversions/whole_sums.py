"""Sums of whole numbers of eight bytes, which PostgreSQL gives as decimals, so that a quotient of them would keep its fraction.

Sources: PostgreSQL 18, "Aggregate Functions" (the sum of bigint is numeric); Transact-SQL reference, "SUM"; SQLite documentation,
"Built-in Aggregate Functions"; Db2 11.5 SQL Reference, "SUM"; Teradata, "SQL Functions", "SUM".
"""

from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of, is_null
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Literal, Node, Operation, Paren

from .values import target_type

_SHORT: Final = ("integer", "smallint")
_FEW_DIGITS: Final = 9
"""Digits of a constant that four bytes hold."""


def add_whole_sums(rewriter: Rewriter) -> None:
    """Cast the sum of what may be whole numbers of eight bytes to one of these, which it is in the source."""
    for call in rewriter.subject.all(Call):
        if call.parts != ("SUM",) or len(call.arguments) != 1 or rewriter.types.family(call) is not Family.INTEGER:
            continue
        if _is_long(call.arguments[0], rewriter):
            rewriter.wrap(call, partial(_whole, call), rank=2)


def _is_long(node: Node, rewriter: Rewriter) -> bool:
    """Whether a whole number may have more than four bytes in the draft."""
    if isinstance(node, Paren):
        return _is_long(node.inner, rewriter)
    if isinstance(node, Literal):
        return len(rewriter.subject.source(node)) > _FEW_DIGITS and not is_null(node)
    parts = node.operands if isinstance(node, Operation) else choices_of(node, rewriter.catalog.engine)
    if parts:
        return any(_is_long(each, rewriter) for each in parts)
    return target_type(node, rewriter) not in _SHORT


def _whole(call: Call, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(call)} AS bigint)"
