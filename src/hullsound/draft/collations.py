"""COLLATE in expressions: exact comparison by the collation "C", comparison without case by lower()."""

import re
from functools import partial
from typing import Final

from hullsound.sql.tree import Comparison, Operation

from .rewrite import Point, Rewriter

_EXACT: Final = re.compile(r"_(BIN2?|CS|CS_AS|AS_CS)(_|$)|^BINARY$|_CS_")
_LOOSE: Final = re.compile(r"_CI(_|$)")
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "LIKE", "IN"))


def add_collation_points(rewriter: Rewriter) -> None:
    """Add the points of COLLATE in expressions. Names of collations are the source's own; their endings tell the rule."""
    for node in rewriter.subject.all(Operation):
        if node.operators != ["COLLATE"]:
            continue
        name = rewriter.words[node.last - 1].strip("'\"`[]").upper()
        exact = bool(_EXACT.search(name))
        rewriter.add(Point(node.first, node.last, partial(_collated, node, exact)))
        if _LOOSE.search(name):
            _lower_around(node, rewriter)


def _collated(node: Operation, exact: bool, rewriter: Rewriter) -> str:
    return rewriter.node(node.operands[0]) + (' COLLATE "C"' if exact else "")


def _lower_around(node: Operation, rewriter: Rewriter) -> None:
    """Put both sides of the comparison that a collation without case stands in into lower()."""
    around: list[Operation | Comparison] = [
        *(o for o in rewriter.subject.all(Operation) if set(o.operators) & _COMPARED),
        *(c for c in rewriter.subject.all(Comparison) if c.operator in _COMPARED),
    ]
    for comparison in around:
        if node in comparison.operands:
            for operand in comparison.operands:
                rewriter.wrap(operand, lambda r, operand=operand: f"lower({r.node(operand)})", rank=6)  # type: ignore[misc]
