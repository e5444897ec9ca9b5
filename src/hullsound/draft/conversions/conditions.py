"""Conditions and values where the target keeps the two apart: SQL Server, and Oracle before 23ai.

MySQL and SQLite count a number as a condition and a condition as a number; PostgreSQL has truth values, which become numbers there.
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    Comparison,
    CreateTrigger,
    Jump,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Subquery,
)

from .truth import conditions_of, connectives, is_truth

_TRUTH_SINCE: Final = {"oracle": 23, "sqlserver": 9999}
"""First version whose SQL has truth values."""
_SOURCES: Final = frozenset(("mysql", "mariadb", "sqlite", "postgresql"))
_CONDITIONAL: Final = (("IF",), ("IIF",))
"""Functions whose first argument is a condition."""
_TESTED: Final = ("TRUE", "FALSE", "UNKNOWN")
_AS_NUMBERS: Final = frozenset((*NUMBERS, Family.BOOLEAN, Family.BITS))


def add_conditions(rewriter: Rewriter) -> None:
    """Add the points that make conditions of numbers, and numbers of the constants TRUE and FALSE."""
    engine = rewriter.target.engine
    if rewriter.catalog.engine not in _SOURCES or rewriter.target.version >= _TRUTH_SINCE.get(engine, 0):
        return
    subject = rewriter.subject
    found = [*conditions_of(rewriter), *(jump.condition for jump in subject.all(Jump) if jump.condition is not None)]
    if isinstance(subject.tree, CreateTrigger) and subject.tree.condition is not None:
        found.append(subject.tree.condition)
    for joined in subject.all(Operation):
        if joined.operators and set(joined.operators) <= connectives(rewriter):
            found += joined.operands
    for node in found:
        _add_condition(node, rewriter)
    for node in _values_of_conditions(rewriter):
        rewriter.add(Point(node.first, node.last, partial(_counted, node), "convert.truth-value", rank=7))
    for test in subject.all(Comparison):
        word = test.operator.split()[-1]
        if test.operator.startswith("IS ") and word in _TESTED:
            rewriter.add(
                Point(test.first, test.last, partial(_tested_truth, test, word), "convert.truth-value", rank=-1)
            )
    for literal in subject.all(Literal):
        if literal.form in ("true", "false"):
            rewriter.replace(literal.first, literal.last, "1" if literal.form == "true" else "0")


def _values_of_conditions(rewriter: Rewriter) -> Iterator[Node]:
    """Yield the conditions that stand where a number is asked for: in arithmetic, beside a comparison, as an argument."""
    places: list[Node] = []
    for node in rewriter.subject.all(Operation):
        if node.operators and not set(node.operators) <= connectives(rewriter):
            places += node.operands
    for call in rewriter.subject.all(Call):
        places += call.arguments[1:] if call.parts in _CONDITIONAL else call.arguments
    for case in rewriter.subject.all(Case):
        places += [value for _, value in case.branches]
        places += [case.otherwise] if case.otherwise is not None else []
    for cast in rewriter.subject.all(Cast):
        places += [cast.value] if rewriter.types.family(cast) in _AS_NUMBERS else []
    for place in places:
        value = place
        while isinstance(value, Paren):
            value = value.inner
        if isinstance(value, Operation | Comparison) and is_truth(value):
            yield value


def _counted(node: Node, rewriter: Rewriter) -> str:
    return f"({predicate_as_number(node, rewriter)})"


def _add_condition(node: Node, rewriter: Rewriter) -> None:
    if isinstance(node, Paren):
        _add_condition(node.inner, rewriter)
    elif isinstance(node, Literal) and node.form in ("true", "false", "number"):
        holds = node.form == "true" or (node.form == "number" and rewriter.subject.source(node).strip("0.") != "")
        rewriter.replace(node.first, node.last, "(1 = 1)" if holds else "(1 = 0)")
    elif isinstance(node, Operation) and node.operators and set(node.operators) <= connectives(rewriter):
        for operand in node.operands:
            _add_condition(operand, rewriter)
    elif not is_truth(node) and rewriter.types.family(node) in _AS_NUMBERS:
        rewriter.add(Point(node.first, node.last, partial(_nonzero, node), rank=8))


def _tested_truth(test: Comparison, word: str, rewriter: Rewriter) -> str:
    """Write IS TRUE and its like, which are never unknown, as a comparison with a number."""
    value = test.operands[0]
    while isinstance(value, Paren):
        value = value.inner
    is_condition = is_truth(value)
    text = rewriter.node(value)
    if word == "UNKNOWN" and is_condition:
        raise CannotDraft("IS UNKNOWN of a condition")
    if word == "UNKNOWN":
        return f"{text} IS {'NOT ' if test.negated else ''}NULL"
    if is_condition:
        held = text if word == "TRUE" else f"NOT ({text})"
        return f"(CASE WHEN {held} THEN 1 ELSE 0 END = {0 if test.negated else 1})"
    sign = "<>" if (word == "TRUE") != test.negated else "="
    return f"(COALESCE({text}, {0 if word == 'TRUE' else 1}) {sign} 0)"


def _nonzero(node: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(node)} <> 0)"


def predicate_as_number(node: Node, rewriter: Rewriter) -> str:
    """Write a condition as the number that the source counts it as: 1, 0, or NULL where it is unknown."""
    while isinstance(node, Paren):
        node = node.inner
    text = rewriter.node(node)
    unknown = "ELSE 0" if _is_known(node, rewriter) else f"WHEN NOT ({text}) THEN 0"
    return f"CASE WHEN {text} THEN 1 {unknown} END"


def _is_known(node: Node, rewriter: Rewriter) -> bool:
    """Whether a condition is never unknown: IS NULL, EXISTS, or a comparison of values that are never NULL."""
    if isinstance(node, Paren):
        return _is_known(node.inner, rewriter)
    if isinstance(node, Subquery):
        return node.form == "EXISTS"
    if isinstance(node, Comparison) and node.operator.startswith("IS "):
        return True
    if isinstance(node, Operation) and set(node.operators) <= connectives(rewriter):
        return all(_is_known(each, rewriter) for each in node.operands)
    operands = getattr(node, "operands", [])
    return bool(operands) and all(
        isinstance(each, Name | Literal) and rewriter.types.is_never_null(each) for each in operands
    )
