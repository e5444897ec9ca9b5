"""Operands of LIKE that are no texts, which PostgreSQL does not take: they become the text that the source makes of them."""

from hullsound.sql.tree import Comparison

from .rewrite import Rewriter
from .value_texts import add_text
from .values import kind_of


def add_like_operands(rewriter: Rewriter) -> None:
    """Make texts of the values beside LIKE. A moment of Oracle, which the session's mask writes, stays."""
    for comparison in rewriter.subject.all(Comparison):
        for operand in comparison.operands if comparison.operator == "LIKE" else ():
            kind = kind_of(operand, rewriter)
            if rewriter.catalog.engine != "oracle" or kind in ("integer", "number"):
                add_text(operand, rewriter, rank=5)
