"""SELECT ... INTO of compound statements: a query without a row leaves its variables as they are."""

from functools import partial
from typing import TYPE_CHECKING

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.draft.edits.variables import ROW
from hullsound.draft.statements.queries import is_single_row
from hullsound.sql.tree import (
    Assign,
    Call,
    Execute,
    Fetch,
    Literal,
    Loop,
    Name,
    Node,
    QueryStatement,
    Select,
    Variable,
)

if TYPE_CHECKING:
    from .statements import PsmCode


def add_select_into(code: "PsmCode", select: Select) -> None:
    """Keep the values of the variables where a query finds no row, as the source does."""
    rewriter = code.rewriter
    query = next((q for q in rewriter.subject.all(QueryStatement) if select in q.query.blocks), None)
    targets = [each for each in select.into if isinstance(each, Name)]
    if query is None or len(targets) != len(select.into) or select.into_span is None:
        return
    if (
        all(_is_fresh(target, query, rewriter) for target in targets)
        or is_single_row(query.query)
        or _is_aggregate(select, rewriter)
    ):
        return
    first, last = select.into_span
    if len(targets) != len(select.items):
        return
    code.hoisted.add(f"{ROW} record;")
    rewriter.replace(first, last, f"INTO {ROW}")
    for place, item in enumerate(select.items, start=1):
        # The names of the record's fields are ours, so that two items of one name do no harm.
        if item.alias:
            rewriter.replace(item.value.last, item.last, f" AS c{place}")
        else:
            rewriter.wrap(item, partial(_titled, item, f"c{place}"), rank=8)
    rewriter.add(Point(query.first, query.last, partial(_kept, code, query, targets), rank=2))


def _kept(code: "PsmCode", query: QueryStatement, targets: list[Name], rewriter: Rewriter) -> str:
    text = rewriter.text(query.first, query.last)
    sets = " ".join(f"{code.target(t)} := {ROW}.c{i};" for i, t in enumerate(targets, start=1))
    return f"{text};\n    IF FOUND THEN {sets} END IF"


def _titled(item: Node, title: str, rewriter: Rewriter) -> str:
    return f"{rewriter.node(item)} AS {title}"


def _is_fresh(target: Name, query: QueryStatement, rewriter: Rewriter) -> bool:
    """Whether a variable holds nothing before a query: no default, no other statement that sets it, no loop."""
    name = target.parts[-1]
    subject = rewriter.subject
    if len(target.parts) > 1 or any(v.name == name and v.default is not None for v in subject.all(Variable)):
        return False
    if not any(v.name == name for v in subject.all(Variable)):
        return False
    if any(loop.first < query.first < loop.last for loop in subject.all(Loop)):
        return False
    set_elsewhere = [a.target for a in subject.all(Assign)]
    for other in subject.all(Select):
        if other not in query.query.blocks:
            set_elsewhere += other.into
    for fetch in subject.all(Fetch):
        set_elsewhere += fetch.into
    for call in subject.all(Execute):
        set_elsewhere += call.arguments
    return not any(isinstance(n, Name) and n.parts[-1] == name for n in set_elsewhere)


def _is_aggregate(select: Select, rewriter: Rewriter) -> bool:
    """Whether a query block has aggregates and no groups, so that it gives one row whatever it finds."""
    names = {"COUNT", "SUM", "MAX", "MIN", "AVG", "GROUP_CONCAT", "COUNT_BIG", "STRING_AGG"}
    if select.group or not select.items:
        return False
    read = rewriter.subject.read
    return all(
        isinstance(item.value, Literal)
        or any(c.parts[-1] in names and c.over is None for c in read.inside(Call, item.first, item.last))
        for item in select.items
    )
