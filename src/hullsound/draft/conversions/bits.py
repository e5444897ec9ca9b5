"""Bits of the T-SQL family that are counted with: booleans in the draft, which PostgreSQL does not take for numbers.

Source: Transact-SQL reference, "bit" and "Data type precedence".
"""

from collections.abc import Iterator
from functools import partial
from itertools import pairwise
from typing import Final

from hullsound.analyze.choices import compared_choices
from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Case, Cast, Comparison, Name, Node, Operation

_COUNTING: Final = frozenset(("+", "-", "*", "/", "%", "&", "|", "^"))
_OF_NUMBERS: Final = frozenset(
    ("SIGN", "ABS", "POWER", "SQUARE", "SQRT", "STR", "ROUND", "FLOOR", "CEILING", "AVG", "SUM")
)
_CHOOSING: Final = frozenset(("COALESCE", "ISNULL", "NULLIF"))


def add_bit_numbers(rewriter: Rewriter, kept_as_bits: set[Node]) -> None:
    """Cast to a whole number each bit that stands among numbers; the nodes of `kept_as_bits` become truth values."""
    for operation in rewriter.subject.all(Operation):
        for before, after in pairwise(operation.operands) if "^" in operation.operators else ():
            for at in range(before.last, after.first):
                if rewriter.words[at] == "^":  # the exclusive or, which is a power elsewhere
                    rewriter.replace(at, at + 1, "#")
    for bit in _counted(rewriter, kept_as_bits):
        if isinstance(bit, Name) and rewriter.types.family(bit) is Family.BOOLEAN:
            rewriter.wrap(bit, partial(_as_number, bit), rank=4)


def _counted(rewriter: Rewriter, kept_as_bits: set[Node]) -> Iterator[Node]:
    subject = rewriter.subject
    for operation in subject.all(Operation):
        if set(operation.operators) <= _COUNTING:
            yield from operation.operands
    for comparison in subject.all(Comparison):
        if comparison.operator == "BETWEEN":
            yield from comparison.operands
        elif comparison.operator == "IN":
            yield comparison.operands[0]
    for call in subject.all(Call):
        name = call.parts[-1]
        if name in _OF_NUMBERS:
            yield from call.arguments[:1]
        elif (
            name in _CHOOSING and rewriter.types.family(call.arguments[0]) is not Family.BOOLEAN
        ):  # else all becomes a bit
            yield from _among_numbers(call.arguments, rewriter)
        elif name == "IIF" and call not in kept_as_bits:
            yield from _among_numbers(call.arguments[1:], rewriter)
    for cast in subject.all(Cast):
        if rewriter.types.family(cast) in NUMBERS:
            yield cast.value
    for _, chooser, tests in compared_choices(subject.read):
        yield from _among_numbers([chooser, *tests], rewriter)
    for case in subject.all(Case):
        if case not in kept_as_bits:
            yield from _among_numbers([r for _, r in case.branches] + [case.otherwise or case], rewriter)


def _among_numbers(values: list[Node], rewriter: Rewriter) -> Iterator[Node]:
    """Yield the values among which there is a number."""
    if any(rewriter.types.family(value) in NUMBERS for value in values):
        yield from values


def _as_number(bit: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(bit)} AS integer)"
