"""What SQLite does with values of any type: remainders of whole numbers, division by zero, dates as the texts that they are.

Source: SQLite documentation, "SQL Language Expressions": % casts both operands to INTEGER; dividing by zero gives NULL.
"""

from functools import partial
from typing import Final, NoReturn

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation

from .dividing import not_zero
from .implicit import compared
from .value_texts import NOT_TEXT, add_text, text_of

_AGGREGATES: Final = frozenset((("MAX",), ("MIN",), ("SUM",), ("AVG",), ("TOTAL",)))
_COUNTING: Final = frozenset(("+", "-", "*", "/", "%"))
_ON_BITS: Final = frozenset(("&", "|", "<<", ">>", "~"))
"""Operators that take the whole part of a number."""


def add_loose_numbers(rewriter: Rewriter) -> None:
    """Add the points of arithmetic, joined texts, casts and compared moments."""
    for node in rewriter.subject.all(Operation):
        kinds = [rewriter.types.family(each) for each in node.operands]
        for operand, kind in zip(node.operands, kinds, strict=True) if set(node.operators) <= _COUNTING else ():
            if kind is Family.BOOLEAN and isinstance(operand, Name):
                rewriter.wrap(operand, partial(_as_number, operand), rank=7)
        if node.operators == ["%"] and all(kind in NUMBERS for kind in kinds):
            rewriter.add(Point(node.first, node.last, partial(_remainder, node), rank=1))
        elif set(node.operators) <= {"/", "*", "+", "-"} and "/" in node.operators:
            for operator, divisor in zip(node.operators, node.operands[1:], strict=False):
                if operator == "/":
                    rewriter.wrap(divisor, partial(_divisor, divisor), rank=7)
        elif set(node.operators) <= _ON_BITS:
            for operand, kind in zip(node.operands, kinds, strict=True):
                if kind is Family.NUMBER:
                    rewriter.wrap(operand, partial(_whole_part, operand), rank=7)
        elif set(node.operators) == {"||"}:
            has_text = any(kind not in NOT_TEXT for kind in kinds)
            for operand, kind in zip(node.operands, kinds, strict=True):
                if kind in (Family.NUMBER, Family.BOOLEAN) or not has_text:
                    add_text(operand, rewriter)
    for cast in rewriter.subject.all(Cast):
        if rewriter.types.family(cast.value) is Family.BOOLEAN and rewriter.types.family(cast) in NUMBERS:
            rewriter.wrap(cast.value, partial(_as_number, cast.value), rank=7)
    for call in rewriter.subject.all(Call):
        if call.parts in _AGGREGATES and [rewriter.types.family(each) for each in call.arguments] == [Family.BOOLEAN]:
            rewriter.wrap(call.arguments[0], partial(_as_number, call.arguments[0]), rank=7)
    for one, other in compared(rewriter):
        if {rewriter.types.family(one), rewriter.types.family(other)} == set(MOMENTS):
            rewriter.add(Point(one.first, one.last, _refuse, rank=9))


def add_places(rewriter: Rewriter) -> None:
    """Keep ROUND to fewer than no places, which SQLite rounds to none; numbers as texts have no idle zeros there."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("ROUND",) and len(call.arguments) == 2 and not isinstance(call.arguments[1], Literal):
            rewriter.wrap(call.arguments[1], partial(_places, call.arguments[1]), rank=7)
    for cast in rewriter.subject.all(Cast):
        is_text = rewriter.types.family_of(DataType(cast.type.name)) is Family.TEXT
        if is_text and rewriter.types.family(cast.value) is Family.NUMBER:
            write = partial(text_of, cast.value) if rewriter.target.engine == "postgresql" else _refuse_text
            rewriter.add(Point(cast.first, cast.last, write, rank=8))


def _places(digits: Node, rewriter: Rewriter) -> str:
    is_negative = isinstance(digits, Operation) and digits.operators == ["-"] and len(digits.operands) == 1
    if is_negative and isinstance(digits, Operation) and isinstance(digits.operands[0], Literal):
        return "0"
    text = rewriter.node(digits)
    return f"CASE WHEN {text} < 0 THEN 0 ELSE {text} END"


def _refuse_text(_: Rewriter) -> NoReturn:
    raise CannotDraft("a number with a fraction as a text, whose idle zeros differ")


def _whole_part(value: Node, rewriter: Rewriter) -> str:
    return f"CAST(trunc({rewriter.node(value)}) AS bigint)"


def _remainder(node: Operation, rewriter: Rewriter) -> str:
    one, other = (
        rewriter.node(each) if rewriter.types.family(each) is Family.INTEGER else _whole_part(each, rewriter)
        for each in node.operands
    )
    return f"{one} % {not_zero(node.operands[1], other, rewriter)}"


def _divisor(node: Node, rewriter: Rewriter) -> str:
    return not_zero(node, rewriter.node(node), rewriter)


def _as_number(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS integer)"


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a date compared with a moment, which are compared as texts")
