"""Fixers for values that are chosen from lists, and places in lists, for targets other than PostgreSQL.

Sources: MySQL 8.4 Reference Manual, "String Functions and Operators"; Transact-SQL reference, "CHOOSE".
"""

from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Node

from . import call_of, fixer

_MOST_REPEATED: Final = 40
"""Characters of a value that is written for every branch."""


@fixer("chosen_by_number")
def fix_chosen_by_number(place: Found, rewriter: Rewriter) -> str:
    """CHOOSE(n, a, b ...) and ELT: NULL for a number without a value."""
    number, *values = call_of(place).arguments
    if rewriter.types.family(number) is not Family.INTEGER:
        raise CannotDraft("a choice by something that is no whole number")
    branches = "".join(f" WHEN {at} THEN {rewriter.node(each)}" for at, each in enumerate(values, start=1))
    return f"(CASE {rewriter.node(number)}{branches} END)"


@fixer("place_of_value")
def fix_place_of_value(place: Found, rewriter: Rewriter) -> str:
    """FIELD(value, a, b ...): 0 where it is none of them."""
    value, *others = call_of(place).arguments
    families = {rewriter.types.family(each) for each in (value, *others)}
    if not (families == {Family.TEXT} or families <= NUMBERS):
        raise CannotDraft("a place among values of several kinds")
    branches = "".join(f" WHEN {rewriter.node(each)} THEN {at}" for at, each in enumerate(others, start=1))
    return f"(CASE {rewriter.node(value)}{branches} ELSE 0 END)"


@fixer("place_in_commas")
def fix_place_in_commas(place: Found, rewriter: Rewriter) -> str:
    """FIND_IN_SET(text, list): how many commas stand before the text in the list, with one in front of it."""
    sought, given = (rewriter.node(each) for each in call_of(place).arguments)
    if rewriter.target.engine == "oracle":
        at = f"INSTR(',' || {given} || ',', ',' || {sought} || ',')"
        head = f"SUBSTR(',' || {given}, 1, {at})"
        count = f"NVL(LENGTH({head}), 0) - NVL(LENGTH(REPLACE({head}, ',')), 0)"
        return f"(CASE WHEN {sought} IS NULL THEN NULL WHEN {given} IS NULL THEN NULL ELSE {count} END)"
    at = f"CHARINDEX(',' + {sought} + ',', ',' + {given} + ',')"
    head = f"LEFT(',' + {given}, {at})"
    return f"(LEN({head} + 'x') - LEN(REPLACE({head}, ',', '') + 'x'))"


@fixer("texts_compared")
def fix_texts_compared(place: Found, rewriter: Rewriter) -> str:
    """STRCMP(a, b): -1, 0 or 1."""
    a, b = (_short(each, rewriter) for each in call_of(place).arguments)
    return f"(CASE WHEN {a} = {b} THEN 0 WHEN {a} < {b} THEN -1 WHEN {a} > {b} THEN 1 END)"


def _short(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    if len(text) > _MOST_REPEATED:
        raise CannotDraft("a long expression that would be written several times")
    return text
