"""Values of unlike types that meet in a draft, where PostgreSQL has no implicit cast (PostgreSQL 18, "Type Conversion").

Other engines convert them by themselves. Only values of which both kinds are known count: what is unknown passes.
"""

import re
from collections.abc import Iterator
from typing import Final

from hullsound.catalog.definitions import data_type
from hullsound.sql.literals import string_content
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    Call,
    Case,
    ColumnDefinition,
    Comparison,
    ConstraintDefinition,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Row,
    Select,
    Update,
)

from .rewrite import Rewriter
from .row_keys import rows_at
from .truth import inserted_literals, inserted_types
from .unknown_columns import inner
from .values import choices_of, kind_of, kind_of_type

ENGINE: Final = "postgresql"
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))
_ARITHMETIC: Final = frozenset("+-*/%")
_CONNECTED: Final = frozenset(("AND", "OR", "NOT"))
_FAMILIES: Final = {"integer": "number", "date": "timestamp", "bits": "", "json": "", "uuid": ""}
"""Kinds that mix with another, or of which nothing is said ('')."""
_READABLE: Final = {
    "integer": re.compile(r"\s*[+-]?\d+\s*"),
    "number": re.compile(
        r"\s*[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*|\s*[+-]?(?:NaN|inf(?:inity)?)\s*", re.IGNORECASE
    ),
    "timestamp": re.compile(r"(?!.*\d:\d\d:\d\d:\d).*", re.DOTALL),
}
"""Texts that a column of numbers takes, and those that one of timestamps may take: a fraction stands behind a point, where
Transact-SQL lets it stand behind a colon as well (PostgreSQL 18, "Numeric Types", "Date/Time Types")."""
_ONE_TYPE: Final = frozenset(("COALESCE", "GREATEST", "LEAST"))
"""Functions whose arguments must all be of one family."""
_FIRST_ARGUMENT: Final = {
    **dict.fromkeys(
        """UPPER LOWER INITCAP CHAR_LENGTH LPAD RPAD REPLACE TRANSLATE SPLIT_PART STRPOS LEFT RIGHT REVERSE REPEAT LTRIM RTRIM ASCII
        REGEXP_REPLACE TO_DATE TO_NUMBER STARTS_WITH""".split(), ("text",)),
    **dict.fromkeys("LENGTH SUBSTR SUBSTRING BTRIM TRIM OVERLAY MD5 STRING_AGG".split(), ("text", "bytes")),
    **dict.fromkeys("ABS ROUND CEIL CEILING FLOOR TRUNC SIGN SQRT POWER MOD EXP LN LOG AVG SUM".split(), ("number",)),
    "TO_CHAR": ("number", "timestamp", "time"),
}  # fmt: skip
"""Functions and the families that their first argument may be of: PostgreSQL 18, "Functions and Operators"."""


def unlike_types(read: ReadStatement, rewriter: Rewriter) -> Iterator[str]:
    for node in read.all(Operation):
        yield from _operation_reasons(node, rewriter)
    for comparison in read.all(Comparison):
        if comparison.operator in ("IN", "BETWEEN"):
            first, *others = comparison.operands
            for other in others:
                for value in other.items if isinstance(other, Row) else [other]:
                    yield from _pair_reason(first, value, rewriter)
    for column in read.all(ColumnDefinition):
        if column.default is not None and column.type is not None:
            yield from _kept_reason(kind_of_type(data_type(column.type), rewriter), column.default, rewriter)
    for update in read.all(Update):
        for place, value in update.assignments:
            yield from _kept_reason(kind_of(place, rewriter), value, rewriter)
    for insert in read.all(Insert):
        yield from _insert_reasons(insert, rewriter)
    for call in read.all(Call):
        yield from _call_reasons(call, rewriter)
    for case in read.all(Case):
        yield from _choice_reasons(choices_of(case), rewriter)
    tree = read.tree
    if isinstance(tree, AlterTable):
        for constraint in tree.constraints:
            yield from _unlike_keys(tree.name, constraint, rewriter)


def _operation_reasons(node: Operation, rewriter: Rewriter) -> Iterator[str]:
    operators = set(node.operators)
    if operators <= _COMPARED and len(node.operands) == 2:
        yield from _pair_reason(node.operands[0], node.operands[1], rewriter)
    elif operators <= _ARITHMETIC and len(node.operands) > 1:
        for operand in node.operands:
            kind = _kind(operand, rewriter)
            if kind in ("text", "boolean", "bytes") and not _is_open(operand):
                yield f"arithmetic with a {kind}: {_shown(operand, rewriter)}"
    elif operators <= _CONNECTED:
        for operand in node.operands:
            kind = _kind(operand, rewriter)
            if kind not in ("", "boolean") and not _is_open(operand):
                yield f"a condition that is a {kind}: {_shown(operand, rewriter)}"


