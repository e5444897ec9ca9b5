"""How many digits behind the point MySQL gives: a quotient has four more than what is divided.

Source: MySQL 8.4 Reference Manual, "Arithmetic Operators" (div_precision_increment) and "Precision Math".
"""

from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of, is_null, signature_of
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Case, Cast, Literal, Name, Node, Operation, Paren, Subquery

from .implicit import selected

_MORE: Final = 4
_MOST: Final = 30
_WHOLE: Final = frozenset(("&", "|", "^", "<<", ">>", "DIV"))
"""Operators that give whole numbers."""
_KINDS: Final = frozenset(("integer", "unsigned", "serial", "boolean"))


def add_scale_points(rewriter: Rewriter) -> None:
    """Round quotients and averages of exact numbers to the digits that the source gives."""
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators and set(node.operators) <= {"*", "/"}:
            scale = scale_of(node, rewriter)
            if scale >= 0:
                rewriter.wrap(node, partial(_rounded, node, scale), rank=2)
    for call in rewriter.subject.all(Call):
        if call.parts == ("AVG",) and len(call.arguments) == 1:
            scale = scale_of(call, rewriter)
            if scale >= 0:
                rewriter.add(Point(call.first, call.last, partial(_rounded, call, scale), rank=2))


def add_strict_scales(rewriter: Rewriter) -> None:
    """Round quotients and averages for Oracle and SQL Server, which would cut off those of whole numbers."""
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators and set(node.operators) <= {"*", "/"}:
            rewriter.wrap(node, partial(_strict_quotient, node, scale_of(node, rewriter)), rank=2)
    for call in rewriter.subject.all(Call):
        scale = scale_of(call, rewriter) if call.parts == ("AVG",) and len(call.arguments) == 1 else -1
        if scale >= 0:
            rewriter.wrap(call, partial(_rounded, call, scale), rank=2)


def _strict_quotient(node: Operation, scale: int, rewriter: Rewriter) -> str:
    if scale < 0 and any(rewriter.types.family(each) is not Family.NUMBER for each in node.operands):
        raise CannotDraft("a quotient of numbers whose digits are not known")
    text = rewriter.node(node.operands[0])
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        is_decimal = operator == "/" and scale >= 0 and rewriter.target.engine == "sqlserver"
        left = f"CAST({text} AS decimal(28, 10))" if is_decimal else text
        text = f"{left} {operator} {rewriter.node(operand)}"
    return f"ROUND({text}, {scale})" if scale >= 0 else text


def _rounded(node: Node, scale: int, rewriter: Rewriter) -> str:
    return f"round({rewriter.node(node)}, {scale})"


def scale_of(node: Node, rewriter: Rewriter) -> int:
    """Return the digits behind the point of an exact number; -1 for another value, or one that is not known."""
    match node:
        case Paren():
            return scale_of(node.inner, rewriter)
        case Literal() if node.form == "number":
            text = rewriter.subject.source(node)
            return len(text.partition(".")[2]) if text.replace(".", "", 1).isdigit() else -1
        case Name() | Cast():
            return _of_type(node, rewriter)
        case Call() if len(node.parts) == 1:
            return _of_call(node, rewriter)
        case Operation():
            return _of_operation(node, rewriter)
        case Case():
            scales = [
                scale_of(each, rewriter) for each in choices_of(node, rewriter.catalog.engine) if not is_null(each)
            ]
            return _widest(scales) if scales else -1
        case Subquery():
            value = selected(node)
            return scale_of(value, rewriter) if value is not None else -1
    return -1


def _of_type(node: Node, rewriter: Rewriter) -> int:
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    if source is not None and source.name.split(" ")[0] in ("SIGNED", "UNSIGNED"):
        return 0
    if source is None or logical is None:
        return -1
    if logical.kind in _KINDS:
        return 0
    if logical.kind == "decimal":
        return int(source.arguments[1]) if len(source.arguments) > 1 and source.arguments[1].isdigit() else 0
    return -1


def _of_call(node: Call, rewriter: Rewriter) -> int:
    signature = signature_of(node, rewriter.catalog.engine)
    if signature is None:
        return -1
    if node.parts == ("AVG",) and len(node.arguments) == 1:
        inner = scale_of(node.arguments[0], rewriter)
        return min(inner + _MORE, _MOST) if inner >= 0 else -1
    if node.parts == ("ROUND",) and len(node.arguments) == 2:
        digits = rewriter.subject.source(node.arguments[1])
        return int(digits) if digits.isdigit() and scale_of(node.arguments[0], rewriter) >= 0 else -1
    if signature.gives == "integer":
        return 0
    values = node.arguments[:1] if signature.keeps_whole else choices_of(node, rewriter.catalog.engine)
    return _widest([scale_of(each, rewriter) for each in values]) if values else -1


def _of_operation(node: Operation, rewriter: Rewriter) -> int:
    if node.operators == ["-"] and len(node.operands) == 1:
        return scale_of(node.operands[0], rewriter)
    scales = [scale_of(each, rewriter) for each in node.operands]
    if min(scales) < 0 or len(scales) != len(node.operators) + 1:
        return -1
    scale = scales[0]
    for operator, other in zip(node.operators, scales[1:], strict=True):
        if operator == "/":
            scale += _MORE
        elif operator == "*":
            scale += other
        elif operator in ("+", "-", "%"):
            scale = max(scale, other)
        elif operator in _WHOLE:
            scale = 0
        else:
            return -1
    return min(scale, _MOST)


def _widest(scales: list[int]) -> int:
    return max(scales) if min(scales) >= 0 else -1
