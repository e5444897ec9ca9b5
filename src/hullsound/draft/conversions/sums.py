"""Sums in the T-SQL family: + joins texts and adds days to moments, numbers count days since 1900.

Source: Transact-SQL reference, "datetime" and "+ (Addition)".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Cast, Node, Operation, Paren

_NUMBERS: Final = NUMBERS | {Family.BOOLEAN}
_DAY_ZERO: Final = "timestamp '1900-01-01'"
"""The moment that the number 0 means."""
_TIME_OF_DAY: Final = re.compile(r"\s*\d{1,2}:\d{2}(?::\d{2}(?:[.:]\d+)?)?\s*")


def add_sum_points(rewriter: Rewriter) -> None:
    """Add the points of sums and differences in which a moment or a text takes part."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) < 2 or set(node.operators) - {"+", "-"}:
            continue
        kinds = [rewriter.types.family(operand) for operand in node.operands]
        if MOMENTS.intersection(kinds) and all(kinds):
            rewriter.add(Point(node.first, node.last, partial(sum_of_moments, node)))
        elif Family.TEXT in kinds and "-" not in node.operators:
            construct = "convert.unlike-types" if NUMBERS.intersection(kinds) else "draft.spelling"
            rewriter.add(Point(node.first, node.last, partial(sum_of_texts, node), construct))


def sum_of_texts(node: Operation, rewriter: Rewriter) -> str:
    """Join texts, one of which may be a moment or a number. Raises CannotDraft where other operators stand among +."""
    if any(operator != "+" for operator in node.operators):
        raise CannotDraft("+ between texts mixes with other operators")
    kinds = [rewriter.types.family(operand) for operand in node.operands]
    if MOMENTS.intersection(kinds):
        return sum_of_moments(node, rewriter)
    if NUMBERS & set(kinds):
        return sum_with_texts(node, rewriter)
    return " || ".join(rewriter.node(operand) for operand in node.operands)


def sum_with_texts(node: Operation, rewriter: Rewriter) -> str:
    """Add numbers and texts that are read as numbers; texts that stand before the first number are joined before.

    Raises CannotDraft where the target reads no such number.
    """
    kinds = [rewriter.types.family(operand) for operand in node.operands]
    rewriter.rendered.append(("convert.unlike-types", node.first))  # whoever asked for the sum
    values = [rewriter.node(operand) for operand in node.operands]
    kind = Family.NUMBER if Family.NUMBER in kinds else Family.INTEGER
    first = next(place for place, each in enumerate(kinds) if each in NUMBERS)
    if first > 1 and Family.UNKNOWN in kinds[:first]:
        raise CannotDraft("a sum with a text in which a value is of an unknown type")
    if first > 1:
        values[:first] = [_joined(values[:first], rewriter)]
        kinds[:first] = [Family.TEXT]
    pairs = zip(values, kinds, strict=True)
    return " + ".join(_as_number(value, kind, rewriter) if each is Family.TEXT else value for value, each in pairs)


def _joined(texts: list[str], rewriter: Rewriter) -> str:
    return f"CONCAT({', '.join(texts)})" if rewriter.target.engine in ("mysql", "mariadb") else " || ".join(texts)


def _as_number(text: str, kind: Family, rewriter: Rewriter) -> str:
    match rewriter.target.engine:
        case "postgresql":
            return f"CAST({text} AS {'integer' if kind is Family.INTEGER else 'numeric'})"
        case "oracle":
            return f"TO_NUMBER({text})"
        case _ if kind is Family.INTEGER:
            return f"CAST({text} AS SIGNED)"
    raise CannotDraft("a text that + reads as a number with digits behind the point")


def sum_of_moments(node: Operation, rewriter: Rewriter) -> str:
    """Write a sum or difference in which a moment takes part. Raises CannotDraft for kinds that make no sum."""
    text, kind = rewriter.node(node.operands[0]), rewriter.types.family(node.operands[0])
    if kind is Family.DATE:
        text = f"CAST({text} AS timestamp)"
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        text, kind = moved(text, kind, operator, operand, rewriter)
    return f"({text})"


