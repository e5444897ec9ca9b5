"""Divisions of whole numbers, which give a fraction in Oracle and MySQL and none in PostgreSQL."""

from functools import partial

from hullsound.sql.tree import Node, Operation

from .rewrite import Rewriter
from .values import kind_of


def add_fraction_points(rewriter: Rewriter) -> None:
    """Make the first number numeric where only the catalogue, a record or a query shows that all of them are whole."""
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators:
            before = node.operands[: node.operators.index("/") + 2]
            if all(kind_of(operand, rewriter) == "integer" for operand in before):
                rewriter.wrap(before[0], partial(_numeric, before[0]), rank=2)


def _numeric(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS numeric)"
