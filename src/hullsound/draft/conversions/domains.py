"""Functions of numbers outside of their domain, for which MySQL, MariaDB and SQLite give NULL and other engines an error.

Sources: MySQL 8.4 Reference Manual, "Mathematical Functions"; SQLite documentation, "Built-In Mathematical SQL Functions".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Case, Comparison, Literal, Node, Operation

_DOMAINS: Final = {
    "SQRT": "{0} >= 0", "LN": "{0} > 0", "LOG": "{0} > 0", "LOG2": "{0} > 0", "LOG10": "{0} > 0",
    "ACOS": "{0} BETWEEN -1 AND 1", "ASIN": "{0} BETWEEN -1 AND 1",
}  # fmt: skip
_ABOVE_ZERO: Final = frozenset(("LN", "LOG", "LOG2", "LOG10", "SQRT"))
_RANK: Final = 7


def add_domains(rewriter: Rewriter) -> None:
    """Let values outside of a function's domain give NULL."""
    for call in rewriter.subject.all(Call):
        if call.parts[0] not in _DOMAINS or len(call.parts) > 1:
            continue
        for value in call.arguments:
            if not (call.parts[0] in _ABOVE_ZERO and _is_above_zero(value, rewriter)):
                rewriter.wrap(value, partial(_inside, value, _DOMAINS[call.parts[0]]), rank=_RANK)


def _is_above_zero(value: Node, rewriter: Rewriter) -> bool:
    return isinstance(value, Literal) and bool(rewriter.subject.source(value).strip("0."))


def _inside(value: Node, domain: str, rewriter: Rewriter) -> str:
    text = rewriter.node(value)
    tested = f"({text})" if isinstance(value, Operation | Comparison | Case) else text
    return f"CASE WHEN {domain.format(tested)} THEN {text} END"
