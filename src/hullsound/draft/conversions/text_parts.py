"""Parts of texts by a place or length that only the run knows: Oracle counts from the end below 0, and has nothing below length 1.

Source: Oracle SQL Language Reference, "SUBSTR".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Literal, Loop, Name, Node, Operation, Paren

_COUNTS: Final = frozenset(("INSTR", "LENGTH", "LENGTHB", "INSTRB"))
"""Functions that give 0 or more, or NULL."""


def add_text_parts(rewriter: Rewriter) -> None:
    """Say for each SUBSTR what its place and length are where they may be below 1."""
    for call in rewriter.subject.all(Call):
        if call.parts != ("SUBSTR",) or len(call.arguments) < 2:
            continue
        text, start, *length = call.arguments
        for number in (start, *length):
            if isinstance(number, Literal) and not rewriter.subject.source(number).isdigit():  # fractions are cut off
                rewriter.wrap(number, partial(_cut_off, number), rank=0)
        if not _is_constant(start, rewriter):
            least = _least(start, rewriter)
            if least == 0:
                rewriter.wrap(start, partial(_from_one, start), rank=7)
            elif least < 0:
                rewriter.wrap(start, partial(_from_either_end, text, start), rank=7)
        if length and not _is_constant(length[0], rewriter) and _least(length[0], rewriter) < 1:
            rewriter.wrap(length[0], partial(_at_least_one, length[0]), rank=7)


def _is_constant(node: Node, rewriter: Rewriter) -> bool:
    """Whether a number is written there, with a sign or without; one that counts from the end has a construct of its own."""
    return rewriter.subject.source(node).replace(" ", "").lstrip("-").isdigit() and rewriter.subject.source(node) != "0"


def _least(node: Node, rewriter: Rewriter) -> int:
    """Return 0 or 1 where a number is at least that, else -1."""
    match node:
        case Paren():
            return _least(node.inner, rewriter)
        case Literal() if rewriter.words[node.first].isdecimal():
            return min(int(rewriter.words[node.first]), 1)
        case Call() if node.parts[-1] in _COUNTS:
            return 0
        case Name() if node.parts == ("LEVEL",) or node.parts == ("ROWNUM",) or _counts_up(node, rewriter):
            return 1
        case Operation() if set(node.operators) == {"+"}:
            each = [_least(operand, rewriter) for operand in node.operands]
            return -1 if min(each) < 0 else max(each)
    return -1


def _counts_up(name: Name, rewriter: Rewriter) -> bool:
    """Whether a variable is that of a loop from a constant of 1 or more on."""
    return any(
        loop.form == "range" and (loop.variable,) == name.parts and _least(loop.bounds[0], rewriter) == 1
        for loop in rewriter.subject.all(Loop)
    )


def _cut_off(node: Node, rewriter: Rewriter) -> str:
    return str(int(float(rewriter.node(node))))


def _from_one(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return f"CASE WHEN {text} = 0 THEN 1 ELSE {text} END"


def _from_either_end(whole: Node, node: Node, rewriter: Rewriter) -> str:
    text, length = rewriter.node(node), f"length({rewriter.elsewhere(whole)})"
    return (
        f"CASE WHEN {text} > 0 THEN {text} WHEN {text} = 0 THEN 1 "
        f"WHEN -({text}) <= {length} THEN {length} + {text} + 1 END"
    )


def _at_least_one(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return f"CASE WHEN {text} >= 1 THEN {text} END"
