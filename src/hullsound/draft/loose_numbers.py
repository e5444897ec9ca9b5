"""What SQLite does with values of any type: remainders of whole numbers, division by zero, dates as the texts that they are.

Source: SQLite documentation, "SQL Language Expressions": % casts both operands to INTEGER; dividing by zero gives NULL.
"""

from functools import partial
from typing import Final

from hullsound.sql.tree import Call, Cast, Node, Operation

from .dividing import not_zero
from .implicit import compared
from .rewrite import CannotDraft, Point, Rewriter
from .value_texts import NOT_TEXT, add_text
from .values import kind_of

_NUMBERS: Final = ("integer", "number")
_MOMENTS: Final = ("date", "timestamp")


def add_loose_numbers(rewriter: Rewriter) -> None:
    """Add the points of arithmetic, joined texts, casts and compared moments."""
    for node in rewriter.subject.all(Operation):
        kinds = [kind_of(each, rewriter) for each in node.operands]
        if node.operators == ["%"] and all(kind in _NUMBERS for kind in kinds):
            rewriter.add(Point(node.first, node.last, partial(_remainder, node), rank=1))
        elif set(node.operators) <= {"/", "*", "+", "-"} and "/" in node.operators:
            for operator, divisor in zip(node.operators, node.operands[1:], strict=False):
                if operator == "/":
                    rewriter.wrap(divisor, partial(_divisor, divisor), rank=7)
        elif set(node.operators) == {"||"}:
            has_text = any(kind not in NOT_TEXT for kind in kinds)
            for operand, kind in zip(node.operands, kinds, strict=True):
                if kind in ("number", "boolean") or not has_text:
                    add_text(operand, rewriter)
    for cast in rewriter.subject.all(Cast):
        if kind_of(cast.value, rewriter) == "boolean" and kind_of(cast, rewriter) in _NUMBERS:
            rewriter.wrap(cast.value, partial(_as_number, cast.value), rank=7)
    for call in rewriter.subject.all(Call):
        if call.parts in (("MAX",), ("MIN",)) and [kind_of(each, rewriter) for each in call.arguments] == ["boolean"]:
            rewriter.wrap(call.arguments[0], partial(_as_number, call.arguments[0]), rank=7)
    for one, other in compared(rewriter):
        if {kind_of(one, rewriter), kind_of(other, rewriter)} == set(_MOMENTS):
            rewriter.add(Point(one.first, one.last, _refuse, rank=9))


def _remainder(node: Operation, rewriter: Rewriter) -> str:
    one, other = (
        rewriter.node(each) if kind_of(each, rewriter) == "integer" else f"CAST(trunc({rewriter.node(each)}) AS bigint)"
        for each in node.operands
    )
    return f"{one} % {not_zero(node.operands[1], other, rewriter)}"


def _divisor(node: Node, rewriter: Rewriter) -> str:
    return not_zero(node, rewriter.node(node), rewriter)


def _as_number(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS integer)"


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a date compared with a moment, which are compared as texts")
