"""Collections as rows: TABLE(...) in FROM, MEMBER OF, and pipelined functions."""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Call,
    Cast,
    Comparison,
    Name,
    Node,
    Paren,
    PlainStatement,
    Routine,
    TableFunction,
)

from .types import collection_of

_OF_VALUES: Final = {
    "ODCIVARCHAR2LIST": "text", "ODCINUMBERLIST": "numeric", "ODCIDATELIST": "timestamp(0)", "DBMS_DEBUG_VC2COLL": "text",
}  # fmt: skip
"""Collections that Oracle supplies and queries make of values, by the type of an element here."""


def add_table_points(rewriter: Rewriter) -> None:
    """Add the points of collections that are read as rows, and of functions that give rows one by one."""
    words = rewriter.words
    for source in rewriter.subject.all(TableFunction):
        if words[source.first] == "TABLE":
            rewriter.add(Point(source.first, source.last, partial(_rows, source), rank=2))
    for name in rewriter.subject.all(Name):
        if name.parts == ("COLUMN_VALUE",):
            rewriter.replace(name.first, name.last, "column_value")
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator == "MEMBER OF":
            rewriter.add(Point(comparison.first, comparison.last, partial(_member, comparison), rank=2))
    for routine in rewriter.subject.all(Routine):
        if "PIPELINED" in routine.options and routine.returns is not None:
            found = collection_of(routine.returns, rewriter)
            element = found.element if found is not None else ""
            rewriter.add(Point(routine.returns.first, routine.returns.last, partial(_set_of, element), rank=2))
            for statement in rewriter.subject.all(PlainStatement):
                if statement.words == "pipe row" and routine.first <= statement.first < routine.last:
                    rewriter.add(Point(statement.first, statement.last, partial(_pipe, statement, element), rank=2))


def _rows(source: TableFunction, rewriter: Rewriter) -> str:
    call = source.call
    while isinstance(call, Cast):
        call = call.value
    text = rewriter.node(call)
    kind = _OF_VALUES.get(call.parts[-1]) if isinstance(call, Call) else None
    if kind is not None and isinstance(call, Call):
        text = f"CAST(ARRAY[{rewriter.nodes(call.arguments)}] AS {kind}[])"
    if isinstance(call, Call) and _gives_rows(call, rewriter):
        return f"{text} AS {rewriter.names.write(source.alias or 'HS_ROWS')}"
    if not source.alias:
        return f"unnest({text}) AS hs_rows(column_value)"
    if not _has_fields(source, rewriter):
        return f"unnest({text}) AS {rewriter.names.write(source.alias)}(column_value)"
    return f"unnest({text}) AS {rewriter.names.write(source.alias)}"


def _has_fields(source: TableFunction, rewriter: Rewriter) -> bool:
    """Whether code asks for fields of the rows by their alias, so that they are no single values."""
    return any(
        len(name.parts) == 2 and name.parts[0] == source.alias and name.parts[1] != "COLUMN_VALUE"
        for name in rewriter.subject.all(Name)
    )


def _gives_rows(call: Call, rewriter: Rewriter) -> bool:
    """Whether a function of the source gives rows one by one."""
    owner = rewriter.catalog.objects.get(rewriter.owner)
    item = rewriter.catalog.resolve(call.parts, owner.default_schema if owner else "")
    if item is None:
        return False
    return "PIPELINED" in item.details.get("options", "") or f"PIPELINED {call.parts[-1]}" in item.details.get(
        "options", ""
    )


def _member(node: Comparison, rewriter: Rewriter) -> str:
    value, rows = node.operands
    test = f"{rewriter.node(value)} = ANY ({rewriter.node(rows)})"
    return f"NOT ({test})" if node.negated else f"{test}"


def _set_of(element: str, rewriter: Rewriter) -> str:
    if not element:
        raise CannotDraft("a pipelined function whose rows are of a type that is not known")
    return f"SETOF {element}"


def _pipe(statement: PlainStatement, element: str, rewriter: Rewriter) -> str:
    value: Node | None = statement.value
    while isinstance(value, Paren):
        value = value.inner
    if value is None:
        raise CannotDraft("PIPE ROW without a row")
    if isinstance(value, Call) and rewriter.names.write(value.parts[-1]) == element.rsplit(".", 1)[-1]:
        return f"RETURN NEXT ROW({rewriter.nodes(value.arguments)})::{element}"
    return f"RETURN NEXT {rewriter.node(value)}"
