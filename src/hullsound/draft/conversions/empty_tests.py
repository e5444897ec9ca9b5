"""Tests of texts that may be empty, for Oracle, which keeps NULL in the place of an empty text.

Source: Oracle Database 19c, SQL Language Reference, "Nulls": a character value with a length of zero is NULL. CHR(0), which
texts hardly ever are, stands for an empty text where the source compares it with other texts.
"""

from functools import partial
from typing import Final

from hullsound.analyze.choices import compared_choices
from hullsound.analyze.types import MOMENTS, NUMBERS
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    Comparison,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Row,
    SelectItem,
    Variable,
)

_WITHOUT_EMPTY: Final = ("oracle", "ase")
"""Sources that keep NULL or a blank in the place of an empty text."""
_EMPTINESS: Final = {
    "=": "IS NULL", "<=": "IS NULL", "<>": "IS NOT NULL", "!=": "IS NOT NULL", ">": "IS NOT NULL",
}  # fmt: skip
"""What the comparison of a value with an empty text asks; no text sorts before it."""
_TURNED: Final = {"<": ">", ">": "<", "<=": ">=", ">=": "<="}
_COMPARING: Final = frozenset((*_EMPTINESS, "<", ">="))
_FILLING: Final = frozenset(("ISNULL", "IFNULL", "COALESCE", "NVL"))
_SHORTENING: Final = frozenset(("LTRIM", "RTRIM", "TRIM", "UPPER", "LOWER", "UCASE", "LCASE"))
_RANK: Final = 7
"""Outside of what folds cases and takes blanks off."""


def add_empty_tests(rewriter: Rewriter) -> None:
    """Write comparisons with empty texts as tests for NULL, and keep tests of what may be empty from being unknown."""
    if rewriter.target.engine != "oracle" or rewriter.catalog.engine in _WITHOUT_EMPTY:
        return
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in _COMPARING:
            _add_compared(node, rewriter)
    for test in rewriter.subject.all(Comparison):
        _add_test(test, rewriter)
    for choice, _, tests in compared_choices(rewriter.subject.read):
        if any(_is_empty(value, rewriter) for value in tests):
            rewriter.add(Point(choice.first, choice.last, _refuse_choice))


def _add_compared(node: Operation, rewriter: Rewriter) -> None:
    sign = node.operators[0]
    if any(rewriter.types.family(each) in NUMBERS | MOMENTS for each in node.operands):
        return  # where an empty text is a number or a moment
    for place, (value, other) in enumerate((node.operands, node.operands[::-1])):
        if _is_empty(other, rewriter):
            asked = _EMPTINESS.get(_TURNED.get(sign, sign) if place else sign)
            rewriter.add(Point(node.first, node.last, partial(_tested, value, asked), "draft.query", rank=1))
            return
    for value in node.operands:
        _keep_known(value, rewriter)


def _add_test(test: Comparison, rewriter: Rewriter) -> None:
    value, others = test.operands[0], test.operands[1:]
    listed = others[0].items if others and isinstance(others[0], Row) else others
    has_empty = any(_is_empty(each, rewriter) for each in listed)
    if test.operator == "IN" and has_empty:
        rest = [each for each in listed if not _is_empty(each, rewriter)]
        rewriter.wrap(test, partial(_among, test, rest), rank=_RANK)
    elif has_empty and test.operator in ("LIKE", "BETWEEN"):
        rewriter.wrap(test, _refuse_test, rank=_RANK)
    elif test.operator in ("IN", "BETWEEN"):
        _keep_known(value, rewriter)
    elif test.operator == "LIKE" and test.negated and may_be_filled(value, rewriter):
        rewriter.wrap(test, partial(_unlike, test), rank=_RANK)


def _keep_known(value: Node, rewriter: Rewriter) -> None:
    """Let a value that is empty rather than NULL in the source be compared as such."""
    if may_be_filled(value, rewriter):
        rewriter.wrap(value, partial(_known, value), rank=_RANK)


def _is_empty(node: Node, rewriter: Rewriter) -> bool:
    return isinstance(node, Literal) and node.form == "string" and rewriter.words[node.first] in ("''", "N''")


def may_be_filled(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value may be an empty text where its maker would else have NULL, or nothing yet."""
    if isinstance(node, Paren):
        return may_be_filled(node.inner, rewriter)
    if isinstance(node, Name):
        return len(node.parts) == 1 and node.parts[0] in _emptied(rewriter)
    if isinstance(node, Case):
        values = [value for _, value in node.branches]
        return any(_is_empty(each, rewriter) for each in (*values, *([node.otherwise] if node.otherwise else ())))
    if not isinstance(node, Call) or not node.arguments:
        return False
    if node.parts[-1] in _SHORTENING:
        return may_be_filled(node.arguments[0], rewriter)
    return node.parts[-1] in _FILLING and _is_empty(node.arguments[-1], rewriter)


def _emptied(rewriter: Rewriter) -> frozenset[str]:
    """Return the variables of a routine that are given empty texts."""
    if not rewriter.is_code:
        return frozenset()
    found = rewriter.subject.memory.get("emptied variables")
    if not isinstance(found, frozenset):
        given: list[tuple[Node, Node]] = [(each.target, each.value) for each in rewriter.subject.all(Assign)]
        sums = [item.value for item in rewriter.subject.all(SelectItem) if isinstance(item.value, Operation)]
        given += [(each.operands[0], each.operands[1]) for each in sums if each.operators == ["="]]
        names = {each.parts[-1] for each, value in given if isinstance(each, Name) and _is_empty(value, rewriter)}
        declared = [(each.name, each.default) for each in rewriter.subject.all(Variable)]
        names |= {name for name, value in declared if value is not None and _is_empty(value, rewriter)}
        found = rewriter.subject.memory["emptied variables"] = frozenset(names)
    return found


def _known(value: Node, rewriter: Rewriter) -> str:
    while isinstance(value, Paren):
        value = value.inner
    if isinstance(value, Case):
        raise CannotDraft("a choice between NULL and an empty text that is compared")
    return f"NVL({rewriter.node(value)}, CHR(0))"


def _tested(value: Node, asked: str | None, rewriter: Rewriter) -> str:
    if asked is None:
        raise CannotDraft("a comparison with an empty text, which is NULL on the target")
    return f"{rewriter.node(value)} {asked}"


def _among(test: Comparison, rest: list[Node], rewriter: Rewriter) -> str:
    """Write IN and NOT IN with an empty text among the values."""
    value = rewriter.node(test.operands[0])
    if not rest:
        return f"{value} IS {'NOT ' if test.negated else ''}NULL"
    listed = f"IN ({rewriter.nodes(rest)})"
    return f"{value} NOT {listed}" if test.negated else f"({value} IS NULL OR {value} {listed})"


def _unlike(test: Comparison, rewriter: Rewriter) -> str:
    return f"({rewriter.node(test.operands[0])} IS NULL OR {rewriter.node(test)})"


def _refuse_test(rewriter: Rewriter) -> str:
    raise CannotDraft("a comparison with an empty text, which is NULL on the target")


def _refuse_choice(rewriter: Rewriter) -> str:
    raise CannotDraft("a choice by an empty text, which is NULL on the target")
