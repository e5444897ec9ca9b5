"""Remainders of SQLite, which takes the whole parts of both numbers.

Source: SQLite documentation, "SQL Language Expressions", operator %.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.tree import Node, Operation

_NUMBERS: Final = (Family.INTEGER, Family.NUMBER)
_WHOLE: Final = {"sqlserver": "CAST({} AS bigint)", "oracle": "TRUNC({})"}


def add_whole_remainders(rewriter: Rewriter) -> None:
    """Write a % b for a target other than PostgreSQL."""
    for node in rewriter.subject.all(Operation):
        if node.operators == ["%"] and all(rewriter.types.family(each) in _NUMBERS for each in node.operands):
            rewriter.add(Point(node.first, node.last, partial(_remainder, node), rank=1))


def _remainder(node: Operation, rewriter: Rewriter) -> str:
    one, other = (_whole(each, rewriter) for each in node.operands)
    return f"MOD({one}, {other})" if rewriter.target.engine == "oracle" else f"{one} % {other}"


def _whole(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    if rewriter.types.family(node) is Family.INTEGER:
        return text
    return _WHOLE.get(rewriter.target.engine, "TRUNCATE({}, 0)").format(text)
