"""Whether an expression is a whole number, so far as the statement tells, and what must hold of columns for it to be one."""

from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.catalog.definitions import data_type
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    Literal,
    Loop,
    Name,
    Node,
    Operation,
    Paren,
    Subquery,
    TypeName,
)

from .detector import Need
from .values import only_value, value_of

_WHOLE_CALLS: Final = frozenset(
    """COUNT COUNT_BIG LENGTH LEN DATALENGTH CHAR_LENGTH CHARACTER_LENGTH OCTET_LENGTH INSTR CHARINDEX PATINDEX LOCATE POSITION
    ASCII UNICODE ORD DATEDIFF TIMESTAMPDIFF YEAR MONTH DAY DAYOFMONTH HOUR MINUTE SECOND QUARTER WEEK DAYOFWEEK WEEKDAY DAYOFYEAR
    DATEPART TO_DAYS UNIX_TIMESTAMP PERIOD_DIFF FIELD FIND_IN_SET STRCMP REGEXP_COUNT REGEXP_INSTR ROW_NUMBER RANK DENSE_RANK
    NTILE BIT_COUNT SIGN FLOOR CEIL CEILING""".split()
)
_KEPT: Final = {
    **dict.fromkeys(("ABS", "SUM", "MAX", "MIN", "FIRST_VALUE", "LAST_VALUE", "LAG", "LEAD", "ANY_VALUE"), (0, 1)),
    **dict.fromkeys(("MOD", "COALESCE", "NVL", "IFNULL", "GREATEST", "LEAST", "BITAND"), (0, None)),
    **dict.fromkeys(("IIF", "IF", "NVL2"), (1, None)),
    "NULLIF": (0, 1),
}  # fmt: skip
"""Functions whose value is whole where arguments are, and the first and last of those arguments."""
_OPERATORS: Final = frozenset(("+", "-", "*", "%", "MOD", "DIV"))
_KINDS: Final = frozenset(("integer", "unsigned", "serial", "bit", "decimal-whole"))
_COUNTERS: Final = frozenset(("PLS_INTEGER", "BINARY_INTEGER", "SIMPLE_INTEGER", "NATURAL", "POSITIVE"))


def whole_needs(node: Node, subject: Subject) -> list[Need] | None:
    """Return what must hold of columns for an expression to be a whole number; None if it is not one."""
    match node:
        case Literal():
            return [] if subject.words[node.first].isdecimal() else None
        case Paren():
            return whole_needs(node.inner, subject)
        case Name():
            return _name_needs(node, subject)
        case Cast():
            return [] if _is_whole_type(node.type, subject.engine) else None
        case Case():
            results = [result for _, result in node.branches] + ([node.otherwise] if node.otherwise else [])
            return _all_needs(_not_null(results), subject)
        case Call() if len(node.parts) == 1:
            return _call_needs(node, subject)
        case Operation() if len(node.operands) == 1:
            return whole_needs(node.operands[0], subject) if node.operators[0] in ("+", "-") else None
        case Operation():
            return _all_needs(node.operands, subject) if set(node.operators) <= _OPERATORS else None
        case Subquery() if not node.form:
            value = only_value(node.query)
            return whole_needs(value, subject) if value is not None else None
    return None


def _all_needs(nodes: Iterable[Node], subject: Subject) -> list[Need] | None:
    needs: list[Need] = []
    for node in nodes:
        needed = whole_needs(node, subject)
        if needed is None:
            return None
        needs += needed
    return needs


def _not_null(nodes: Iterable[Node]) -> Iterator[Node]:
    return (node for node in nodes if not (isinstance(node, Literal) and node.form == "null"))


def _name_needs(name: Name, subject: Subject) -> list[Need] | None:
    if len(name.parts) == 1 and name.parts[0] in subject.scope.declared:
        kind = subject.scope.declared[name.parts[0]]
        if kind is not None and kind.borrowed == "TYPE" and len(kind.reference) > 1:
            return [(kind.reference[-2], kind.reference[-1], "integer?")]
        if kind is None:
            counts = any(loop.form == "range" and loop.variable == name.parts[0] for loop in subject.all(Loop))
            return [] if counts else None
        return [] if _is_whole_type(kind, subject.engine) else None
    column = value_of(name, subject).column
    return [(*column, "integer?")] if column is not None else None


def _call_needs(call: Call, subject: Subject) -> list[Need] | None:
    name = call.parts[0]
    if name in _WHOLE_CALLS:
        return []
    if name == "ISNULL":  # of one argument it says whether, of two it is COALESCE
        return _all_needs(call.arguments, subject)
    if name == "DECODE":
        rest = call.arguments[1:]
        results = rest[1::2] + (rest[-1:] if len(rest) % 2 else [])
        return _all_needs(_not_null(results), subject)
    if name not in _KEPT or not call.arguments:
        return None
    first, last = _KEPT[name]
    return _all_needs(_not_null(call.arguments[first:last]), subject)


def _is_whole_type(kind: TypeName, engine: str) -> bool:
    if kind.name in _COUNTERS or kind.name.split(" ")[0] in ("SIGNED", "UNSIGNED"):
        return True
    logical = logical_type(engine, data_type(kind))
    return logical is not None and logical.kind in _KINDS
