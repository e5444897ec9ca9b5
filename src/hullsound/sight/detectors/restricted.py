"""Predicates for what most engines take and some targets refuse: joins by names, rows and predicates as values, own tables read."""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, Need, detector, found
from hullsound.sight.values import value_of
from hullsound.sight.whole import whole_needs
from hullsound.sql.tree import (
    Call,
    Cast,
    Clause,
    CommonTable,
    Comparison,
    CreateTrigger,
    CreateView,
    Delete,
    DerivedTable,
    Insert,
    Join,
    Literal,
    Loop,
    Merge,
    Name,
    Node,
    Operation,
    OrderItem,
    Paren,
    Query,
    Routine,
    Row,
    Select,
    SelectItem,
    Subquery,
    TableRef,
    TypedLiteral,
    Update,
)

from .rownum import rownum_limits

_EQUAL: Final = frozenset(("=", "<>", "!=", "<=>"))
_ORDERED: Final = frozenset(("<", ">", "<=", ">="))
_PATTERNS: Final = ("~", "~*", "!~", "!~*")
"""Tests of patterns in PostgreSQL."""
_TESTS: Final = (("STARTS_WITH",), ("REGEXP_LIKE",))
"""Functions that are conditions."""
_PREDICATES: Final = _EQUAL | _ORDERED | {"AND", "OR", "NOT", "&&", "XOR", "!", "=="}
_SAME_SCALE: Final = frozenset(("SUM", "MIN", "MAX", "AVG", "COALESCE", "NVL", "IFNULL", "NULLIF", "ABS"))
_LIMITS: Final = frozenset(
    ("limit", "top", "offset", "fetch-first", "fetch-first-percent", "fetch-first-ties", "limit-all")
)

# --- joins and rows ---


@detector("join-using", Join, texts=("USING",))
def see_join_using(node: Join, subject: Subject) -> Iterable[Found]:
    if node.condition is None and subject.words[node.right.last : node.right.last + 1] == ["USING"]:
        yield Found(node, node.right.last, node.last)


@detector("natural-join", Join, texts=("NATURAL",))
def see_natural_join(node: Join, subject: Subject) -> Iterable[Found]:
    if node.kind.startswith("NATURAL"):
        at = next(i for i in range(node.left.last, node.right.first) if subject.words[i] == "NATURAL")
        yield Found(node, at, node.right.first)


@detector("row-in", Comparison)
def see_row_in(node: Comparison, subject: Subject) -> Iterable[Found]:
    if node.operator == "IN" and isinstance(node.operands[0], Row):
        yield found(node)


@detector("row-equal", Operation)
def see_row_equal(node: Operation, subject: Subject) -> Iterable[Found]:
    if node.operators[0] in _EQUAL and any(isinstance(each, Row) for each in node.operands):
        yield found(node)


@detector("row-ordered", Operation)
def see_row_ordered(node: Operation, subject: Subject) -> Iterable[Found]:
    if node.operators[0] in _ORDERED and any(isinstance(each, Row) for each in node.operands):
        yield found(node)


_EXTREMES: Final = (("MIN",), ("MAX",))
_KEEPING_TEXT: Final = frozenset(
    """UPPER LOWER UCASE LCASE TRIM LTRIM RTRIM BTRIM SUBSTR SUBSTRING LEFT RIGHT REPLACE COALESCE NVL ISNULL IFNULL NULLIF CONCAT
    LPAD RPAD INITCAP REVERSE REGEXP_REPLACE TRANSLATE""".split()
)
"""Functions that give a large text where they get one."""


# --- values ---


@detector("predicate-as-value", SelectItem, OrderItem, Update)
def see_predicate_as_value(node: SelectItem | OrderItem | Update, subject: Subject) -> Iterable[Found]:
    values = [value for _, value in node.assignments] if isinstance(node, Update) else [node.value]
    for value in values:
        if _is_predicate(value) and not (isinstance(node, SelectItem) and _stands_in_exists(node, subject)):
            yield found(value)


def _is_predicate(node: Node) -> bool:
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Subquery):
        return node.form == "EXISTS"
    if isinstance(node, Comparison):
        return node.operator != "MATCH"
    if isinstance(node, Call):
        return node.parts in _TESTS
    if not isinstance(node, Operation) or (len(node.operands) > 1 and node.operators[0] in _PATTERNS):
        return isinstance(node, Operation)
    return {operator.partition(" ")[0] for operator in node.operators} <= _PREDICATES  # = ANY as well


