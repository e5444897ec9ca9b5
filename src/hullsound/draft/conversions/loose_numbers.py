"""What SQLite does with values of any type: remainders of whole numbers, division by zero, dates as the texts that they are.

Source: SQLite documentation, "SQL Language Expressions": % casts both operands to INTEGER; dividing by zero gives NULL.
"""

from functools import partial

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Cast, Node, Operation

from .dividing import not_zero
from .implicit import compared
from .value_texts import NOT_TEXT, add_text


def add_loose_numbers(rewriter: Rewriter) -> None:
    """Add the points of arithmetic, joined texts, casts and compared moments."""
    for node in rewriter.subject.all(Operation):
        kinds = [rewriter.types.family(each) for each in node.operands]
        if node.operators == ["%"] and all(kind in NUMBERS for kind in kinds):
            rewriter.add(Point(node.first, node.last, partial(_remainder, node), rank=1))
        elif set(node.operators) <= {"/", "*", "+", "-"} and "/" in node.operators:
            for operator, divisor in zip(node.operators, node.operands[1:], strict=False):
                if operator == "/":
                    rewriter.wrap(divisor, partial(_divisor, divisor), rank=7)
        elif set(node.operators) == {"||"}:
            has_text = any(kind not in NOT_TEXT for kind in kinds)
            for operand, kind in zip(node.operands, kinds, strict=True):
                if kind in (Family.NUMBER, Family.BOOLEAN) or not has_text:
                    add_text(operand, rewriter)
    for cast in rewriter.subject.all(Cast):
        if rewriter.types.family(cast.value) is Family.BOOLEAN and rewriter.types.family(cast) in NUMBERS:
            rewriter.wrap(cast.value, partial(_as_number, cast.value), rank=7)
    for call in rewriter.subject.all(Call):
        if call.parts in (("MAX",), ("MIN",)) and [rewriter.types.family(each) for each in call.arguments] == [
            Family.BOOLEAN
        ]:
            rewriter.wrap(call.arguments[0], partial(_as_number, call.arguments[0]), rank=7)
    for one, other in compared(rewriter):
        if {rewriter.types.family(one), rewriter.types.family(other)} == set(MOMENTS):
            rewriter.add(Point(one.first, one.last, _refuse, rank=9))


def _remainder(node: Operation, rewriter: Rewriter) -> str:
    one, other = (
        rewriter.node(each)
        if rewriter.types.family(each) is Family.INTEGER
        else f"CAST(trunc({rewriter.node(each)}) AS bigint)"
        for each in node.operands
    )
    return f"{one} % {not_zero(node.operands[1], other, rewriter)}"


def _divisor(node: Node, rewriter: Rewriter) -> str:
    return not_zero(node, rewriter.node(node), rewriter)


def _as_number(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS integer)"


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a date compared with a moment, which are compared as texts")
