"""What MySQL and Oracle give at the edges, where PostgreSQL gives an error or another value: divisors of zero, short lengths.

Sources: MySQL 8.4 Reference Manual, "Arithmetic Operators", "String Functions and Operators", "Date and Time Types".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Literal, Node, Operation

from .dividing import is_kept, not_zero

_ARITHMETIC: Final = frozenset(("+", "-", "*", "/", "%", "DIV", "MOD"))
_MOMENTS: Final = MOMENTS | {Family.TIME}
_CUTTING: Final = frozenset(("LEFT", "RIGHT"))
_FILLING: Final = frozenset(("LPAD", "RPAD"))


def add_edge_values(rewriter: Rewriter) -> None:
    """Add the points of divisions, lengths and moments in sums."""
    for node in rewriter.subject.all(Operation):
        if set(node.operators) <= _ARITHMETIC and len(node.operands) > 1:
            _add_divisors(node, rewriter)
            _refuse_moments(node, rewriter)
    for call in rewriter.subject.all(Call):
        if len(call.parts) > 1 or len(call.arguments) < 2:
            continue
        name, count = call.parts[0], call.arguments[1]
        if name == "MOD" and not is_kept(call, rewriter):
            rewriter.wrap(count, partial(_divisor, count), rank=7)
        elif name in _CUTTING and not isinstance(count, Literal):
            rewriter.wrap(count, partial(_length, count), rank=7)
        elif name in _FILLING and not isinstance(count, Literal):
            rewriter.wrap(count, partial(_length_or_null, count), rank=7)


def add_dividing_edges(rewriter: Rewriter) -> None:
    """Add the points of divisors and of moments in sums alone, for targets where dividing by zero does not give NULL."""
    for node in rewriter.subject.all(Operation):
        if set(node.operators) <= _ARITHMETIC and len(node.operands) > 1:
            for operator, divisor in zip(node.operators, node.operands[1:], strict=True):
                if operator in ("/", "%", "MOD", "DIV"):
                    rewriter.wrap(divisor, partial(_divisor, divisor), rank=7)
            _refuse_moments(node, rewriter)
    for call in rewriter.subject.all(Call):
        if call.parts == ("MOD",) and len(call.arguments) == 2:
            rewriter.wrap(call.arguments[1], partial(_divisor, call.arguments[1]), rank=7)


def add_oracle_remainders(rewriter: Rewriter) -> None:
    """MOD by zero gives the first argument (Oracle SQL Language Reference, "MOD")."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("MOD",) and len(call.arguments) == 2:
            divisor = call.arguments[1]
            if not (isinstance(divisor, Literal) and rewriter.subject.source(divisor).strip("0.")):
                rewriter.wrap(call, partial(_whole_by_zero, call), rank=8)


def _whole_by_zero(call: Call, rewriter: Rewriter) -> str:
    value, divisor = (rewriter.node(each) for each in call.arguments)
    return value if divisor == "0" else f"CASE WHEN {divisor} = 0 THEN {value} ELSE {rewriter.node(call)} END"


def _add_divisors(node: Operation, rewriter: Rewriter) -> None:
    """Dividing by zero gives NULL, unless the value is kept; quotients of whole numbers are cared for as fractions."""
    if is_kept(node, rewriter):
        return
    for place, operator in enumerate(node.operators, start=1):
        is_whole = operator == "/" and all(rewriter.types.can_be_whole(each) for each in node.operands[: place + 1])
        if operator in ("/", "%", "MOD") and not is_whole and place < len(node.operands):
            divisor = node.operands[place]
            rewriter.wrap(divisor, partial(_divisor, divisor), rank=7)


def _refuse_moments(node: Operation, rewriter: Rewriter) -> None:
    """A moment in a sum is the number that its digits make; one that an INTERVAL moves is a moment."""
    has_interval = any(isinstance(each, Operation) and each.operators == ["INTERVAL"] for each in node.operands)
    if not has_interval and any(rewriter.types.family(each) in _MOMENTS for each in node.operands):
        rewriter.add(Point(node.first, node.last, _refuse, rank=9))


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a moment used as the number that its digits make")


def _divisor(node: Node, rewriter: Rewriter) -> str:
    return not_zero(node, rewriter.node(node), rewriter)


def _length(node: Node, rewriter: Rewriter) -> str:
    return not_negative(node, rewriter.node(node))


def _length_or_null(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return f"CASE WHEN {text} >= 0 THEN {text} END"


def not_negative(node: Node, text: str) -> str:
    """Write a length that is 0 where it would be below; NULL stays NULL."""
    return text if isinstance(node, Literal) else f"CASE WHEN {text} < 0 THEN 0 ELSE {text} END"
