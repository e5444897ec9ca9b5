"""Values of unlike types that meet in a draft, where PostgreSQL has no implicit cast (PostgreSQL 18, "Type Conversion").

Other engines convert them by themselves. Only values of which both kinds are known count: what is unknown passes.
"""

import re
from collections.abc import Iterator
from typing import Final

from hullsound.analyze.choices import compared_choices, listed
from hullsound.analyze.signatures import choices_of, signature_of
from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.catalog.definitions import data_type
from hullsound.draft.conversions.row_values import inserted_literals, inserted_types
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.literals import is_no_day, string_content
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    Call,
    Case,
    Cast,
    ColumnDefinition,
    Comparison,
    ConstraintDefinition,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Select,
    Update,
)

from .row_keys import rows_at
from .unknown_columns import inner

ENGINE: Final = "postgresql"
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))
_ARITHMETIC: Final = frozenset("+-*/%")
_BITWISE: Final = frozenset(("&", "|", "#", "<<", ">>"))
_LARGEST_WHOLE: Final = 2**63 - 1
_CONNECTED: Final = frozenset(("AND", "OR", "NOT"))
_ALIKE: Final = {
    Family.INTEGER: Family.NUMBER, Family.DATE: Family.TIMESTAMP, Family.BITS: Family.UNKNOWN, Family.JSON: Family.UNKNOWN,
    Family.UUID: Family.UNKNOWN,
}  # fmt: skip
"""Families that mix with another, or of which nothing is said."""
_READABLE: Final = {
    Family.INTEGER: re.compile(r"\s*[+-]?\d+\s*"),
    Family.NUMBER: re.compile(
        r"\s*[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*|\s*[+-]?(?:NaN|inf(?:inity)?)\s*", re.IGNORECASE
    ),
    Family.TIMESTAMP: re.compile(r"(?!.*\d:\d\d:\d\d:\d).*", re.DOTALL),
    Family.DATE: re.compile(r".*", re.DOTALL),
    Family.BOOLEAN: re.compile(
        r"\s*(?:t|tr|tru|true|f|fa|fal|fals|false|y|ye|yes|n|no|on|of|off|1|0)\s*", re.IGNORECASE
    ),
}
_MOMENT: Final = re.compile(
    r"\s*(?:\d{1,4}[-/. ]|\d{6,8}(?!\d)|(?:mon|tue|wed|thu|fri|sat|sun|jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec|now|today"
    r"|tomorrow|yesterday|epoch|-?infinity)|\d\d?:)",
    re.IGNORECASE,
)
"""How a text begins that can be cast to a moment."""

"""Texts that a column of numbers takes, and those that one of timestamps may take: a fraction stands behind a point, where
Transact-SQL lets it stand behind a colon as well (PostgreSQL 18, "Numeric Types", "Date/Time Types")."""
_ONE_TYPE: Final = frozenset(("COALESCE", "GREATEST", "LEAST"))
"""Functions whose arguments must all be of one family."""


