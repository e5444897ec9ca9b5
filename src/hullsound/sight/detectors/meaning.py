"""Predicates on what a text means here and elsewhere, told from types, nullability and constants."""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.knowledge.types import value_class
from hullsound.sight.detector import Found, Need, detector, found
from hullsound.sight.values import value_of
from hullsound.sight.whole import whole_needs
from hullsound.sql.tree import (
    Call,
    ColumnDefinition,
    CreateIndex,
    CreateTable,
    Delete,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Query,
    Select,
    Star,
    Update,
)

from .conditions import conjuncts

AGGREGATES: Final = frozenset(
    """COUNT SUM MIN MAX AVG GROUP_CONCAT STRING_AGG ANY_VALUE BIT_AND BIT_OR BIT_XOR JSON_ARRAYAGG JSON_OBJECTAGG STD STDDEV
    STDDEV_POP STDDEV_SAMP VARIANCE VAR_POP VAR_SAMP TOTAL JSON_GROUP_ARRAY JSON_GROUP_OBJECT""".split()
)
AGGREGATES_OF_ALL: Final = AGGREGATES | frozenset(
    """ARRAY_AGG BOOL_AND BOOL_OR COUNT_BIG EVERY JSON_AGG JSONB_AGG JSON_OBJECT_AGG JSONB_OBJECT_AGG LISTAGG MEDIAN MODE
    PERCENTILE_CONT PERCENTILE_DISC RANGE_AGG STATS_MODE STDEV STDEVP VAR VARP XMLAGG""".split()
)
"""Aggregates of any engine."""


@detector("whole-division", Operation, texts=("/",))
def see_whole_division(node: Operation, subject: Subject) -> Iterable[Found]:
    """A division whose operands are all known, or by their columns' types found, to be whole numbers."""
    if "/" not in node.operators:
        return
    needs: list[Need] = []
    at = node.operators.index("/")
    for operand in node.operands[: at + 2]:
        needed = whole_needs(operand, subject)
        if needed is None:
            return
        needs += needed
    divisor = node.operands[at + 1]
    if all(isinstance(o, Literal) for o in node.operands) and _divides_evenly(node.operands[at], divisor, subject):
        return
    yield found(node, needs=needs)


def _divides_evenly(left: Node, right: Node, subject: Subject) -> bool:
    one, other = subject.words[left.first], subject.words[right.first]
    return one.isdecimal() and other.isdecimal() and int(other) != 0 and int(one) % int(other) == 0


@detector("text-plus-text", Operation, texts=("+",))
def see_text_plus_text(node: Operation, subject: Subject) -> Iterable[Found]:
    if node.operators[0] != "+" or len(node.operands) < 2:
        return
    values = [value_of(operand, subject) for operand in node.operands]
    if any(value.kind == "text" for value in values):
        yield found(node)
    elif all(value.column is not None for value in values):
        yield found(node, needs=[(*value.column, "text") for value in values if value.column is not None])


@detector("text-key", CreateTable)
def see_text_key(node: CreateTable, subject: Subject) -> Iterable[Found]:
    """A unique or primary key over text whose column names no collation of its own that tells case apart."""
    columns = {column.name: column for column in node.columns}
    for constraint in [*node.constraints, *(c for column in node.columns for c in column.constraints)]:
        names = constraint.columns or [c.name for c in node.columns if constraint in c.constraints]
        for name in names if constraint.form in ("primary key", "unique") else ():
            if (
                name in columns
                and _ignores_case(columns[name], subject)
                and not _tells_case(node, columns[name], subject)
            ):
                yield found(columns[name])


@detector("text-index", CreateIndex, texts=("UNIQUE",))
def see_text_index(node: CreateIndex, subject: Subject) -> Iterable[Found]:
    """A unique index over a text column."""
    for key in node.keys if node.unique else ():
        if isinstance(key.value, Name):
            yield found(key.value, needs=[(node.table[-1], key.value.parts[-1], "text")])


def _tells_case(node: CreateTable, column: ColumnDefinition, subject: Subject) -> bool:
    """Whether a table gives a column that names neither collation nor character set one that tells case apart."""
    own = subject.words[column.first : column.last]
    words = subject.words[max(each.last for each in (*node.columns, *node.constraints)) : node.last]
    if {"COLLATE", "CHARSET", "CHARACTER"} & set(own) or "COLLATE" not in words[:-2]:
        return False
    at = words.index("COLLATE")
    return _is_exact(words[at + 2] if words[at + 1] == "=" else words[at + 1])


def _is_exact(collation: str) -> bool:
    return "_CS" in collation or "_BIN" in collation or collation == "BINARY"


def _ignores_case(column: ColumnDefinition, subject: Subject) -> bool:
    if column.type is None or value_class(subject.engine, column.type.name) != "text" or column.type.name == "ENUM":
        return False
    words = subject.words[column.first : column.last]
    collation = words[words.index("COLLATE") + 1] if "COLLATE" in words[:-1] else ""
    return not (_is_exact(collation) or words[-1:] == ["CASESPECIFIC"])


@detector("unique-null", CreateTable)
def see_unique_null(node: CreateTable, subject: Subject) -> Iterable[Found]:
    nullable = {column.name for column in node.columns if column.nullable}
    for column in node.columns:
        for constraint in column.constraints:
            if constraint.form == "unique" and column.name in nullable:
                yield found(column)
    for constraint in node.constraints:
        if constraint.form == "unique" and nullable.intersection(constraint.columns):
            yield found(constraint)


