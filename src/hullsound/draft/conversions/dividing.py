"""Divisors: where zero gives NULL, and where it is an error; quotients of whole numbers."""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import CUTTING, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.values import needs_hold
from hullsound.sight.whole import whole_needs
from hullsound.sql.tree import Assign, Call, Literal, Node, Operation, Paren, Query, Return

_ARITHMETIC: Final = frozenset(("+", "-", "*", "/", "MOD", "%", "**"))
_WHOLE_ON_SQLSERVER: Final = frozenset(("EXTRACT", "DATE_PART", "FLOOR", "CEIL", "CEILING", "ROUND", "TRUNC", "SIGN"))
"""Functions that SQL Server gives whole numbers of whole numbers (Transact-SQL reference, "Mathematical functions")."""
_MYSQL: Final = ("mysql", "mariadb")


def is_kept(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is kept by code or in a table, where dividing by zero is an error as it is in PostgreSQL."""
    subject = rewriter.subject
    around = [each for kind in (Assign, Return, Query) for each in subject.all(kind)
              if each.first <= node.first and node.last <= each.last]  # fmt: skip
    innermost = min(around, key=lambda each: each.last - each.first, default=None)
    return isinstance(innermost, Assign | Return)


def not_zero(node: Node, text: str, rewriter: Rewriter) -> str:
    """Write a divisor that is NULL where it would be zero, unless it is a constant other than that."""
    constant = isinstance(node, Literal) and rewriter.subject.source(node).strip("0.") != ""
    return text if constant else f"NULLIF({text}, 0)"


# --- whole numbers ---


def add_whole_quotients(rewriter: Rewriter) -> None:
    """Keep quotients of whole numbers whole where the target gives a fraction and no construct has seen them."""
    if rewriter.catalog.engine not in CUTTING or rewriter.target.engine not in ("oracle", *_MYSQL):
        return
    for node in rewriter.subject.all(Operation):
        is_whole = "/" in node.operators and all(_is_whole(each, rewriter) for each in node.operands)
        if is_whole and not rewriter.rewrites(node):
            rewriter.wrap(node, partial(whole_quotient, node), rank=2)


def add_fractions(rewriter: Rewriter) -> None:
    """Divide what gives a fraction in Oracle and PostgreSQL, and a whole number in SQL Server, with one."""
    if rewriter.target.engine != "sqlserver":
        return
    if rewriter.catalog.engine == "oracle":
        for node in rewriter.subject.all(Operation):
            before = node.operands[: node.operators.index("/") + 2] if "/" in node.operators else []
            if before and all(_may_be_whole(each, rewriter) for each in before):
                rewriter.wrap(before[0], partial(_as_decimal, before[0]), rank=5)
    for node in rewriter.subject.all(Operation) if rewriter.catalog.engine == "postgresql" else ():
        for each in node.operands if "/" in node.operators else ():
            for part in _terms(each):
                if isinstance(part, Call) and part.parts[-1] in _WHOLE_ON_SQLSERVER and _becomes_whole(part, rewriter):
                    rewriter.wrap(part, lambda r, part=part: f"CAST({r.node(part)} AS float)", rank=4)  # type: ignore[misc]


def _may_be_whole(node: Node, rewriter: Rewriter) -> bool:
    needs = whole_needs(node, rewriter.subject)
    return rewriter.types.can_be_whole(node) or (needs is not None and needs_hold(needs, rewriter.catalog))


def _as_decimal(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS decimal(38, 12))"


def _becomes_whole(call: Call, rewriter: Rewriter) -> bool:
    is_part = call.parts[-1] in ("EXTRACT", "DATE_PART")
    return is_part or any(rewriter.types.family(each) is Family.INTEGER for each in call.arguments[:1])


def add_whole_parts(rewriter: Rewriter) -> None:
    """Keep the whole numbers that EXTRACT gives whole among others: that of PostgreSQL gives decimal ones."""
    for node in rewriter.subject.all(Operation):
        if not set(node.operators) <= _ARITHMETIC:
            continue
        for each in node.operands:
            for part in _terms(each):
                if isinstance(part, Call) and part.parts == ("EXTRACT",) and _is_whole(part, rewriter):
                    rewriter.wrap(part, lambda r, part=part: f"CAST({r.node(part)} AS integer)", rank=4)  # type: ignore[misc]


def _terms(node: Node) -> Iterator[Node]:
    """Yield what an operand is calculated from."""
    if isinstance(node, Paren):
        yield from _terms(node.inner)
    elif isinstance(node, Operation):
        for each in node.operands:
            yield from _terms(each)
    else:
        yield node


def _is_whole(node: Node, rewriter: Rewriter) -> bool:
    return rewriter.types.family(node) is Family.INTEGER


def whole_quotient(node: Operation, rewriter: Rewriter) -> str:
    """Write products and quotients step by step from the left, each quotient without its fraction.

    Raises CannotDraft for other operators among them.
    """
    if not set(node.operators) <= {"*", "/"}:
        raise CannotDraft("whole numbers that are divided among other signs")
    texts = [
        f"({rewriter.node(each)})" if isinstance(each, Operation) else rewriter.node(each) for each in node.operands
    ]
    result = texts[0]
    for operator, text in zip(node.operators, texts[1:], strict=True):
        if operator == "*":
            result = f"({result} * {text})"
        else:
            result = f"TRUNC({result} / {text})" if rewriter.target.engine == "oracle" else f"({result} DIV {text})"
    return result
