"""Fixers for parts of texts by place and length, which count from the end or are nothing below one."""

import re

from hullsound.draft.conversions.edge_values import not_negative
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Literal, Node

from . import call_of, fixer


@fixer("substr_counted")
def fix_substr_counted(place: Found, rewriter: Rewriter) -> str:
    """Take a part of a text; a place below 0 counts from the end."""
    call = call_of(place)
    values = call.arguments
    if len(values) < 2:  # SUBSTRING(text FROM place FOR length)
        return f"substring({rewriter.text(call.opening + 1, call.closing)})"
    start = rewriter.subject.source(values[1]).replace(" ", "")
    text = rewriter.node(values[0])
    if re.fullmatch(r"-\d+", start) and rewriter.catalog.engine == "sqlite":
        if len(values) == 2:
            return f"right({text}, {start[1:]})"
        return f"substr({text}, length({text}) - {int(start[1:]) - 1}, {rewriter.node(values[2])})"
    if re.fullmatch(r"-\d+", start):
        tail = f"right({text}, {start[1:]})"
        tail = f"left({tail}, {rewriter.node(values[2])})" if len(values) > 2 else tail
        return f"(CASE WHEN length({text}) < {start[1:]} THEN '' ELSE {tail} END)"
    is_certain = re.fullmatch(r"0*[1-9]\d*", start) is not None
    if rewriter.catalog.engine in ("mysql", "mariadb") and not is_certain:
        return _part_from(text, rewriter.node(values[1]), values[2:], rewriter)
    if rewriter.catalog.engine == "sqlite":
        return _part_of_sqlite(
            text, rewriter.node(values[1]), values[2:], rewriter, is_certain=is_certain or start == "0"
        )
    length = f", {not_negative(values[2], rewriter.node(values[2]))}" if len(values) > 2 else ""
    return f"substr({text}, {rewriter.node(values[1])}{length})"


def _part_of_sqlite(text: str, start: str, length: list[Node], rewriter: Rewriter, *, is_certain: bool) -> str:
    """Take a part from a place that may be below 0, and so many signs before it where the length is below 0.

    Source: SQLite documentation, "Built-In Scalar SQL Functions": substr().
    """
    if not length and not is_certain:
        return f"(CASE WHEN {start} < 0 THEN right({text}, -({start})) ELSE substr({text}, {start}) END)"
    if not length:
        return f"substr({text}, {start})"
    place = start if is_certain else f"(CASE WHEN {start} < 0 THEN length({text}) + {start} + 1 ELSE {start} END)"
    count = rewriter.node(length[0])
    if isinstance(length[0], Literal):
        return f"substr({text}, {place}, {count})"
    before = f"substr({text}, {place} + {count}, -({count}))"
    return f"(CASE WHEN {count} < 0 THEN {before} ELSE substr({text}, {place}, {count}) END)"


def _part_from(text: str, start: str, length: list[Node], rewriter: Rewriter) -> str:
    """Take a part from a place that is known only then: below 0 it counts from the end, at 0 and beyond the text there is nothing.

    Source: MySQL 8.4 Reference Manual, "String Functions and Operators": SUBSTRING().
    """
    if start == "0":
        return f"left({text}, 0)"
    tail = f", {not_negative(length[0], rewriter.node(length[0]))}" if length else ""
    return (
        f"(CASE WHEN {start} > 0 THEN substr({text}, {start}{tail}) "
        f"WHEN {start} < 0 AND -({start}) <= length({text}) THEN substr({text}, length({text}) + {start} + 1{tail}) "
        f"WHEN {start} <= 0 THEN left({text}, 0) END)"
    )
