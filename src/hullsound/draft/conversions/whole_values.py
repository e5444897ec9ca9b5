"""Quotients of numbers that SQLite keeps as whole ones where their values are whole, and then divides as such.

Source: SQLite documentation, "Datatypes In SQLite", "Type Affinity": a column of NUMERIC affinity, such as DECIMAL(9,2), keeps
20.00 as the integer 20, and "SQL Language Expressions", whose / of two integers is an integer.
"""

from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation

_CONSTRUCT: Final = "convert.whole-values"
_KEEPING: Final = frozenset(("SUM", "MIN", "MAX", "COUNT", "ABS", "COALESCE", "IFNULL", "NULLIF"))
"""Functions that give a whole number for whole numbers."""
_EXACT: Final = ("decimal", "decimal-free", "decimal-whole", "money")


def add_whole_values(rewriter: Rewriter) -> None:
    """Note each division in which the values say whether its quotient is whole."""
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators and _is_open(node, rewriter):
            rewriter.rendered.append((_CONSTRUCT, node.first))


def _is_open(node: Operation, rewriter: Rewriter) -> bool:
    """Whether decimal columns are divided, and nothing beside them makes a float of the quotient."""
    read = rewriter.subject.read
    constants = [rewriter.subject.source(each) for each in read.inside(Literal, node.first, node.last)]
    calls = {each.parts[-1] for each in read.inside(Call, node.first, node.last)}
    if any("." in text or "e" in text.lower() for text in constants) or read.inside(Cast, node.first, node.last):
        return False
    kinds = [_kind(each, rewriter) for each in read.inside(Name, node.first, node.last)]
    return calls <= _KEEPING and any(kind in _EXACT for kind in kinds) and "float" not in kinds


def _kind(name: Node, rewriter: Rewriter) -> str:
    kind = rewriter.types.source_type(name)
    logical = logical_type("sqlite", kind) if kind is not None else None
    return logical.kind if logical is not None else ""
