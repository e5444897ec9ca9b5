"""Products of whole numbers: PostgreSQL multiplies in the wider of both types, other engines in one that holds the result.

Oracle multiplies numbers of 38 digits, MySQL and SQLite whole numbers of 64 bits (Oracle SQL Language Reference, "NUMBER Data
Type"; MySQL 8.4 Reference Manual, "Arithmetic Operators"; SQLite documentation, "Datatypes In SQLite"). Sums of two fit in each
type that drafts choose for them.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import choose_type, logical_type
from hullsound.sql.tree import Literal, Name, Node, Operation, Paren

_GREATEST: Final = {"smallint": 2**15 - 1, "integer": 2**31 - 1, "bigint": 2**63 - 1}
_SMALL_FACTOR: Final = 11
"""A constant below this brings few values of a column of 32 bits beyond its type."""


def add_products(rewriter: Rewriter) -> None:
    """Widen the first factor of each product that may not fit."""
    for node in rewriter.subject.all(Operation):
        if set(node.operators) == {"*"} and len(node.operands) == len(node.operators) + 1:
            kind = _needed(node, rewriter)
            if kind:
                rewriter.wrap(node.operands[0], partial(_widened, node.operands[0], kind), rank=4)


def _widened(node: Node, kind: str, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS {kind})"


def _needed(node: Operation, rewriter: Rewriter) -> str:
    """Return the type that holds a product; '' where that of its factors does, or nothing is known of one."""
    product, widest, is_small = 1, "smallint", False
    for factor in node.operands:
        known = _bounds(factor, rewriter)
        if known is None:
            return ""
        kind, greatest = known
        product *= max(greatest, 1)
        widest = max(widest, kind, key=lambda each: _GREATEST[each])
        is_small = is_small or (isinstance(factor, Literal) and greatest < _SMALL_FACTOR)
    if product <= _GREATEST[widest] or (is_small and rewriter.catalog.engine != "oracle"):
        return ""
    fitting = next((kind for kind, most in _GREATEST.items() if most >= product), "numeric")
    return fitting if rewriter.catalog.engine == "oracle" else "bigint" if widest != "bigint" else ""


def _bounds(node: Node, rewriter: Rewriter) -> tuple[str, int] | None:
    """Return the target's type of a factor and its greatest value; None for one that is no whole number of a known type."""
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Literal):
        text = rewriter.subject.source(node)
        if not text.isdigit():
            return None
        return ("integer" if int(text) <= _GREATEST["integer"] else "bigint"), int(text)
    source = rewriter.types.source_type(node) if isinstance(node, Name) else None
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target) if source is not None else None
    if source is None or choice is None or choice.text not in _GREATEST:
        return None
    logical = logical_type(rewriter.catalog.engine, source)
    digits = logical.precision if logical is not None and rewriter.catalog.engine == "oracle" else 0
    return choice.text, 10**digits - 1 if digits else _GREATEST[choice.text]