def _stands_in_exists(item: SelectItem, subject: Subject) -> bool:
    around = (each for each in subject.all(Subquery) if each.form and each.first <= item.first < each.last)
    return any(item in block.items for each in around for block in each.query.blocks if isinstance(block, Select))


@detector("distinct-in-window", Call, texts=("DISTINCT",))
def see_distinct_in_window(node: Call, subject: Subject) -> Iterable[Found]:
    if node.quantifier == "DISTINCT" and node.over is not None:
        yield found(node)


@detector("large-object-compared", Operation, Comparison, OrderItem, Select, Query, Call)
def see_large_object_compared(
    node: Operation | Comparison | OrderItem | Select | Query | Call, subject: Subject
) -> Iterable[Found]:
    """Columns of large objects, or texts made of them, that are compared, grouped, sorted or shown once each."""
    for value in _told_apart(node, subject):
        for name in _texts_in(value):
            column = value_of(name, subject).column
            if column is not None:
                yield found(name, needs=[(*column, "kind:large-text")])


def _told_apart(node: Node, subject: Subject) -> list[Node]:
    """Return the values that a part of a statement compares with others."""
    if isinstance(node, Operation):
        return node.operands if node.operators[0] in _EQUAL | _ORDERED else []
    if isinstance(node, Comparison):
        return node.operands if node.operator in ("IN", "BETWEEN") else []
    if isinstance(node, OrderItem):
        return [node.value]
    if isinstance(node, Call):
        return node.arguments if node.quantifier == "DISTINCT" or node.parts in _EXTREMES else []
    if isinstance(node, Query):
        words = subject.words
        tells = any(name != "UNION" or words[at + 1] != "ALL" for name, at in node.operators)
        return [item.value for block in node.blocks if tells and isinstance(block, Select) for item in block.items]
    assert isinstance(node, Select)
    is_distinct = subject.words[node.first + 1] == "DISTINCT"
    return [*node.group, *(item.value for item in node.items if is_distinct)]


def _texts_in(value: Node) -> Iterable[Name]:
    """Yield the columns of which a text is made that is as large as they are."""
    if isinstance(value, Name):
        yield value
    elif isinstance(value, Paren):
        yield from _texts_in(value.inner)
    elif isinstance(value, Call) and value.parts[-1] in _KEEPING_TEXT:
        for argument in value.arguments:
            yield from _texts_in(argument)
    elif isinstance(value, Operation) and value.operators[0] in ("||", "+"):
        for operand in value.operands:
            yield from _texts_in(operand)


@detector("whole-average", Call, names=("AVG",))
def see_whole_average(node: Call, subject: Subject) -> Iterable[Found]:
    """The average of whole numbers, which is one itself in the T-SQL family and Db2."""
    needs = whole_needs(node.arguments[0], subject) if node.parts == ("AVG",) and len(node.arguments) == 1 else None
    if needs is not None:
        yield found(node, needs=needs)


@detector("whole-sum", Call, names=("SUM",))
def see_whole_sum(node: Call, subject: Subject) -> Iterable[Found]:
    """The sum of whole numbers, which SQL Server holds in the type of its values where that is INT or BIGINT."""
    needs = whole_needs(node.arguments[0], subject) if node.parts == ("SUM",) and len(node.arguments) == 1 else None
    if needs is not None:
        yield found(node, needs=needs)


@detector("decimal-average", Call, names=("AVG",))
def see_decimal_average(node: Call, subject: Subject) -> Iterable[Found]:
    needs = _fraction_needs(node.arguments[0], subject) if node.parts == ("AVG",) and len(node.arguments) == 1 else None
    if needs is not None:
        yield found(node, needs=needs)


@detector("decimal-quotient", Operation, texts=("/",))
def see_decimal_quotient(node: Operation, subject: Subject) -> Iterable[Found]:
    needs = _fraction_needs(node, subject) if "/" in node.operators else None
    if needs is not None:
        yield found(node, needs=needs)


