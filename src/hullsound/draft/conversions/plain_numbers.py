"""Numbers that Oracle writes as text: without zeros behind the last digit, and without one before the point.

Source: Oracle SQL Language Reference, "TO_CHAR (number)" and "Concatenation Operator".
"""

from collections.abc import Iterator
from decimal import Decimal
from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import Family
from hullsound.catalog.definitions import data_type
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Assign, Call, Cast, Literal, Name, Node, Operation, Paren, Return, Routine, Variable

_OF_TEXTS: Final = frozenset("LPAD RPAD SUBSTR INSTR LENGTH REPLACE TRANSLATE LTRIM RTRIM UPPER LOWER".split())
"""Functions whose first argument is a text; PostgreSQL asks for a cast there, which is a construct of its own."""

_MOST_DECIMALS: Final = 28
"""Digits that FORMAT of SQL Server writes of a decimal."""


def add_plain_numbers(rewriter: Rewriter) -> None:
    """Take the zeros off what ||, TO_CHAR without a mask, casts, and assignments and results that are texts write."""
    for value in _written(rewriter):
        if rewriter.types.family(value) is Family.NUMBER:
            rewriter.wrap(value, partial(plain_number, value), rank=3)


def _written(rewriter: Rewriter) -> Iterator[Node]:
    takes_numbers = rewriter.target.engine != "postgresql"
    for operation in rewriter.subject.all(Operation):
        if "||" in operation.operators:
            yield from operation.operands
    for call in rewriter.subject.all(Call):
        if call.parts == ("TO_CHAR",) and len(call.arguments) == 1:
            yield from call.arguments
        elif takes_numbers and len(call.parts) == 1 and call.parts[0] in _OF_TEXTS and call.arguments:
            yield call.arguments[0]
    for cast in rewriter.subject.all(Cast):
        if rewriter.types.family(cast) is Family.TEXT:
            yield cast.value
    for assign in rewriter.subject.all(Assign):
        if rewriter.types.family(assign.target) is Family.TEXT:
            yield assign.value
    for variable in rewriter.subject.all(Variable):
        if variable.default is not None and rewriter.types.family_of(data_type(variable.type)) is Family.TEXT:
            yield variable.default
    routines = rewriter.subject.all(Routine)
    for returned in rewriter.subject.all(Return):
        around = [each for each in routines if each.first <= returned.first and returned.last <= each.last]
        own = max(around, key=lambda each: each.first, default=None)
        is_text = own is not None and rewriter.types.family_of(data_type(own.returns)) is Family.TEXT
        if returned.value is not None and is_text:
            yield returned.value


def plain_number(node: Node, rewriter: Rewriter) -> str:
    """Render a number as the text that Oracle writes: 2.50 as 2.5, and 0.5 as .5."""
    text = rewriter.node(node)
    if _is_binary_float(node, rewriter):
        raise CannotDraft("a binary floating-point number as a text, which Oracle writes with an exponent")
    if _may_be_endless(node, rewriter):
        raise CannotDraft("a quotient as a text, of which Oracle writes 40 digits")
    if isinstance(node, Literal):
        return f"'{Decimal(text).normalize():f}'".replace("'0.", "'.")
    if rewriter.target.engine in ("mysql", "mariadb"):
        digits = f"TRIM(TRAILING '0' FROM CAST(CAST({text} AS DECIMAL(65,30)) AS CHAR))"
        return f"REGEXP_REPLACE(TRIM(TRAILING '.' FROM {digits}), '^(-?)0[.]', '\\\\1.')"
    if rewriter.target.engine == "sqlserver":
        if not _is_exact(node, rewriter):
            raise CannotDraft("a number that may be a floating-point one and becomes a text")
        return f"CASE WHEN {text} = 0 THEN '0' ELSE FORMAT({text}, '#.{'#' * _MOST_DECIMALS}', 'en-US') END"
    trimmed = f"trim_scale({text})" if _is_exact(node, rewriter) else f"trim_scale(CAST({text} AS numeric))"
    return f"regexp_replace({trimmed}::text, '^(-?)0[.]', '\\1.')"


def _is_binary_float(node: Node, rewriter: Rewriter) -> bool:
    source = rewriter.types.source_type(node)
    return source is not None and source.name in ("BINARY_DOUBLE", "BINARY_FLOAT")


def _may_be_endless(node: Node, rewriter: Rewriter) -> bool:
    """Whether a number may have more digits than the target computes: a quotient or an average that nothing cuts."""
    match node:
        case Paren():
            return _may_be_endless(node.inner, rewriter)
        case Operation():
            divisors = [each for sign, each in zip(node.operators, node.operands[1:], strict=False) if sign == "/"]
            return any(not _ends(rewriter.subject.source(each)) for each in divisors) or any(
                _may_be_endless(each, rewriter) for each in node.operands
            )
        case Call() if node.parts == ("AVG",):
            return True
        case Call() if node.parts[-1] in ("ROUND", "TRUNC"):
            return False
        case Call():
            return any(_may_be_endless(each, rewriter) for each in choices_of(node, rewriter.catalog.engine))
    return False


def _ends(divisor: str) -> bool:
    """Whether quotients by a constant have an end: it has no prime factors but 2 and 5."""
    number = int(divisor) if divisor.isdecimal() else 0
    for prime in (2, 5) if number else ():
        while number % prime == 0:
            number //= prime
    return number == 1


def _is_exact(node: Node, rewriter: Rewriter) -> bool:
    """Whether the draft of a number is a numeric or a whole number for certain."""
    match node:
        case Literal():
            return True
        case Paren():
            return _is_exact(node.inner, rewriter)
        case Name():
            return _has_exact_type(node, rewriter)
        case Operation():
            return set(node.operators) <= set("+-*/") and all(_is_exact(each, rewriter) for each in node.operands)
        case Call() if len(node.parts) == 1:
            if node.parts[0] in ("ROUND", "TRUNC"):  # with a count of digits they are there for numeric alone
                return len(node.arguments) == 2
            values = node.arguments if node.parts == ("SUM",) else choices_of(node, rewriter.catalog.engine)
            return all(_is_exact(each, rewriter) for each in values) if values else _has_exact_type(node, rewriter)
    return False


def _has_exact_type(node: Node, rewriter: Rewriter) -> bool:
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is not None and logical.kind != "float"
