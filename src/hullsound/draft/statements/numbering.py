"""Variables of MySQL that count the rows of a query (@n := @n + 1): window functions take their place."""

from functools import partial

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import DerivedTable, Join, Literal, Name, Node, Operation, Query, Select


def add_counted_rows(rewriter: Rewriter) -> None:
    """Add the points of variables that are set inside queries. What does not count rows cannot be drafted."""
    subject = rewriter.subject
    for query in subject.all(Query):
        block = query.blocks[0] if len(query.blocks) == 1 else None
        if not isinstance(block, Select):
            continue
        for item in block.items:
            if not _sets(item.value):
                continue
            variable = _counted(item.value)
            start = _start_of(variable, block) if variable else None
            if not variable and not (isinstance(item.value, Operation) and not block.sources):
                rewriter.add(Point(item.value.first, item.value.last, _refuse, rank=4))
            elif variable:
                rewriter.add(Point(item.value.first, item.value.last, partial(_number, query, variable, start), rank=4))
                if start is not None:
                    _drop(start, block, rewriter)


def _sets(node: Node) -> bool:
    return isinstance(node, Operation) and node.operators[:1] == [":="]


def _counted(node: Node) -> str:
    """Return the variable of @n := @n + 1; '' for any other assignment."""
    if not isinstance(node, Operation) or len(node.operands) != 2:
        return ""
    target, value = node.operands
    if not isinstance(value, Operation) or value.operators != ["+"] or not isinstance(target, Name):
        return ""
    before, step = value.operands
    is_one = isinstance(step, Literal) and step.form == "number"
    return target.parts[0] if is_one and isinstance(before, Name) and before.parts == target.parts else ""


def _start_of(variable: str, block: Select) -> DerivedTable | None:
    """Return the table (SELECT @n := 0) AS x that starts the count."""
    waiting: list[Node] = list(block.sources)
    while waiting:
        node = waiting.pop()
        if isinstance(node, Join):
            waiting += [node.left, node.right]
        elif isinstance(node, DerivedTable) and isinstance(node.query, Query):
            inner = node.query.blocks[0]
            items = inner.items if isinstance(inner, Select) and not inner.sources else []
            value = items[0].value if len(items) == 1 else None
            if isinstance(value, Operation) and _sets(value) and getattr(value.operands[0], "parts", ()) == (variable,):
                return node
    return None


def _number(query: Query, variable: str, start: DerivedTable | None, rewriter: Rewriter) -> str:
    order = f"ORDER BY {rewriter.nodes(query.order)}" if query.order else ""
    if start is None:
        raise CannotDraft("a variable that counts on from where another statement has left it")
    first = start.query.blocks[0].items[0].value.operands[1]  # type: ignore[attr-defined]
    text = rewriter.elsewhere(first)
    return f"row_number() OVER ({order})" if text == "0" else f"({text} + row_number() OVER ({order}))"


def _drop(start: DerivedTable, block: Select, rewriter: Rewriter) -> None:
    """Take the table that starts the count out of FROM."""
    joins = [j for j in rewriter.subject.all(Join) if start in (j.left, j.right)]
    if joins:
        join = joins[0]
        if join.right is start:
            rewriter.add(Point(join.left.last, start.last, lambda r: "", rank=5))
        else:
            rewriter.add(Point(start.first, join.right.first, lambda r: "", rank=5))
    elif start in block.sources and len(block.sources) > 1:
        place = block.sources.index(start)
        if place:
            rewriter.add(Point(block.sources[place - 1].last, start.last, lambda r: "", rank=5))
        else:
            rewriter.add(Point(start.first, block.sources[1].first, lambda r: "", rank=5))


def _refuse(rewriter: Rewriter) -> str:
    raise CannotDraft("a variable that carries more than a count from row to row")
