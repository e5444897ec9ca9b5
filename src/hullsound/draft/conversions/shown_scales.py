"""Digits behind the point that a decimal has as a text: those of its type in the source, of its value in the target.

Sources: Transact-SQL reference, "CAST and CONVERT", "ROUND" and "COALESCE" (the type of a choice); MySQL 8.4 Reference Manual,
"Flow Control Functions" and "ROUND(X,D)"; PostgreSQL 18, "Arbitrary Precision Numbers" (a value keeps its digits).
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Case, Cast, Literal, Name, Node, Operation, Paren

from .decimal_digits import digits_of
from .scales import scale_of

_MYSQL: Final = ("mysql", "mariadb")
_KEPT: Final = frozenset((("MAX",), ("MIN",), ("SUM",), ("ABS",)))
"""Functions whose value has the digits of their argument in every engine."""
_JOINING: Final = (("CONCAT",), ("CONCAT_WS",))
_MOST_OF_MYSQL: Final = 30


def add_shown_scales(rewriter: Rewriter) -> None:
    """Round decimals that become texts to the digits that the source shows, where the target would show others."""
    for value in _shown(rewriter):
        scale = _of_source(value, rewriter)
        if 0 <= scale != _of_target(value, rewriter):
            rewriter.wrap(value, partial(_with_scale, value, scale), rank=2)


def _shown(rewriter: Rewriter) -> Iterator[Node]:
    """Yield numbers that become texts."""
    family = rewriter.types.family
    for cast in rewriter.subject.all(Cast):
        if family(cast) is Family.TEXT and family(cast.value) is Family.NUMBER:
            yield cast.value
    for call in rewriter.subject.all(Call):
        if call.parts in _JOINING:
            yield from (each for each in call.arguments if family(each) is Family.NUMBER)


def _of_source(node: Node, rewriter: Rewriter) -> int:
    """Return the digits that the source shows; -1 where they are not known, or have two of money."""
    if rewriter.catalog.engine in _MYSQL:
        return scale_of(node, rewriter)
    digits = digits_of(node, rewriter)
    return digits.scale if digits is not None and digits.kind == "decimal" else -1


def _of_target(node: Node, rewriter: Rewriter) -> int:
    """Return the digits that the draft has by itself; -1 where they depend on the value, or on what wrote it."""
    match node:
        case Paren():
            return _of_target(node.inner, rewriter)
        case Name() | Cast() | Literal():
            return _of_source(node, rewriter)
        case Operation() if "/" in node.operators or "%" in node.operators:
            return _of_source(node, rewriter)  # which is cut to them
        case Operation():
            is_known = all(_of_whole_or_target(each, rewriter) >= 0 for each in node.operands)
            return _of_source(node, rewriter) if is_known else -1
        case Call() if node.parts in _KEPT and len(node.arguments) == 1:
            return _of_target(node.arguments[0], rewriter)
        case Call() if node.parts == ("ROUND",):
            digits = rewriter.subject.source(node.arguments[1]) if len(node.arguments) > 1 else "0"
            return int(digits) if digits.isdigit() else -1
        case Call() | Case():
            values = choices_of(node, rewriter.catalog.engine)
            scales = {_of_whole_or_target(each, rewriter) for each in values}
            if rewriter.target.engine in _MYSQL:
                return max(scales) if scales and min(scales) >= 0 else _of_source(node, rewriter)
            return scales.pop() if len(scales) == 1 else _of_source(node, rewriter) if not values else -1
    return -1


def _of_whole_or_target(node: Node, rewriter: Rewriter) -> int:
    return 0 if rewriter.types.family(node) is Family.INTEGER else _of_target(node, rewriter)


def _with_scale(node: Node, scale: int, rewriter: Rewriter) -> str:
    if rewriter.target.engine in _MYSQL:
        return f"CAST({rewriter.node(node)} AS DECIMAL(65, {min(scale, _MOST_OF_MYSQL)}))"
    return f"round({rewriter.node(node)}, {scale})"
