"""Numbers beside texts in comparisons of SQLite, which its type affinity decides and the declared type of other engines does.

A column, a CAST and nothing else has an affinity. Beside a numeric one a text is read as a number if it looks like one; beside
that of texts a number becomes a text; where neither has one, a number and a text are never equal and the number is the lesser.
Source: SQLite documentation, "Datatypes In SQLite", sections "Determination Of Column Affinity" and "Comparison Expressions".
"""

import re
from collections.abc import Iterator
from functools import partial
from typing import Final, NamedTuple

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.catalog.definitions import data_type
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Case, Cast, Comparison, Literal, Name, Node, Operation, Paren, Row

from .implicit import COMPARED, selected

_LOOKS_LIKE_A_NUMBER: Final = re.compile(r"\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*", re.IGNORECASE)
_PLAIN_NUMBER: Final = re.compile(r"0|[1-9]\d*")
_WITHOUT_AFFINITY: Final = frozenset(("NULLIF", "MAX", "MIN"))
"""Functions that compare their arguments as they are."""


class _Operand(NamedTuple):
    """A value that is compared, and whether its affinity counts there."""

    node: Node
    counts: bool = True


def add_affinity(rewriter: Rewriter) -> None:
    """Refuse the comparisons of numbers and texts that other engines decide in another way, and write constants as texts."""
    for one, other in _compared(rewriter):
        kinds = rewriter.types.family(one.node), rewriter.types.family(other.node)
        if kinds[0] in NUMBERS and kinds[1] is Family.TEXT:
            _add_pair(one, other, rewriter)
        elif kinds[1] in NUMBERS and kinds[0] is Family.TEXT:
            _add_pair(other, one, rewriter)
        elif any(kind in MOMENTS for kind in kinds) and any(kind in NUMBERS for kind in kinds):
            _refuse(one.node, "a moment compared with a number, which SQLite does not read as a moment", rewriter)
        elif set(kinds) == {Family.BOOLEAN, Family.TEXT}:
            truth, text = (one, other) if kinds[0] is Family.BOOLEAN else (other, one)
            if _affinity(truth, rewriter) is None:
                _add_pair(truth, text, rewriter)


def _add_pair(number: _Operand, text: _Operand, rewriter: Rewriter) -> None:
    constant = text_value(text.node, rewriter) if isinstance(text.node, Literal) else None
    affinities = _affinity(number, rewriter), _affinity(text, rewriter)
    if affinities[0] in NUMBERS:
        if constant is None:
            message = "a column of numbers compared with texts, of which SQLite reads those that look like numbers"
            _refuse(text.node, message, rewriter)
        elif _LOOKS_LIKE_A_NUMBER.fullmatch(constant) is None:
            _refuse(text.node, "a column of numbers compared with a text that is none", rewriter)
    elif affinities[1] is not Family.TEXT:
        _refuse(text.node, "a number compared with a text, which SQLite never finds equal", rewriter)
    elif rewriter.target.engine != "postgresql":
        if _PLAIN_NUMBER.fullmatch(rewriter.subject.source(number.node)) is None:
            _refuse(number.node, "a number compared with texts, as a text", rewriter)
        rewriter.wrap(number.node, lambda r: f"'{r.node(number.node)}'", rank=5)


def _refuse(node: Node, message: str, rewriter: Rewriter) -> None:
    rewriter.wrap(node, partial(_raise, message), rank=7)


def _raise(message: str, _rewriter: Rewriter) -> str:
    raise CannotDraft(message)


def _compared(rewriter: Rewriter) -> Iterator[tuple[_Operand, _Operand]]:
    """Yield the pairs of values that are compared."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in COMPARED:
            yield _Operand(_inner(node.operands[0])), _Operand(_inner(node.operands[1]))
    for test in rewriter.subject.all(Comparison):
        if test.operator in ("IN", "BETWEEN", "IS") and len(test.operands) > 1:
            first, *others = test.operands
            for other in others:
                if isinstance(other, Row):
                    yield from ((_Operand(_inner(first)), _Operand(each, counts=False)) for each in other.items)
                else:
                    yield _Operand(_inner(first)), _Operand(_inner(other), counts=not _is_listed(other, test))
    for case in rewriter.subject.all(Case):
        if case.subject is not None:
            yield from ((_Operand(_inner(case.subject)), _Operand(_inner(value))) for value, _ in case.branches)
    for call in rewriter.subject.all(Call):
        if call.parts[-1] in _WITHOUT_AFFINITY and len(call.arguments) > 1:
            left, *rest = (_Operand(each, counts=False) for each in call.arguments)
            yield from ((left, other) for other in rest)


def _is_listed(node: Node, test: Comparison) -> bool:
    """Whether a value in brackets behind IN is the only one of its list."""
    return test.operator == "IN" and isinstance(node, Paren)


def _inner(node: Node) -> Node:
    """Return what stands in brackets, and the value that a subquery gives."""
    inner = selected(node)
    if inner is not None:
        return inner
    return _inner(node.inner) if isinstance(node, Paren) else node


def _affinity(operand: _Operand, rewriter: Rewriter) -> Family | None:
    """Return the family of a column's or a CAST's type, as far as it converts what stands beside it; None for other values."""
    node = operand.node
    while isinstance(node, Operation) and node.operators == ["COLLATE"]:
        node = node.operands[0]
    if not operand.counts:
        return None
    if isinstance(node, Cast):
        return rewriter.types.family_of(data_type(node.type))
    if isinstance(node, Name) and rewriter.types.columns.column(node) is not None:
        return rewriter.types.family(node)
    return None
