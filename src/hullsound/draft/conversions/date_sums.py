"""A date moved by years, months or days stays a date, of which PostgreSQL makes a timestamp.

Db2 11.5 SQL Reference, "Datetime operations and durations"; Teradata "SQL Date and Time Functions and Expressions", "Arithmetic
operators and result types"; PostgreSQL 18, "Date/Time Functions and Operators".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Comparison, Node, Operation, Paren, TypedLiteral

_LONG_UNITS: Final = ("YEAR", "MONTH", "WEEK", "DAY")
_COMPARING: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))


def add_date_sums(rewriter: Rewriter) -> None:
    """Cast what a date and spans of days or longer give, where it is more than compared or moved again."""
    for node in rewriter.subject.all(Operation):
        is_sum = set(node.operators) <= {"+", "-"} and len(node.operands) > 1 and any(map(_is_span, node.operands))
        if is_sum and rewriter.types.family(node) is Family.DATE and not _is_used_up(node, rewriter):
            rewriter.wrap(node, partial(_as_date, node), rank=3)


def _as_date(node: Operation, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS date)"


def _is_span(node: Node) -> bool:
    if isinstance(node, TypedLiteral):
        return node.form == "INTERVAL"
    return isinstance(node, Operation) and len(node.operators) == 1 and node.operators[0].startswith(_LONG_UNITS)


def _is_used_up(node: Operation, rewriter: Rewriter) -> bool:
    """Whether a comparison or another sum takes a value, which give the same of a timestamp at midnight."""
    parent = rewriter.subject.read.parent(node)
    while isinstance(parent, Paren):
        parent = rewriter.subject.read.parent(parent)
    if isinstance(parent, Operation):
        return bool(_COMPARING & set(parent.operators)) or any(map(_is_span, parent.operands))
    return isinstance(parent, Comparison)
