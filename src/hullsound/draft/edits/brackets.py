"""Conditions that hold a CASE expression: PL/pgSQL reads IF and CASE up to the first THEN or WHEN outside of parentheses."""

import re
from functools import partial
from typing import Final

from hullsound.analyze.choices import listed
from hullsound.sql.tree import CaseStatement, If, Node

from .rewrite import Rewriter

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