def _pair_reason(one: Node, other: Node, rewriter: Rewriter) -> Iterator[str]:
    for place, value in ((one, other), (other, one)):
        if _is_open(value):
            is_column = isinstance(inner(place), Name)
            yield from _unreadable(kind_of(place, rewriter), value, rewriter) if is_column else ()
            return
    kinds = _kind(one, rewriter), _kind(other, rewriter)
    if "" not in kinds and kinds[0] != kinds[1]:
        yield f"a {kinds[0]} compared with a {kinds[1]}: {_shown(one, rewriter)}, {_shown(other, rewriter)}"


def _kept_reason(wanted: str, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a value is kept in a column that takes it neither as it is nor by an assignment cast; texts take all."""
    if _is_open(value):
        yield from _unreadable(wanted, value, rewriter)
        return
    given, column = _kind(value, rewriter), _FAMILIES.get(wanted, wanted)
    if given and column and given != column and column != "text":
        yield f"a {given} kept in a column of type {column}: {_shown(value, rewriter)}"


def _unreadable(wanted: str, value: Node, rewriter: Rewriter) -> Iterator[str]:
    """Say where a text literal stands for a number or timestamp and cannot be read as one."""
    pattern = _READABLE.get(wanted)
    value = inner(value)
    if pattern is not None and isinstance(value, Literal) and value.form == "string":
        text = rewriter.subject.source(value)
        if text.startswith("'") and not pattern.fullmatch(string_content(text, ENGINE)):
            yield f"the text {text[:40]} where a {wanted} is wanted"


def _insert_reasons(insert: Insert, rewriter: Rewriter) -> Iterator[str]:
    kinds = [kind_of_type(each, rewriter) for each in inserted_types(insert, rewriter)]
    if insert.query is not None:
        for block in insert.query.blocks:
            if isinstance(block, Select) and len(block.items) == len(kinds):
                for kind, item in zip(kinds, block.items, strict=True):
                    yield from _kept_reason(kind, item.value, rewriter)
    if insert.table is None or rewriter.words[rows_at(insert)] != "VALUES":
        return
    places = {
        place for place, kind in enumerate(kinds) if kind in ("integer", "number", "date", "timestamp", "boolean")
    }
    for place, literal in inserted_literals(insert, places, rewriter):
        yield from _kept_reason(kinds[place], literal, rewriter)


def _kind(node: Node, rewriter: Rewriter) -> str:
    """Return the family of a value, '' where any part of it is not known: intervals among others."""
    node = inner(node)
    if isinstance(node, Operation):
        return _operation_kind(node, rewriter)
    choices = choices_of(node)
    if choices:
        kinds = {_kind(each, rewriter) for each in choices if not _is_open(each)}
        return kinds.pop() if len(kinds) == 1 else ""
    kind = kind_of(node, rewriter)
    return _FAMILIES.get(kind, kind)


def _operation_kind(node: Operation, rewriter: Rewriter) -> str:
    operators = set(node.operators)
    if operators <= _COMPARED | _CONNECTED:
        return "boolean"
    if operators == {"||"}:
        return "text" if any(_kind(operand, rewriter) == "text" for operand in node.operands) else ""
    is_number = operators <= _ARITHMETIC and {_kind(operand, rewriter) for operand in node.operands} == {"number"}
    return "number" if is_number else ""


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
            _FAMILIES.get(kind, kind)
            for table, wanted in ((own, mine), (other, theirs))
            for column in table.columns if column.name == wanted
            for kind in (kind_of_type(column.type, rewriter),)
        ]  # fmt: skip
        if len(kinds) == 2 and "" not in kinds and kinds[0] != kinds[1]:
            yield f"a foreign key of type {kinds[0]} that refers to a {kinds[1]}: {mine.lower()}"


def _call_reasons(call: Call, rewriter: Rewriter) -> Iterator[str]:
    name = call.parts[-1]
    if len(call.parts) > 1 or not call.arguments:
        return
    if name in _ONE_TYPE:
        yield from _choice_reasons(call.arguments, rewriter)
    taken, first = _FIRST_ARGUMENT.get(name), call.arguments[0]
    kind = _kind(first, rewriter) if taken is not None and not _is_open(first) else ""
    if taken is not None and kind and kind not in taken:
        yield f"{name.lower()} of a {kind}: {_shown(first, rewriter)}"


def _choice_reasons(values: list[Node], rewriter: Rewriter) -> Iterator[str]:
    kinds = {kind for value in values if not _is_open(value) and (kind := _kind(value, rewriter))}
    if len(kinds) > 1:
        yield f"a choice between {' and '.join(sorted(kinds))}: {_shown(values[0], rewriter)}"
