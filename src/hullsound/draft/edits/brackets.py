"""Conditions that hold a CASE expression: PL/pgSQL reads IF and CASE up to the first THEN or WHEN outside of parentheses."""

import re
from functools import partial
from typing import Final

from hullsound.analyze.choices import listed
from hullsound.sql.levels import ON_BITS
from hullsound.sql.tree import CaseStatement, If, Node, Operation

from .rewrite import Rewriter

_CALCULATING: Final = ON_BITS | frozenset(("+", "-", "*", "/", "%", "DIV", "MOD"))
_OUTERMOST: Final = 12
_SIGNS: Final = re.compile(r"'[^']*'|\"[^\"]*\"|[()]")
_PIECES: Final = re.compile(r"'[^']*'|\"[^\"]*\"|[()]|\bCASE\b", re.IGNORECASE)


def add_case_brackets(rewriter: Rewriter) -> None:
    """Put parentheses around the conditions and subjects whose draft has a bare CASE."""
    conditions: list[Node] = [test for each in rewriter.subject.all(If) for test, _ in each.branches]
    for statement in rewriter.subject.all(CaseStatement):
        conditions += [part for test, _ in statement.branches for part in listed(test)]
        if statement.subject is not None:
            conditions.append(statement.subject)
    for condition in conditions:
        rewriter.wrap(condition, partial(_bracketed, condition), rank=9)


def add_bit_brackets(rewriter: Rewriter) -> None:
    """Put parentheses around operations among which some work on bits, as engines bind those in different orders."""
    for parent in rewriter.subject.all(Operation):
        for child in parent.operands if set(parent.operators) <= _CALCULATING else ():
            if isinstance(child, Operation) and child.operators == ["~"]:  # which binds loosely in PostgreSQL
                rewriter.wrap(child, partial(_enclosed, child), rank=_OUTERMOST)
            if not isinstance(child, Operation) or len(child.operands) < 2 or not set(child.operators) <= _CALCULATING:
                continue
            if not ON_BITS.isdisjoint((*parent.operators, *child.operators)):
                rewriter.wrap(child, partial(_enclosed, child), rank=_OUTERMOST)


def _enclosed(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return text if text.startswith("(") and closes_all(text) else f"({text})"


def closes_all(text: str) -> bool:
    """Whether the first parenthesis of an expression is closed by its last sign."""
    depth = 0
    for piece in _SIGNS.finditer(text):
        depth += (piece[0] == "(") - (piece[0] == ")")
        if depth == 0 and piece[0] == ")":
            return piece.end() == len(text)
    return False


def _bracketed(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return f"({text})" if has_bare_case(text) else text


def has_bare_case(text: str) -> bool:
    """Whether CASE stands in an expression outside of parentheses and quotes."""
    depth = 0
    for piece in _PIECES.findall(text):
        if piece == "(":
            depth += 1
        elif piece == ")":
            depth -= 1
        elif depth == 0 and piece[0] not in "'\"":
            return True
    return False


def closing_of(rewriter: Rewriter, opening: int) -> int:
    """Return the place of the parenthesis that closes the one at `opening`."""
    depth = 0
    at = opening
    while True:
        word = rewriter.words[at]
        depth += (word == "(") - (word == ")")
        if depth == 0:
            return at
        at += 1