@detector("loose-grouping", Select, texts=("GROUP",))
def see_loose_grouping(node: Select, subject: Subject) -> Iterable[Found]:
    """A column of the select list outside of aggregates that GROUP BY neither names nor settles by a primary key."""
    loose = list(loose_names(node, subject))
    if loose:
        yield found(loose[0], needs=_key_needs(loose, node, subject))


def _key_needs(loose: list[Name], node: Select, subject: Subject) -> list[Need]:
    """Return what must hold of the columns: that one of them is not settled by the primary key of its table."""
    keys = ",".join(_last(key) for key in node.group)
    columns = (value_of(name, subject).column or ("", name.parts[-1]) for name in loose)
    return [(*column, f"beside key?:{keys}") for column in columns]


def loose_names(node: Select, subject: Subject) -> Iterator[Name]:
    """Yield the columns of a select list outside of aggregates that GROUP BY does not name."""
    if not node.group or any(isinstance(item.value, Star) for item in node.items):
        return
    grouped = {subject.source(key).upper() for key in node.group} | {_last(key) for key in node.group}
    places = {subject.words[key.first] for key in node.group if isinstance(key, Literal)}
    for place, item in enumerate(node.items, start=1):
        if str(place) in places or item.alias in grouped or subject.source(item.value).upper() in grouped:
            continue
        yield from (name for name in bare_names(item.value, subject) if name.parts[-1] not in grouped)


def _last(key: Node) -> str:
    return key.parts[-1] if isinstance(key, Name) else ""


def bare_names(value: Node, subject: Subject) -> Iterator[Name]:
    """Yield the columns of a value that stand in no aggregate, window or subquery."""
    closed = [(call.first, call.last) for call in subject.all(Call)
              if call.over is not None or call.parts[-1] in AGGREGATES_OF_ALL]  # fmt: skip
    closed += [(query.first, query.last) for query in subject.all(Query) if query.first > value.first]
    for name in subject.all(Name):
        inside = value.first <= name.first < value.last
        is_closed = any(first <= name.first < last for first, last in closed)
        if inside and not is_closed and name.parts[0][0] != "@" and name.parts[0] not in subject.scope.declared:
            yield name


@detector("having-alias", Select, texts=("HAVING",))
def see_having_alias(node: Select, subject: Subject) -> Iterable[Found]:
    if node.having is None:
        return
    aliases = {item.alias for item in node.items if item.alias}
    for name in subject.all(Name):
        inside = node.having.first <= name.first < node.having.last
        if inside and len(name.parts) == 1 and (name.parts[0] in aliases):
            yield found(name)
            return


@detector("number-as-condition", Select, Update, Delete, texts=("WHERE",))
def see_number_as_condition(node: Select | Update | Delete, subject: Subject) -> Iterable[Found]:
    if isinstance(node.where, Literal) and node.where.form == "number":
        yield found(node.where)


_ZERO_DATE: Final = re.compile(r"""['"](?:0000-\d\d-\d\d|\d{4}-00-\d\d|\d{4}-\d\d-00)(?: [\d:.]+)?['"]""")


@detector("zero-date", Literal, texts=("-00",))
def see_zero_date(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and _ZERO_DATE.fullmatch(subject.words[node.first]):
        yield found(node)


@detector("zero-date-default", ColumnDefinition, texts=("DATE", "DATETIME", "TIMESTAMP"))
def see_zero_date_default(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    """A date whose default is the number 0, which MySQL keeps as the zero date."""
    is_zero = isinstance(node.default, Literal) and subject.words[node.default.first].strip("'\"") == "0"
    if (
        is_zero
        and node.default is not None
        and node.type is not None
        and node.type.name in ("DATE", "DATETIME", "TIMESTAMP")
    ):
        yield found(node.default)


@detector("empty-text", Literal, texts=("''",))
def see_empty_text(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first] in ("''", "N''"):
        yield found(node)


@detector("null-order", OrderItem, texts=("ORDER",))
def see_null_order(node: OrderItem, subject: Subject) -> Iterable[Found]:
    """A key of ORDER BY that says nothing of NULL, where the catalogue knows that its column can be NULL."""
    value = node.value
    if isinstance(value, Name) and not node.nulls and not isinstance(subject.tree, CreateIndex | CreateTable):
        column = value_of(value, subject).column
        if column is not None:
            yield found(value, needs=[(*column, "nullable")])


_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))


@detector("text-against-number", Operation)
def see_text_against_number(node: Operation, subject: Subject) -> Iterable[Found]:
    if len(node.operands) != 2 or node.operators[0] not in _COMPARED:
        return
    for value, other in (node.operands, reversed(node.operands)):
        if isinstance(other, Literal) and other.form == "number" and isinstance(value, Name):
            known = value_of(value, subject)
            if known.kind == "text":
                yield found(node)
            elif known.column is not None and not known.kind:
                # a member of an enumeration is taken by its place there
                yield found(node, needs=[(*known.column, "text"), (*known.column, "other kind:enum")])


@detector("column-as-condition", Select, Update, Delete, texts=("WHERE",))
def see_column_as_condition(node: Select | Update | Delete, subject: Subject) -> Iterable[Found]:
    for condition in conjuncts(node.where):
        if isinstance(condition, Name):
            column = value_of(condition, subject).column
            if column is not None:
                yield found(condition, needs=[(*column, "number")])


@detector("bit-against-number", Operation)
def see_bit_against_number(node: Operation, subject: Subject) -> Iterable[Found]:
    if len(node.operands) != 2 or node.operators[0] not in ("=", "<>", "!="):
        return
    value, number = node.operands
    if isinstance(value, Name) and isinstance(number, Literal) and subject.words[number.first] in ("0", "1"):
        column = value_of(value, subject).column
        if column is not None:
            yield found(node, needs=[(*column, "kind:bit")])