def _fraction_needs(node: Node, subject: Subject) -> list[Need] | None:
    """Return what must hold of columns for an expression to be a decimal with a fraction; None if it is none."""
    if isinstance(node, Paren):
        return _fraction_needs(node.inner, subject)
    if isinstance(node, Literal):
        return [] if re.fullmatch(r"\d*\.\d*", subject.source(node)) else None
    if isinstance(node, Cast):
        return [] if len(node.type.arguments) > 1 and node.type.arguments[1] != "0" else None
    if isinstance(node, Name):
        column = value_of(node, subject).column
        return [(*column, "fraction")] if column is not None else None
    if isinstance(node, Call):
        return _fraction_needs(node.arguments[0], subject) if node.parts[-1] in _SAME_SCALE and node.arguments else None
    if isinstance(node, Operation):
        found_needs = [_fraction_needs(each, subject) for each in node.operands]
        return [] if [] in found_needs else next((needs for needs in found_needs if needs is not None), None)
    return None


@detector("date-against-text", Operation, texts=("'",))
def see_date_against_text(node: Operation, subject: Subject) -> Iterable[Found]:
    if len(node.operands) != 2 or node.operators[0] not in _EQUAL | _ORDERED:
        return
    for value, other in (node.operands, node.operands[::-1]):
        if isinstance(other, Literal) and other.form == "string" and not isinstance(value, Literal):
            known = value_of(value, subject)
            if known.kind == "date":
                yield found(other)
            elif isinstance(value, Name) and known.column is not None and not known.kind:
                yield found(other, needs=[(*known.column, "date or timestamp")])


@detector("padded-text", Operation, Call)
def see_padded_text(node: Operation | Call, subject: Subject) -> Iterable[Found]:
    """Columns of fixed length that are joined, or whose length is asked."""
    is_measured = isinstance(node, Call) and node.parts in (("LENGTH",), ("CHAR_LENGTH",))
    is_joined = isinstance(node, Operation) and set(node.operators) == {"||"}
    values = node.arguments if isinstance(node, Call) else node.operands
    for value in values if is_measured or is_joined else ():
        column = value_of(value, subject).column if isinstance(value, Name) else None
        if column is not None:
            yield found(value, needs=[(*column, "padded")])


def _pattern(node: Comparison) -> Literal | None:
    """Return the constant pattern of a LIKE that names no sign to escape with."""
    pattern = node.operands[1] if node.operator == "LIKE" and len(node.operands) == 2 else None
    return pattern if isinstance(pattern, Literal) and pattern.form == "string" and node.last == pattern.last else None


@detector("like-bracket", Comparison, texts=("LIKE",))
def see_like_bracket(node: Comparison, subject: Subject) -> Iterable[Found]:
    pattern = _pattern(node)
    if pattern is not None and "[" in subject.source(pattern):
        yield found(pattern)


@detector("like-backslash", Comparison, texts=("LIKE",))
def see_like_backslash(node: Comparison, subject: Subject) -> Iterable[Found]:
    pattern = _pattern(node)
    if pattern is not None and "\\" in subject.source(pattern):
        yield found(pattern)


# --- changes ---


@detector("own-table-in-update", Update)
def see_own_table_in_update(node: Update, subject: Subject) -> Iterable[Found]:
    yield from _own_reads(node, node.table, subject)


@detector("own-table-in-delete", Delete)
def see_own_table_in_delete(node: Delete, subject: Subject) -> Iterable[Found]:
    yield from _own_reads(node, node.table, subject)


def _own_reads(change: Update | Delete, table: Node, subject: Subject) -> Iterator[Found]:
    """Give the first place where a subquery reads the changed table itself; rows of a derived table are read before."""
    if not isinstance(table, TableRef):
        return
    span = change.first, change.last
    inner = list(subject.read.inside(Subquery, *span))
    derived = list(subject.read.inside(DerivedTable, *span)) if inner else []
    for each in subject.read.inside(TableRef, *span) if inner else ():
        is_within = any(query.first <= each.first < query.last for query in inner)
        if is_within and each.parts[-1] == table.parts[-1] and not any(d.first <= each.first < d.last for d in derived):
            yield found(each)
            return


@detector("rows-of-values", Insert, texts=("VALUES",))
def see_rows_of_values(node: Insert, subject: Subject) -> Iterable[Found]:
    rows = list(rows_of_values(node, subject.words))
    if len(rows) > 1:
        yield Found(node, node.first, rows[-1][1])


