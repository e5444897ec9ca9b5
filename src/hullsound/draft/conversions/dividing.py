"""Divisors: where zero gives NULL, and where it is an error."""

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Assign, Literal, Node, Query, Return


def is_kept(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is kept by code or in a table, where dividing by zero is an error as it is in PostgreSQL."""
    subject = rewriter.subject
    around = [each for kind in (Assign, Return, Query) for each in subject.all(kind)
              if each.first <= node.first and node.last <= each.last]  # fmt: skip
    innermost = min(around, key=lambda each: each.last - each.first, default=None)
    return isinstance(innermost, Assign | Return)


def not_zero(node: Node, text: str, rewriter: Rewriter) -> str:
    """Write a divisor that is NULL where it would be zero, unless it is a constant other than that."""
    constant = isinstance(node, Literal) and rewriter.subject.source(node).strip("0.") != ""
    return text if constant else f"NULLIF({text}, 0)"
