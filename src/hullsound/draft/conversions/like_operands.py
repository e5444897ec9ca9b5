"""Operands of LIKE and REGEXP: those that are no texts, which PostgreSQL does not take, and patterns in which nothing escapes."""

from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Comparison, Literal, Node

from .value_texts import add_text

_SEARCHED: Final = frozenset(("LIKE", "REGEXP", "RLIKE"))
_ESCAPING: Final = frozenset(("mysql", "mariadb", "postgresql"))
"""Engines in which a backslash escapes in LIKE that names no sign for it."""


def add_like_operands(rewriter: Rewriter) -> None:
    """Make texts of the values beside LIKE and REGEXP. A moment of Oracle, which the session's mask writes, stays."""
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator == "LIKE":
            _add_escape(comparison, rewriter)
        for operand in comparison.operands if comparison.operator in _SEARCHED else ():
            kind = rewriter.types.family(operand)
            if rewriter.catalog.engine != "oracle" or kind in NUMBERS:
                add_text(operand, rewriter, rank=5)


def _add_escape(comparison: Comparison, rewriter: Rewriter) -> None:
    """Say that no sign escapes, where the source has none and a pattern may hold a backslash."""
    if rewriter.catalog.engine in _ESCAPING or len(comparison.operands) != 2:
        return
    pattern = comparison.operands[1]
    if comparison.last == pattern.last and not (
        isinstance(pattern, Literal) and "\\" not in rewriter.subject.source(pattern)
    ):
        rewriter.wrap(pattern, partial(_without_escape, pattern), rank=9)


def _without_escape(pattern: Node, rewriter: Rewriter) -> str:
    return f"{rewriter.node(pattern)} ESCAPE ''"
