"""What SQLite's operators and functions give where those of MySQL and MariaDB give something else, or are not there.

Source: SQLite documentation, "SQL Language Expressions", "Built-In Scalar SQL Functions" and "Datatypes In SQLite"; MySQL 8.4
Reference Manual, "Operators" and "String Functions and Operators".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.collations import EXACT
from hullsound.sql.tree import Call, Cast, Comparison, Literal, Node, Operation

from .mysql_shown_texts import add_joined_moments

_ON_BITS: Final = frozenset(("&", "|", "~", "<<"))
_COMPARED: Final = frozenset(("=", "==", "<>", "!=", "<", ">", "<=", ">="))
_SEARCHED: Final = frozenset(("TRIM", "LTRIM", "RTRIM"))


def add_for_sqlite(rewriter: Rewriter) -> None:
    """Add the points of comparisons, operators and calls."""
    add_joined_moments(rewriter)
    for comparison in rewriter.subject.all(Comparison):
        _add_comparison(comparison, rewriter)
    for node in rewriter.subject.all(Operation):
        _add_operation(node, rewriter)
    for cast in rewriter.subject.all(Cast):
        if rewriter.types.family(cast.value) is Family.NUMBER and rewriter.types.family(cast) is Family.TEXT:
            rewriter.wrap(cast.value, lambda r, value=cast.value: f"CAST({r.node(value)} AS DOUBLE)", rank=4)  # type: ignore[misc]
    for call in rewriter.subject.all(Call):
        form = _CALLS.get((call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)


def _add_comparison(test: Comparison, rewriter: Rewriter) -> None:
    words = rewriter.words[test.operands[0].last : test.last]
    if test.operator == "IS" and len(test.operands) == 2:
        rewriter.wrap(test, partial(_same, test), rank=2)
    elif test.operator == "IS NULL" and "IS" not in words:  # ISNULL, NOTNULL and NOT NULL
        rewriter.replace(test.operands[0].last, test.last, "IS NULL" if words == ["ISNULL"] else "IS NOT NULL")
    elif test.operator == "LIKE":
        for operand in test.operands[:2]:
            rewriter.wrap(operand, lambda r, node=operand: f"LOWER({r.node(node)})", rank=6)  # type: ignore[misc]


def _same(test: Comparison, rewriter: Rewriter) -> str:
    text = " <=> ".join(rewriter.node(each) for each in test.operands)
    return f"(NOT ({text}))" if test.negated else f"({text})"


def _add_operation(node: Operation, rewriter: Rewriter) -> None:
    operators, kinds = set(node.operators), [rewriter.types.family(each) for each in node.operands]
    if operators <= {*_ON_BITS, ">>"}:
        for operand, kind in zip(node.operands, kinds, strict=True):
            if kind is Family.NUMBER:
                rewriter.wrap(operand, lambda r, each=operand: f"TRUNCATE({r.node(each)}, 0)", rank=4)  # type: ignore[misc]
    if operators <= _ON_BITS:
        rewriter.wrap(node, lambda r: f"CAST({r.node(node)} AS SIGNED)", rank=4)
    elif operators == {">>"} and len(node.operands) == 2:
        rewriter.wrap(node, partial(_moved_right, node), rank=4)
    elif operators == {"COLLATE"}:
        rewriter.wrap(node, partial(_collated, node), rank=2)
    elif operators == {"||"}:
        for operand, kind in zip(node.operands, kinds, strict=True):
            if kind is Family.NUMBER:
                rewriter.wrap(operand, lambda r, each=operand: f"CAST({r.node(each)} AS DOUBLE)", rank=4)  # type: ignore[misc]
    elif "/" in operators and Family.NUMBER in kinds and set(kinds) <= NUMBERS:
        first = node.operands[0]
        rewriter.wrap(first, lambda r: f"CAST({r.node(first)} AS DOUBLE)", rank=4)
    elif len(node.operands) == 2 and operators <= _COMPARED and set(kinds) == {Family.DATE, Family.TIMESTAMP}:
        rewriter.add(Point(node.first, node.last, _refuse_moments, rank=5))


def _moved_right(node: Operation, rewriter: Rewriter) -> str:
    """The sign of a number that is moved to the right stays."""
    value, count = (rewriter.node(each) for each in node.operands)
    return f"CAST(FLOOR({value} / (1 << {count})) AS SIGNED)"


def _collated(node: Operation, rewriter: Rewriter) -> str:
    name = rewriter.words[node.last - 1].strip('"[]`').upper()
    collation = {"NOCASE": "utf8mb4_general_ci", "BINARY": EXACT}.get(name)
    if collation is None:
        raise CannotDraft(f"the collation {name.lower()}")
    return f"{rewriter.node(node.operands[0])} COLLATE {collation}"


def _refuse_moments(rewriter: Rewriter) -> str:
    raise CannotDraft("a date compared with a moment, as texts of other lengths")


def _is_plain(node: Node, rewriter: Rewriter, least: int) -> bool:
    text = rewriter.subject.source(node)
    return text.isdigit() and int(text) >= least


def _part(call: Call, rewriter: Rewriter) -> str:
    _text, start, *length = call.arguments
    if not _is_plain(start, rewriter, 1) or not all(_is_plain(each, rewriter, 0) for each in length):
        raise CannotDraft("a part of a text by a place or length that is not a constant above 0")
    return f"SUBSTR({rewriter.nodes(call.arguments)})"


def _trimmed(call: Call, rewriter: Rewriter) -> str:
    sign = text_value(call.arguments[1], rewriter)
    if sign is None or len(sign) != 1:
        raise CannotDraft(f"{call.parts[0].lower()} of several signs")
    side = {"TRIM": "BOTH", "LTRIM": "LEADING", "RTRIM": "TRAILING"}[call.parts[0]]
    return f"TRIM({side} {rewriter.node(call.arguments[1])} FROM {rewriter.node(call.arguments[0])})"


def _rounded(call: Call, rewriter: Rewriter) -> str:
    """A half is rounded away from zero; MySQL takes that of a float to the even number."""
    value, *digits = call.arguments
    text = rewriter.node(value)
    if not isinstance(value, Literal):
        text = f"CAST({text} AS DECIMAL(65,20))"
    return f"ROUND({', '.join([text, *map(rewriter.node, digits)])})"


def _folded(call: Call, rewriter: Rewriter) -> str:
    """SQLite folds the letters of ASCII alone."""
    text = text_value(call.arguments[0], rewriter)
    if text is not None and not text.isascii():
        raise CannotDraft("letters beyond ASCII, of which SQLite changes no case")
    return f"{call.parts[0]}({rewriter.node(call.arguments[0])})"


_CALLS: Final = {
    ("SUBSTR", 2): _part, ("SUBSTR", 3): _part, ("SUBSTRING", 2): _part, ("SUBSTRING", 3): _part,
    **{(name, 2): _trimmed for name in _SEARCHED}, ("ROUND", 1): _rounded, ("ROUND", 2): _rounded,
    ("LOWER", 1): _folded, ("UPPER", 1): _folded,
}  # fmt: skip
"""What writes a call anew, by its name and number of arguments."""
