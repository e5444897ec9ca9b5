"""Text constants beside numbers that the source reads as a number, and PostgreSQL cannot read: '' and 'abc'.

Transact-SQL takes an empty text for 0 where a whole number, money or a float is wanted (Transact-SQL reference, "CAST and
CONVERT", and "Data type precedence"). MySQL takes the number that a text begins with, else 0 (MySQL 8.4 Reference Manual, "Type
Conversion in Expression Evaluation"), as SQLite does in sums (SQLite documentation, "SQL Language Expressions"). PostgreSQL reads
'1.5' beside a whole number as a whole number, and fails; Oracle has one type for both.
"""

import re
from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation, Paren

from .implicit import compared

_MYSQL: Final = frozenset(("mysql", "mariadb"))
_TSQL: Final = frozenset(("sqlserver", "ase"))
_LEADING_DIGITS: Final = _MYSQL | {"sqlite"}
"""Engines that take the number that a text begins with."""
_ARITHMETIC: Final = frozenset(("+", "-", "*", "/", "%", "DIV", "MOD"))
_OF_ONE_TYPE: Final = {
    **dict.fromkeys(_TSQL, frozenset(("ISNULL", "COALESCE", "NULLIF"))),
    **dict.fromkeys(_MYSQL, frozenset(("NULLIF",))),
    "sqlite": frozenset(),
    "oracle": frozenset(),
}
"""Functions that read a text as a number where another argument is one."""
_LEADING: Final = re.compile(r"\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)")
_PLAIN: Final = {
    Family.INTEGER: re.compile(r"\s*[+-]?\d+\s*"),
    Family.NUMBER: re.compile(r"\s*[+-]?(?:\d+\.?\d*|\.\d+)\s*"),
}
_EMPTY_IS_ZERO: Final = frozenset(("integer", "unsigned", "money", "small-money", "float"))


def add_constant_numbers(rewriter: Rewriter) -> None:
    """Write the number in the place of each such constant."""
    engine = rewriter.catalog.engine
    if engine not in _OF_ONE_TYPE:
        return
    for place, value in _pairs(rewriter):
        if not isinstance(value, Literal) or value.form != "string":
            continue
        kind = rewriter.types.family(place) if _is_certain(place, rewriter) else ""
        text = string_content(rewriter.subject.source(value), engine)
        if kind not in _PLAIN or _PLAIN[kind].fullmatch(text):
            continue
        if engine == "oracle":
            number = text.strip() if _PLAIN[Family.NUMBER].fullmatch(text) else ""
        else:
            number = _leading(text) if engine in _LEADING_DIGITS else _zero(text, place, rewriter)
        if number:
            rewriter.wrap(value, partial(_written, number), rank=6)


def _add_numbers(literals: tuple[Literal, Literal], rewriter: Rewriter) -> None:
    """Write two texts that are added up as the numbers that they begin with."""
    if all(each.form == "string" for each in literals):
        for each in literals:
            text = string_content(rewriter.subject.source(each), rewriter.catalog.engine)
            rewriter.wrap(each, partial(_written, _leading(text)), rank=6)


def _pairs(rewriter: Rewriter) -> Iterator[tuple[Node, Node]]:
    """Yield each value with one beside which it is read."""
    engine = rewriter.catalog.engine
    if engine != "sqlite":  # which compares a text with a number as it is
        yield from compared(rewriter)
    for call in rewriter.subject.all(Call):
        if len(call.parts) == 1 and call.parts[0] in _OF_ONE_TYPE[engine] and len(call.arguments) > 1:
            place = next((each for each in call.arguments if not isinstance(each, Literal)), None)
            yield from ((place, each) for each in call.arguments if place is not None)
    for node in rewriter.subject.all(Operation):
        if set(node.operators) <= _ARITHMETIC and len(node.operands) == 2:
            one, other = node.operands
            yield from ((one, other), (other, one))
            if engine in _LEADING_DIGITS and isinstance(one, Literal) and isinstance(other, Literal):
                _add_numbers((one, other), rewriter)


def _is_certain(node: Node, rewriter: Rewriter) -> bool:
    """Whether the kind of a value is known for certain: an operator of another kind may give anything."""
    if isinstance(node, Paren):
        return _is_certain(node.inner, rewriter)
    if isinstance(node, Operation):
        return set(node.operators) <= _ARITHMETIC and all(_is_certain(each, rewriter) for each in node.operands)
    return isinstance(node, Name | Call | Literal | Cast)


def _leading(text: str) -> str:
    match = _LEADING.match(text)
    return match[1] if match is not None else "0"


def _zero(text: str, place: Node, rewriter: Rewriter) -> str:
    """Return 0 for an empty text where the type is known to take it, else ''."""
    source = rewriter.types.source_type(place)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    takes = logical.kind in _EMPTY_IS_ZERO if logical is not None else rewriter.types.family(place) is Family.INTEGER
    return "0" if takes and not text.strip() else ""


def _written(number: str, _: Rewriter) -> str:
    return number
