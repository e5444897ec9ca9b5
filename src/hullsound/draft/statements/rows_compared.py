"""Rows of values that are compared, for SQL Server, which compares single values alone.

Source: SQL:1992, "row value constructor", "comparison predicate", "in predicate"; Transact-SQL reference, "Comparison Operators".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Comparison, Node, Operation, Query, Row, Select, Subquery

from .values_lists import listed_rows, written_rows

_STRICT: Final = {"<": "<", "<=": "<", ">": ">", ">=": ">"}
_ALIAS: Final = "hs_row"
_RANK: Final = 6


def add_compared_rows(rewriter: Rewriter) -> None:
    """Write comparisons of rows as comparisons of their values."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and any(isinstance(each, Row) for each in node.operands):
            rewriter.add(Point(node.first, node.last, partial(_compared, node), rank=_RANK))
    for each in rewriter.subject.all(Comparison):
        if each.operator == "IN" and isinstance(each.operands[0], Row):
            rewriter.add(Point(each.first, each.last, partial(_among, each), rank=_RANK))


def _compared(node: Operation, rewriter: Rewriter) -> str:
    left, right = node.operands
    operator = node.operators[0]
    if not isinstance(left, Row) or not isinstance(right, Row) or len(left.items) != len(right.items):
        raise CannotDraft("a row of values beside something that is no such row")
    pairs = [(rewriter.node(a), rewriter.node(b)) for a, b in zip(left.items, right.items, strict=True)]
    if operator == "=":
        return f"({_all_equal(pairs)})"
    if operator in ("<>", "!="):
        return "(" + " OR ".join(f"{a} <> {b}" for a, b in pairs) + ")"
    if operator not in _STRICT:
        raise CannotDraft(f"rows compared by {operator}")
    return f"({_ordered(pairs, operator)})"


def _all_equal(pairs: list[tuple[str, str]]) -> str:
    return " AND ".join(f"{a} = {b}" for a, b in pairs)


def _ordered(pairs: list[tuple[str, str]], operator: str) -> str:
    """Write a < x OR (a = x AND b < y): the first values that differ decide."""
    (a, b), *rest = pairs
    if not rest:
        return f"{a} {operator} {b}"
    return f"{a} {_STRICT[operator]} {b} OR ({a} = {b} AND ({_ordered(rest, operator)}))"


def _among(node: Comparison, rewriter: Rewriter) -> str:
    """Write IN of rows by EXISTS, or by OR. Raises CannotDraft for NOT IN where NULL could make it unknown."""
    row, *others = node.operands
    assert isinstance(row, Row)
    values = listed_rows(others[0], rewriter) if isinstance(others[0], Subquery) else None
    if values is not None:
        return _among_rows(node, row, written_rows(values, rewriter), rewriter)
    if len(others) == 1 and isinstance(others[0], Subquery):
        _check_nulls(node, row, others[0], rewriter)
        columns = [f"hs_{place}" for place in range(1, len(row.items) + 1)]
        found = " AND ".join(f"{_ALIAS}.{c} = {rewriter.node(v)}" for c, v in zip(columns, row.items, strict=True))
        query = rewriter.node(others[0].query)
        text = f"EXISTS (SELECT 1 FROM ({query}) AS {_ALIAS} ({', '.join(columns)}) WHERE {found})"
        return f"NOT {text}" if node.negated else text
    lists = [item for each in others for item in (each.items if _holds_rows(each) else [each])]  # type: ignore[attr-defined]
    if not all(isinstance(each, Row) for each in lists):
        raise CannotDraft("rows among something that is no list of such rows")
    rows = [[rewriter.node(value) for value in each.items] for each in lists if isinstance(each, Row)]
    return _among_rows(node, row, rows, rewriter)


def _among_rows(node: Comparison, row: Row, rows: list[list[str]], rewriter: Rewriter) -> str:
    """Write IN over rows whose values are written already."""
    values = [rewriter.node(each) for each in row.items]
    if any(len(each) != len(values) for each in rows):
        raise CannotDraft("rows among something that is no list of such rows")
    text = f"({' OR '.join(f'({_all_equal(list(zip(values, each, strict=True)))})' for each in rows)})"
    return f"NOT {text}" if node.negated else text


def _holds_rows(node: Node) -> bool:
    return isinstance(node, Row) and all(isinstance(each, Row) for each in node.items)


def _check_nulls(node: Comparison, row: Row, subquery: Subquery, rewriter: Rewriter) -> None:
    """Raise CannotDraft where IN may be unknown and something asks for what is not true: EXISTS is false there."""
    block = subquery.query.blocks[0] if isinstance(subquery.query, Query) else None
    values = [item.value for item in block.items] if isinstance(block, Select) else []
    if len(values) != len(row.items):
        raise CannotDraft("rows among a query whose columns are not all written")
    is_sure = all(rewriter.types.is_never_null(each) for each in (*row.items, *values))
    if not is_sure and (node.negated or not _is_condition(node, rewriter)):
        raise CannotDraft("rows that are not among others, of which some may be NULL")


def _is_condition(node: Node, rewriter: Rewriter) -> bool:
    """Whether nothing but AND and OR stands between a comparison and the WHERE it belongs to."""
    around = rewriter.subject.read.parent(node)
    while isinstance(around, Operation) and set(around.operators) <= {"AND", "OR"}:
        around = rewriter.subject.read.parent(around)
    return isinstance(around, Select)