def rows_of_values(node: Insert, words: list[str]) -> Iterator[tuple[int, int]]:
    """Yield the first token of each row of VALUES, its bracket, and the token behind the closing one."""
    begin = node.columns[-1].last if node.columns else node.table.last if node.table is not None else node.first
    at = next((i for i in range(begin, min(begin + 4, node.last)) if words[i] in ("VALUES", "VALUE")), -1) + 1
    depth, first = 0, at
    for i in range(at, node.last) if at else ():
        if words[i] == "(":
            first = i if depth == 0 else first
            depth += 1
        elif words[i] == ")":
            depth -= 1
            if depth == 0:
                yield first, i + 1
        elif depth == 0 and words[i] != ",":
            return


# --- queries ---


@detector("order-in-view", DerivedTable, CommonTable, CreateView, Subquery, texts=("ORDER",))
def see_order_in_view(node: DerivedTable | CommonTable | CreateView | Subquery, subject: Subject) -> Iterable[Found]:
    query = node.query
    if isinstance(subject.read.parent(node), Loop):  # a loop over the rows of a query
        return
    if any(node in limit.select.sources for limit in rownum_limits(subject).values()):  # which keeps the first of them
        return
    if isinstance(query, Query) and query.order and not _is_limited(query, subject):
        first = query.order[0].first
        while first > query.first and subject.words[first] != "ORDER":
            first -= 1
        yield Found(query, first, query.order[-1].last)


def _is_limited(query: Query, subject: Subject) -> bool:
    return any(each.name in _LIMITS for each in subject.read.inside(Clause, query.first, query.last))


@detector("group-by-place", Select, texts=("GROUP",))
def see_group_by_place(node: Select, subject: Subject) -> Iterable[Found]:
    for key in node.group:
        if isinstance(key, Literal) and key.form == "number":
            yield found(key)


@detector("limit-in-subquery", Comparison, texts=("LIMIT", "FETCH", "TOP"))
def see_limit_in_subquery(node: Comparison, subject: Subject) -> Iterable[Found]:
    query = node.operands[-1].query if node.operator == "IN" and isinstance(node.operands[-1], Subquery) else None
    if query is None:
        return
    queries = [each for each in subject.read.inside(Query, query.first, query.last) if each is not query]
    for each in subject.read.inside(Clause, query.first, query.last):
        if each.name in _LIMITS and not any(inner.first <= each.first < inner.last for inner in queries):
            yield found(query)
            return


@detector("select-without-from", Select)
def see_select_without_from(node: Select, subject: Subject) -> Iterable[Found]:
    is_assignment = any(isinstance(each, Name) and subject.words[each.first].startswith("@") for each in node.into)
    if node.from_at < 0 and not node.sources and node.items and not is_assignment:
        yield Found(node, node.first, node.first + 1)


# --- code ---


def _changes(node: Node, subject: Subject) -> Iterator[Insert | Update | Delete | Merge]:
    """Yield the changes of rows within a node."""
    yield from subject.read.inside(Insert, node.first, node.last)
    yield from subject.read.inside(Update, node.first, node.last)
    yield from subject.read.inside(Delete, node.first, node.last)
    yield from subject.read.inside(Merge, node.first, node.last)


@detector("function-changes-rows", Routine)
def see_function_changes_rows(node: Routine, subject: Subject) -> Iterable[Found]:
    """A function, other than one of a trigger, that changes rows of tables."""
    returns = node.returns.name if node.returns is not None else ""
    if node.form.upper() != "FUNCTION" or returns in ("TRIGGER", "VOID", "EVENT_TRIGGER"):
        return
    for change in _changes(node, subject):
        yield Found(change, change.first, change.first + 1)
        return


@detector("trigger-changes-own-table", CreateTrigger)
def see_trigger_changes_own_table(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    for change in _changes(node, subject):
        table = change.table
        if node.table and isinstance(table, TableRef) and table.parts[-1] == node.table[-1]:
            yield found(table)
            return


@detector("trigger-reads-own-table", CreateTrigger)
def see_trigger_reads_own_table(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.level != "row" or not node.table:
        return
    changed = {change.table for change in _changes(node, subject)}
    for each in subject.all(TableRef):
        if each.parts[-1] == node.table[-1] and each not in changed and each.first >= node.body_at:
            yield found(each)
            return


@detector("typed-literal", TypedLiteral)
def see_typed_literal(node: TypedLiteral, subject: Subject) -> Iterable[Found]:
    if node.form in ("DATE", "TIME", "TIMESTAMP"):
        yield found(node)
