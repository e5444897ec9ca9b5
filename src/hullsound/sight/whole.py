"""Whether an expression is a whole number, so far as the statement tells, and what must hold of columns for it to be one."""

from collections.abc import Iterable
from typing import Final

from hullsound.analyze.signatures import choices_of, is_null, signature_of
from hullsound.analyze.subject import Subject
from hullsound.analyze.types import Family, family_of_logical
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
            return _all_needs((each for each in choices_of(node, subject.engine) if not is_null(each)), subject)
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


def _name_needs(name: Name, subject: Subject) -> list[Need] | None:
    if len(name.parts) == 1 and name.parts[0] in subject.scope.declared:
        kind = subject.scope.type_at(name.parts[0], name)
        if kind is not None and kind.borrowed == "TYPE" and len(kind.reference) > 1:
            return [(kind.reference[-2], kind.reference[-1], "integer?")]
        if kind is None:
            counts = any(loop.form == "range" and loop.variable == name.parts[0] for loop in subject.all(Loop))
            return [] if counts else None
        return [] if _is_whole_type(kind, subject.engine) else None
    column = value_of(name, subject).column
    return [(*column, "integer?")] if column is not None else None


def _call_needs(call: Call, subject: Subject) -> list[Need] | None:
    signature = signature_of(call, subject.engine)
    if signature is not None and family_of_logical(signature.gives) is Family.INTEGER:
        return []
    if call.parts == ("ISNULL",):  # of one argument it says whether, of two it is COALESCE
        return _all_needs(call.arguments, subject)
    values = choices_of(call, subject.engine)
    if signature is not None and signature.keeps_whole:
        values = call.arguments[:1]
    return _all_needs((each for each in values if not is_null(each)), subject) if values else None


def _is_whole_type(kind: TypeName, engine: str) -> bool:
    if kind.name in _COUNTERS or kind.name.split(" ")[0] in ("SIGNED", "UNSIGNED"):
        return True
    logical = logical_type(engine, data_type(kind))
    return logical is not None and logical.kind in _KINDS
