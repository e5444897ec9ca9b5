"""Divisions of whole numbers, which give a fraction in Oracle and MySQL and none in PostgreSQL."""

from functools import partial

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.tree import Node, Operation

from .dividing import is_kept, not_zero


def add_fraction_points(rewriter: Rewriter) -> None:
    """Divide as decimals where only the catalogue, a record or a query shows that the numbers are whole."""
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators:
            before = node.operands[: node.operators.index("/") + 2]
            if not all(rewriter.types.can_be_whole(operand) for operand in before):
                continue
            if rewriter.catalog.engine == "oracle":
                rewriter.wrap(before[0], partial(_numeric, before[0]), rank=2)
            else:
                rewriter.add(Point(node.first, node.last, partial(fraction_of, node)))


def fraction_of(node: Operation, rewriter: Rewriter) -> str:
    """Divide as decimals; by zero it gives NULL, as in MySQL."""
    text = rewriter.node(node.operands[0])
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        right = rewriter.node(operand)
        if operator == "/":
            divisor = right if is_kept(node, rewriter) else not_zero(operand, right, rewriter)
            text = f"CAST({text} AS numeric) / {divisor}"
        else:
            text = f"{text} {operator} {right}"
    return text


def _numeric(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS numeric)"
