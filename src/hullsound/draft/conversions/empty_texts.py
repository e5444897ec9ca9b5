"""Empty texts of Oracle, which are NULL there: where a function gives one and something later tells the two apart.

Source: Oracle SQL Language Reference, "Nulls" and "REPLACE".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    Comparison,
    Insert,
    Literal,
    Node,
    Operation,
    Paren,
    Return,
    Select,
    Update,
)

_CUTTING: Final = frozenset(("TRIM", "LTRIM", "RTRIM", "REPLACE", "TRANSLATE", "REGEXP_REPLACE"))
"""Functions that may leave nothing of a text."""
_FILLING: Final = frozenset(("LPAD", "RPAD"))
_TELLING: Final = frozenset(("NVL", "NVL2", "COALESCE", "DECODE", "NULLIF", "LENGTH"))
"""Functions in which NULL and an empty text differ."""
_APART: Final = frozenset(("<>", "!=", "^=", "~="))


def add_empty_texts(rewriter: Rewriter) -> None:
    """Make NULL of what may be an empty text; take NULL for an empty text in REPLACE."""
    for node in _told_apart(rewriter):
        bare = node
        while isinstance(bare, Paren):
            bare = bare.inner
        if may_be_empty(bare, rewriter):
            rewriter.wrap(bare, partial(_null_if_empty, bare), rank=8)
    for call in rewriter.subject.all(Call):
        if call.parts == ("REPLACE",):
            for argument in call.arguments[1:]:
                if not rewriter.types.is_never_null(argument):
                    rewriter.wrap(argument, partial(_empty_if_null, argument), rank=8)


def may_be_empty(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value may be an empty text though what it is made of is none."""
    if isinstance(node, Operation):
        return set(node.operators) == {"||"} and not any(
            rewriter.types.is_never_null(each) and rewriter.subject.source(each) != "''" for each in node.operands
        )
    if not isinstance(node, Call) or len(node.parts) > 1:
        return False
    if node.parts[0] == "SUBSTR" and len(node.arguments) > 1:
        start, *length = (rewriter.subject.source(each) for each in node.arguments[1:])
        return start != "1" or (bool(length) and not length[0].isdigit())
    if node.parts[0] in _FILLING and len(node.arguments) > 1:
        width = rewriter.subject.source(node.arguments[1])
        return not width.isdigit() or width == "0"
    return node.parts[0] in _CUTTING


def _told_apart(rewriter: Rewriter) -> Iterator[Node]:
    """Yield the values of which something tells whether they are NULL, and those that are kept."""
    subject = rewriter.subject
    for test in subject.all(Comparison):
        if test.operator.startswith("IS") or test.negated:
            yield test.operands[0]
    for operation in subject.all(Operation):
        if set(operation.operators) & _APART:
            yield from operation.operands
    for call in subject.all(Call):
        if call.parts[-1] in _TELLING and len(call.parts) == 1:
            yield from call.arguments
    for case in subject.all(Case):
        if case.subject is not None:
            yield case.subject
    for assign in subject.all(Assign):
        yield assign.value
    for given in subject.all(Return):
        if given.value is not None:
            yield given.value
    for update in subject.all(Update):
        yield from (value for _, value in update.assignments)
    for insert in subject.all(Insert):
        for block in insert.query.blocks if insert.query is not None else ():
            yield from (item.value for item in block.items) if isinstance(block, Select) else ()


def _null_if_empty(node: Node, rewriter: Rewriter) -> str:
    return f"NULLIF({rewriter.node(node)}, '')"


def _empty_if_null(node: Node, rewriter: Rewriter) -> str:
    if isinstance(node, Literal):
        return "''"
    return f"COALESCE({rewriter.node(node)}, '')"