def moved(text: str, kind: Family, operator: str, operand: Node, rewriter: Rewriter) -> tuple[str, Family]:
    """Write a value plus or minus an operand; returns the text and its kind. Raises CannotDraft for other kinds."""
    other = rewriter.types.family(operand)
    if kind in MOMENTS:
        if other in _NUMBERS:
            return f"{text} {operator} {_days(operand, rewriter)}", Family.TIMESTAMP
        time = _time_of_day(operand, rewriter)
        if time:
            return f"{text} {operator} CAST({time} AS interval)", Family.TIMESTAMP
        if other in MOMENTS or other is Family.TEXT:
            value = f"CAST({rewriter.node(operand)} AS timestamp)"
            if operator == "+":
                return f"{text} + ({value} - {_DAY_ZERO})", Family.TIMESTAMP
            return f"{_DAY_ZERO} + ({text} - {value})", Family.TIMESTAMP
    elif kind in _NUMBERS and other in _NUMBERS:
        return f"{text} {operator} {rewriter.node(operand)}", Family.NUMBER
    elif kind in _NUMBERS and other in MOMENTS and operator == "+":
        return f"CAST({rewriter.node(operand)} AS timestamp) + ({text}) * interval '1 day'", Family.TIMESTAMP
    raise CannotDraft("a sum of a moment and something that is no number")


def _days(operand: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(operand)
    if text.isdigit():
        return f"interval '{text} day{'' if text == '1' else 's'}'"
    number = f"CAST({text} AS integer)" if rewriter.types.family(operand) is Family.BOOLEAN else text
    return f"({number}) * interval '1 day'"


def _time_of_day(node: Node, rewriter: Rewriter) -> str:
    """Return the text of an operand that is a time of day without a date; '' for another."""
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Cast) and rewriter.types.family(node) is Family.TIMESTAMP:
        inner = rewriter.types.family(node.value)
        text = text_value(node.value, rewriter)
        # A text that is not known yet is read as a time: what would a date be good for that is added to another?
        if inner is Family.TIME or (
            inner in (Family.TEXT, Family.UNKNOWN) and (text is None or _TIME_OF_DAY.fullmatch(text))
        ):
            return rewriter.node(node.value) if inner is Family.TIME else f"CAST({rewriter.node(node.value)} AS time)"
        return ""
    if rewriter.types.family(node) is Family.TIME:
        return rewriter.node(node)
    text = text_value(node, rewriter)
    return rewriter.node(node) if text is not None and _TIME_OF_DAY.fullmatch(text) else ""


def cast_of_moment(node: Cast, rewriter: Rewriter) -> str:
    """Write a cast between moments and numbers, texts or times of day, where PostgreSQL has none; '' for any other.

    A whole number is rounded, so that an afternoon counts as the next day, as in the source.
    """
    kind, source = rewriter.types.family(node), rewriter.types.family(node.value)
    value = rewriter.node(node.value)
    if kind in _NUMBERS and source in MOMENTS:
        days = f"EXTRACT(EPOCH FROM CAST({value} AS timestamp) - {_DAY_ZERO}) / 86400"
        return f"CAST({f'round({days})' if kind is Family.INTEGER else days} AS {rewriter.node(node.type)})"
    if kind is Family.TIMESTAMP and source in _NUMBERS:
        return f"({_DAY_ZERO} + ({value}) * interval '1 day')"
    return moment_of_day(node.value, rewriter) if kind is Family.TIMESTAMP else ""


def moment_of_day(node: Node, rewriter: Rewriter) -> str:
    """Write a time of day as the moment of 1 January 1900 that it means; '' for a value that is no time of day."""
    if rewriter.types.family(node) is Family.TIME:
        return f"(date '1900-01-01' + {rewriter.node(node)})"
    text = text_value(node, rewriter)
    return f"timestamp '1900-01-01 {text.strip()}'" if text is not None and _TIME_OF_DAY.fullmatch(text) else ""
