"""Moments that spans of one unit move, for targets whose spans are others: d + 1 MONTH, ts - INTERVAL '2 hours'.

Sources: PostgreSQL 18, "Interval Input"; Db2 11.5, SQL Reference, "Datetime operations and durations"; Teradata SQL Data Types and
Literals, "Interval Literals". What the targets do is told by `shifted`.
"""

import re
from dataclasses import dataclass
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation, Paren, TypedLiteral

from .moments import is_clock, is_shown
from .portable import shifted

_SOURCES: Final = frozenset(("postgresql", "db2", "teradata", "mysql", "mariadb", "oracle"))
_UNITS: Final = ("year", "month", "week", "day", "hour", "minute", "second")
_WORDS: Final = {word: unit for unit in _UNITS for word in (unit.upper(), f"{unit.upper()}S")} | {
    "MON": "month",
    "MONS": "month",
}
_TEXT: Final = re.compile(r"'\s*([+-]?)\s*(\d+)\s*([a-zA-Z]*)\s*'")
_PARTS: Final = re.compile(r"'\s*((?:[+-]?\s*\d+\s*[a-zA-Z]+\s*)+)'")
_PART: Final = re.compile(r"([+-]?)\s*(\d+)\s*([a-zA-Z]+)")
_MONTHS: Final = {"year": 12, "month": 1}
_DAYS: Final = {"week": 7, "day": 1}
_SECONDS: Final = {"hour": 3600, "minute": 60, "second": 1}
_OF_NUMBERS: Final = ("NUMTODSINTERVAL", "NUMTOYMINTERVAL")
_CLOCK_UNITS: Final = frozenset(("hour", "minute", "second"))
_TIMESTAMPS: Final = {
    "mysql": "datetime", "mariadb": "datetime", "sqlserver": "datetime2(0)", "oracle": "timestamp(0)",
}  # fmt: skip
"""What a date becomes that PostgreSQL moves by an interval."""


def add_durations(rewriter: Rewriter) -> None:
    """Write a moment plus or minus spans as a moved moment; a span that stands by itself is for its own construct."""
    if rewriter.catalog.engine not in _SOURCES or rewriter.target.engine == "postgresql":
        return
    for node in rewriter.subject.all(Operation):
        if not set(node.operators) <= {"+", "-"} or len(node.operands) != len(node.operators) + 1:
            continue
        moment, *spans = node.operands
        is_moment = rewriter.types.family(moment) in MOMENTS or is_clock(moment) or _is_register(moment)
        if is_moment and all(_spans(each, rewriter) for each in spans):
            rewriter.wrap(node, partial(_moved, node))


def _is_register(node: Node) -> bool:
    """Whether a value is a clock of Db2, written with a blank."""
    return isinstance(node, Name) and node.parts in (("CURRENT DATE",), ("CURRENT TIMESTAMP",))


@dataclass(frozen=True)
class _Span:
    """So many units, times a factor where there is one."""

    amount: str
    unit: str
    factor: Node | None = None


def _spans(node: Node, rewriter: Rewriter) -> list[_Span]:
    """Return the spans that a value moves a moment by, in their order; [] for another value."""
    if isinstance(node, Paren):
        return _spans(node.inner, rewriter)
    if isinstance(node, Operation) and len(node.operands) == 1 and node.operators[0] in _WORDS:
        return [_Span("", _WORDS[node.operators[0]], node.operands[0])]
    if isinstance(node, Operation) and node.operators == ["INTERVAL"]:
        word = rewriter.words[node.last - 1]
        return [_Span("", _WORDS[word], node.operands[0])] if word in _WORDS else []
    if isinstance(node, Operation) and node.operators == ["*"]:
        for span, factor in (node.operands, node.operands[::-1]):
            known = _spans(span, rewriter)
            if len(known) == 1 and known[0].factor is None and rewriter.types.family(factor) is Family.INTEGER:
                return [_Span(known[0].amount, known[0].unit, factor)]
        return []
    if isinstance(node, Call) and node.parts[-1] in _OF_NUMBERS and len(node.arguments) == 2:
        word = (text_value(node.arguments[1], rewriter) or "").upper()
        is_whole = rewriter.types.family(node.arguments[0]) is Family.INTEGER
        return [_Span("", _WORDS[word], node.arguments[0])] if word in _WORDS and is_whole else []
    if isinstance(node, TypedLiteral) and node.form.upper().startswith("INTERVAL"):
        return _written(rewriter.words[node.last - 1], rewriter.tokens.source(node.first + 1, node.first + 2))
    if isinstance(node, Cast) and node.type.name == "INTERVAL" and isinstance(node.value, Literal):
        return _written("", rewriter.subject.source(node.value))
    return []


def _written(word: str, text: str) -> list[_Span]:
    """Return the spans of the text of an interval: of several units, PostgreSQL adds months first, then days, then seconds."""
    match = _TEXT.fullmatch(text)
    unit = _WORDS.get((match[3] or word).upper()) if match is not None else None
    if match is not None and unit is not None:
        return [_Span(f"{match[1].replace('+', '')}{match[2]}", unit)]
    parts = _PART.findall(text) if _PARTS.fullmatch(text) else []
    units = [_WORDS.get(part[2].upper(), "") for part in parts]
    if not parts or not all(units):
        return []
    found = []
    for smallest, sizes in (("month", _MONTHS), ("day", _DAYS), ("second", _SECONDS)):
        counts = [
            int(f"{sign}{number}") * sizes[unit]
            for (sign, number, _), unit in zip(parts, units, strict=True)
            if unit in sizes
        ]
        found += [_Span(str(sum(counts)), smallest)] if counts and sum(counts) else []
    return found


def _moved(node: Operation, rewriter: Rewriter) -> str:
    moment, *spans = node.operands
    text = rewriter.node(moment)
    is_day = rewriter.types.family(moment) is Family.DATE or rewriter.subject.source(moment).upper() == "CURRENT DATE"
    parts = [(sign, span) for sign, each in zip(node.operators, spans, strict=True) for span in _spans(each, rewriter)]
    kind = _TIMESTAMPS.get(rewriter.target.engine, "")
    if is_day and kind and rewriter.catalog.engine == "postgresql" and is_shown(node, rewriter):
        text = f"CAST({text} AS {kind})"
        is_day = False
    for sign, span in parts:
        amount = span.amount
        if span.factor is not None:
            count = rewriter.node(span.factor)
            count = count if isinstance(span.factor, Literal | Name) else f"({count})"
            amount = count if amount in ("", "1") else f"{count} * {amount}"
        if sign == "-":
            amount = amount[1:] if amount.startswith("-") else f"-{amount}"
        if is_day and span.unit in _CLOCK_UNITS and rewriter.target.engine == "sqlserver":
            text = f"CAST({text} AS datetime2(6))"  # which a date is not moved by
        text = shifted(text, amount, span.unit, rewriter)
    return text
