"""Moments that spans of one unit move, for targets whose spans are others: d + 1 MONTH, ts - INTERVAL '2 hours'.

Sources: PostgreSQL 18, "Interval Input"; Db2 11.5, SQL Reference, "Datetime operations and durations"; Teradata SQL Data Types and
Literals, "Interval Literals". What the targets do is told by `shifted`.
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation, Paren, TypedLiteral

from .moments import is_clock
from .portable import shifted

_SOURCES: Final = frozenset(("postgresql", "db2", "teradata", "mysql", "mariadb", "oracle"))
_UNITS: Final = ("year", "month", "week", "day", "hour", "minute", "second")
_WORDS: Final = {word: unit for unit in _UNITS for word in (unit.upper(), f"{unit.upper()}S")} | {
    "MON": "month",
    "MONS": "month",
}
_TEXT: Final = re.compile(r"'\s*([+-]?)\s*(\d+)\s*([a-zA-Z]*)\s*'")
_OF_NUMBERS: Final = ("NUMTODSINTERVAL", "NUMTOYMINTERVAL")
_CLOCK_UNITS: Final = frozenset(("hour", "minute", "second"))


def add_durations(rewriter: Rewriter) -> None:
    """Write a moment plus or minus spans as a moved moment; a span that stands by itself is for its own construct."""
    if rewriter.catalog.engine not in _SOURCES or rewriter.target.engine == "postgresql":
        return
    for node in rewriter.subject.all(Operation):
        if not set(node.operators) <= {"+", "-"} or len(node.operands) != len(node.operators) + 1:
            continue
        moment, *spans = node.operands
        is_moment = rewriter.types.family(moment) in MOMENTS or is_clock(moment) or _is_register(moment)
        if is_moment and all(_span(each, rewriter) for each in spans):
            rewriter.wrap(node, partial(_moved, node))


def _is_register(node: Node) -> bool:
    """Whether a value is a clock of Db2, written with a blank."""
    return isinstance(node, Name) and node.parts in (("CURRENT DATE",), ("CURRENT TIMESTAMP",))


def _span(node: Node, rewriter: Rewriter) -> tuple[str, str, Node | None] | None:
    """Return sign and amount, unit, and the number that multiplies them, of a span of one unit; None for another value."""
    if isinstance(node, Paren):
        return _span(node.inner, rewriter)
    if isinstance(node, Operation) and len(node.operands) == 1 and node.operators[0] in _WORDS:
        return "", _WORDS[node.operators[0]], node.operands[0]
    if isinstance(node, Operation) and node.operators == ["INTERVAL"]:
        word = rewriter.words[node.last - 1]
        return ("", _WORDS[word], node.operands[0]) if word in _WORDS else None
    if isinstance(node, Operation) and node.operators == ["*"]:
        for span, factor in (node.operands, node.operands[::-1]):
            known = _span(span, rewriter)
            if known is not None and known[2] is None and rewriter.types.family(factor) is Family.INTEGER:
                return known[0], known[1], factor
        return None
    if isinstance(node, Call) and node.parts[-1] in _OF_NUMBERS and len(node.arguments) == 2:
        word = (text_value(node.arguments[1], rewriter) or "").upper()
        is_whole = rewriter.types.family(node.arguments[0]) is Family.INTEGER
        return ("", _WORDS[word], node.arguments[0]) if word in _WORDS and is_whole else None
    if isinstance(node, TypedLiteral) and node.form.upper().startswith("INTERVAL"):
        return _written(rewriter.words[node.last - 1], rewriter.tokens.source(node.first + 1, node.first + 2))
    if isinstance(node, Cast) and node.type.name == "INTERVAL" and isinstance(node.value, Literal):
        return _written("", rewriter.subject.source(node.value))
    return None


def _written(word: str, text: str) -> tuple[str, str, None] | None:
    match = _TEXT.fullmatch(text)
    unit = _WORDS.get((match[3] or word).upper()) if match is not None else None
    return (f"{match[1].replace('+', '')}{match[2]}", unit, None) if match is not None and unit is not None else None


def _moved(node: Operation, rewriter: Rewriter) -> str:
    moment, *spans = node.operands
    text = rewriter.node(moment)
    is_day = rewriter.types.family(moment) is Family.DATE or rewriter.subject.source(moment).upper() == "CURRENT DATE"
    for sign, each in zip(node.operators, spans, strict=True):
        amount, unit, factor = _span(each, rewriter) or ("", "", None)
        if factor is not None:
            count = rewriter.node(factor)
            count = count if isinstance(factor, Literal | Name) else f"({count})"
            amount = count if amount in ("", "1") else f"{count} * {amount}"
        if sign == "-":
            amount = amount[1:] if amount.startswith("-") else f"-{amount}"
        if is_day and unit in _CLOCK_UNITS and rewriter.target.engine == "sqlserver":
            text = f"CAST({text} AS datetime2(6))"  # which a date is not moved by
        text = shifted(text, amount, unit, rewriter)
    return text