def unlike_types(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    for node in read.all(Operation):
        yield from _operation_reasons(node, rewriter)
    for comparison in read.all(Comparison):
        yield from _comparison_reasons(comparison, rewriter)
    for column in read.all(ColumnDefinition):
        if column.default is not None and column.type is not None:
            yield from _kept_reason(rewriter.types.family_of(data_type(column.type)), column.default, rewriter)
    for update in read.all(Update):
        for place, value in update.assignments:
            yield from _kept_reason(rewriter.types.family(place), value, rewriter)
    for insert in read.all(Insert):
        yield from _insert_reasons(insert, rewriter)
    for call in read.all(Call):
        yield from _call_reasons(call, rewriter)
    for case in read.all(Case):
        yield from _choice_reasons(choices_of(case, rewriter.catalog.engine), rewriter)
        for test, _ in case.branches if case.subject is None else []:
            yield from _condition_reason(test, rewriter)
    for _, subject, tests in compared_choices(read):
        for test in tests:
            yield from _pair_reason(subject, test, rewriter)
    for cast in read.all(Cast):
        yield from _cast_reason(cast, rewriter)
    for block in read.all(Select):
        if block.where is not None:
            yield from _condition_reason(block.where, rewriter)
    tree = read.tree
    if isinstance(tree, AlterTable):
        for constraint in tree.constraints:
            yield from _unlike_keys(tree.name, constraint, rewriter)


def _comparison_reasons(comparison: Comparison, rewriter: Rewriter) -> Iterator[str]:
    first, *others = comparison.operands
    if comparison.operator in ("IN", "BETWEEN") or "DISTINCT" in comparison.operator:
        for other in others:
            for value in listed(other):
                yield from _pair_reason(first, value, rewriter)
    elif comparison.operator in ("IS TRUE", "IS FALSE", "IS UNKNOWN"):
        yield from _condition_reason(first, rewriter)
    elif comparison.operator in ("LIKE", "ILIKE", "SIMILAR"):
        for operand in comparison.operands:
            kind = _kind(operand, rewriter)
            if kind not in (Family.UNKNOWN, Family.TEXT, Family.BYTES) and not _is_open(operand):
                yield f"{comparison.operator} with a {kind}: {_shown(operand, rewriter)}"


def _operation_reasons(node: Operation, rewriter: Rewriter) -> Iterator[str]:
    operators = set(node.operators)
    if operators <= _COMPARED and len(node.operands) == 2:
        yield from _pair_reason(node.operands[0], node.operands[1], rewriter)
    elif operators <= _ARITHMETIC and len(node.operands) > 1:
        yield from _arithmetic_reasons(node, rewriter)
    elif operators <= _BITWISE:
        for literal in rewriter.subject.all(Literal):
            text = rewriter.words[literal.first]
            if node.first <= literal.first < node.last and text.isdecimal() and int(text) > _LARGEST_WHOLE:
                yield f"bits of a number that is no whole number of 64 bits: {text}"
    elif operators == {"||"}:
        kinds = [_kind(operand, rewriter) for operand in node.operands]
        if all(kind in (Family.NUMBER, Family.TIMESTAMP, Family.TIME, Family.BOOLEAN) for kind in kinds):
            yield f"|| without a text: {_shown(node, rewriter)}"
    elif operators <= _CONNECTED:
        for operand in node.operands:
            yield from _condition_reason(operand, rewriter)


def _condition_reason(node: Node, rewriter: Rewriter) -> Iterator[str]:
    kind = _kind(node, rewriter)
    if kind not in (Family.UNKNOWN, Family.BOOLEAN) and not _is_open(node):
        yield f"a condition that is a {kind}: {_shown(node, rewriter)}"


def _arithmetic_reasons(node: Operation, rewriter: Rewriter) -> Iterator[str]:
    kinds = [rewriter.types.family(operand) for operand in node.operands]
    for operand in node.operands:
        kind = _kind(operand, rewriter)
        if kind in (Family.TEXT, Family.BOOLEAN, Family.BYTES) and not _is_open(operand):
            yield f"arithmetic with a {kind}: {_shown(operand, rewriter)}"
        elif _is_open(operand) and set(kinds) - {Family.TEXT} <= NUMBERS:
            yield from _unreadable(Family.NUMBER, operand, rewriter)
    if "%" in node.operators:
        yield from _remainder_reason(node.operands, rewriter)
    moments = MOMENTS.intersection(kinds)
    for operand, kind in zip(node.operands, kinds, strict=True):
        is_number = bool(moments) and _kind(operand, rewriter) is Family.NUMBER
        if is_number and (kind is Family.NUMBER or Family.TIMESTAMP in moments):
            yield f"a number added to a {min(moments, key=str)}: {_shown(operand, rewriter)}"


def _remainder_reason(operands: list[Node], rewriter: Rewriter) -> Iterator[str]:
    """Say where a remainder is taken of a floating-point number, which PostgreSQL has for whole numbers and numeric alone."""
    for operand in operands:
        source = rewriter.types.source_type(operand)
        logical = logical_type(ENGINE, source) if source is not None else None
        if logical is not None and logical.kind == "float":
            yield f"the remainder of a floating-point number: {_shown(operand, rewriter)}"


def _cast_reason(cast: Cast, rewriter: Rewriter) -> Iterator[str]:
    """Say where PostgreSQL has no cast between two kinds: a truth value is an integer alone, and a moment no number."""
    given, wanted = _kind(cast.value, rewriter), rewriter.types.family(cast)
    value = inner(cast.value)
    if isinstance(value, Literal) and value.form == "string":
        yield from _unreadable(wanted, value, rewriter)
        text = string_content(rewriter.subject.source(value), ENGINE)
        if wanted in MOMENTS and (not _MOMENT.match(text)):
            yield f"the text {text[:40]!r} cast to a {wanted}"
    is_integer = cast.type.name in ("INTEGER", "INT", "INT4")
    no_moment = given in (Family.TIMESTAMP, Family.TIME) and wanted in (Family.INTEGER, Family.NUMBER, Family.BOOLEAN)
    no_number = given is Family.NUMBER and wanted in (Family.DATE, Family.TIMESTAMP, Family.TIME, Family.UUID)
    no_truth = given is Family.BOOLEAN and wanted in (Family.INTEGER, Family.NUMBER) and not is_integer
    if (no_moment or no_number or no_truth) and not _is_open(cast.value):
        yield f"a {given} cast to {cast.type.name.lower()}: {_shown(cast.value, rewriter)}"


def _pair_reason(one: Node, other: Node, rewriter: Rewriter) -> Iterator[str]:
    for place, value in ((one, other), (other, one)):
        if _is_open(value):
            is_name = isinstance(inner(place), Name)
            yield from _unreadable(rewriter.types.family(place) if is_name else _kind(place, rewriter), value, rewriter)
            return
    kinds = _kind(one, rewriter), _kind(other, rewriter)
    if all(kinds) and kinds[0] != kinds[1]:
        yield f"a {kinds[0]} compared with a {kinds[1]}: {_shown(one, rewriter)}, {_shown(other, rewriter)}"


def _kept_reason(wanted: Family, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a value is kept in a column that takes it neither as it is nor by an assignment cast; texts take all."""
    if _is_open(value):
        yield from _unreadable(wanted, value, rewriter)
        return
    given, column = _kind(value, rewriter), _alike(wanted)
    if given and column and given != column and column is not Family.TEXT:
        yield f"a {given} kept in a column of type {column}: {_shown(value, rewriter)}"


def _unreadable(wanted: Family, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a text literal stands for a number or timestamp and cannot be read as one."""
    pattern = _READABLE.get(wanted)
    value = inner(value)
    if pattern is not None and isinstance(value, Literal) and value.form == "string":
        text = rewriter.subject.source(value)
        content = string_content(text, ENGINE) if text.startswith("'") else ""
        if text.startswith("'") and (not pattern.fullmatch(content) or (wanted in MOMENTS and is_no_day(content))):
            yield f"the text {text[:40]} where a {wanted} is wanted"


def _insert_reasons(insert: Insert, rewriter: Rewriter) -> Iterator[str]:
    kinds = [rewriter.types.family_of(each) for each in inserted_types(insert, rewriter)]
    if insert.query is not None:
        for block in insert.query.blocks:
            if isinstance(block, Select) and len(block.items) == len(kinds):
                for kind, item in zip(kinds, block.items, strict=True):
                    yield from _kept_reason(kind, item.value, rewriter)
    if insert.table is None or rewriter.words[rows_at(insert)] != "VALUES":
        return
    places = {
        place
        for place, kind in enumerate(kinds)
        if kind in (Family.INTEGER, Family.NUMBER, Family.DATE, Family.TIMESTAMP, Family.BOOLEAN)
    }
    for place, literal in inserted_literals(insert, places, rewriter):
        yield from _kept_reason(kinds[place], literal, rewriter)


def _kind(node: Node, rewriter: Rewriter) -> Family:
    """Return the family of a value, UNKNOWN where any part of it is not known: intervals among others."""
    node = inner(node)
    if isinstance(node, Operation):
        return _operation_kind(node, rewriter)
    choices = choices_of(node, rewriter.catalog.engine)
    if choices:
        kinds = {_kind(each, rewriter) for each in choices if not _is_open(each)}
        return kinds.pop() if len(kinds) == 1 else Family.UNKNOWN
    kind = rewriter.types.family(node)
    return _alike(kind)


def _alike(family: Family) -> Family:
    return _ALIKE.get(family, family)


def _operation_kind(node: Operation, rewriter: Rewriter) -> Family:
    operators = set(node.operators)
    if operators <= _COMPARED | _CONNECTED:
        return Family.BOOLEAN
    kinds = [_kind(operand, rewriter) for operand in node.operands]
    if operators == {"||"}:
        return Family.TEXT if Family.TEXT in kinds else Family.UNKNOWN
    return Family.NUMBER if operators <= _ARITHMETIC and set(kinds) == {Family.NUMBER} else Family.UNKNOWN


def _is_open(node: Node) -> bool:
    """Whether PostgreSQL reads a value as whatever stands beside it: text literals and NULL."""
    node = inner(node)
    return isinstance(node, Literal) and node.form in ("string", "null")


def _shown(node: Node, rewriter: Rewriter) -> str:
    return " ".join(rewriter.tokens.source(node.first, node.last).split())[:60]


def _unlike_keys(name: tuple[str, ...], key: ConstraintDefinition, rewriter: Rewriter) -> Iterator[str]:
    """Say where a foreign key and the key that it refers to are of types that PostgreSQL cannot compare."""
    if key.form != "foreign key" or not key.reference_columns:
        return
    own, other = (rewriter.catalog.table(parts, rewriter.default_schema) for parts in (name, key.references))
    if own is None or other is None:
        return
    for mine, theirs in zip(key.columns, key.reference_columns, strict=False):
        kinds = [
            _alike(kind)
            for table, wanted in ((own, mine), (other, theirs))
            for column in table.columns if column.name == wanted
            for kind in (rewriter.types.family_of(column.type),)
        ]  # fmt: skip
        if len(kinds) == 2 and all(kinds) and kinds[0] != kinds[1]:
            yield f"a foreign key of type {kinds[0]} that refers to a {kinds[1]}: {mine.lower()}"


def _call_reasons(call: Call, rewriter: Rewriter) -> Iterator[str]:
    name = call.parts[-1]
    if len(call.parts) > 1 or not call.arguments:
        return
    if name in _ONE_TYPE:
        yield from _choice_reasons(call.arguments, rewriter)
    if name == "NULLIF" and len(call.arguments) == 2:
        yield from _pair_reason(call.arguments[0], call.arguments[1], rewriter)
    if name == "MOD":
        yield from _remainder_reason(call.arguments, rewriter)
    signature = signature_of(call, ENGINE)
    for taken, argument in zip(signature.takes if signature is not None else (), call.arguments, strict=False):
        kind = _kind(argument, rewriter) if taken and not _is_open(argument) else Family.UNKNOWN
        if kind and kind not in {_alike(Family(each)) for each in taken.split("|")}:
            yield f"{name.lower()} of a {kind}: {_shown(argument, rewriter)}"


def _choice_reasons(values: list[Node], rewriter: Rewriter) -> Iterator[str]:
    kinds = {kind for value in values if not _is_open(value) and (kind := _kind(value, rewriter))}
    if kinds == {Family.NUMBER}:
        for value in values:
            yield from _unreadable(Family.NUMBER, value, rewriter)
    if len(kinds) > 1:
        yield f"a choice between {' and '.join(sorted(map(str, kinds)))}: {_shown(values[0], rewriter)}"
