"""DISTINCT ON of PostgreSQL: the first row of each group, as row number 1 of a window where the target has no such words.

Source: PostgreSQL 18, "SELECT", DISTINCT Clause. Which of several equal rows comes first is open there as well.
"""

from functools import partial
from typing import Final

from hullsound.catalog.model import Column
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Clause,
    CreateView,
    Literal,
    Name,
    Node,
    OrderItem,
    Paren,
    Query,
    QueryStatement,
    Row,
    Select,
    Star,
    TableRef,
)

_NUMBER: Final = "hs_row"


def add_first_rows(rewriter: Rewriter) -> None:
    """Write each query that takes the first rows of groups. Queries of several blocks, and limits, are for a person."""
    for clause in rewriter.subject.all(Clause):
        if clause.name != "distinct-on":
            continue
        query = next(
            each
            for each in rewriter.subject.all(Query)
            if any(isinstance(block, Select) and block.first < clause.first < block.last for block in each.blocks)
        )
        rewriter.add(Point(query.first, query.last, partial(_first_rows, query, clause), "postgresql.distinct-on"))


def _first_rows(query: Query, clause: Clause, rewriter: Rewriter) -> str:
    block = query.blocks[0]
    behind = query.order[-1].last if query.order else block.last
    if len(query.blocks) > 1 or query.common or not isinstance(block, Select) or behind != query.last or block.group:
        raise CannotDraft("DISTINCT ON in a query with a limit, a group or several blocks")
    items = _items(block, rewriter)
    distinct = _distinct(clause, rewriter)
    _refuse_titles(block, [*distinct, *(each.value for each in query.order if isinstance(each, OrderItem))])
    keys = [rewriter.elsewhere(each) for each in distinct]
    within = rewriter.nodes(query.order) if query.order else ", ".join(keys)
    number = f"ROW_NUMBER() OVER (PARTITION BY {', '.join(keys)} ORDER BY {within}) AS {_NUMBER}"
    listed = ", ".join(f"{value} AS {title}" for title, value in items)
    orders, order = _outer_order(query, rewriter)
    more = "".join(f", {each}" for each in orders)
    inner = f"SELECT {listed}, {number}{more} {rewriter.text(block.from_at, block.last)}"
    alias = "hs_rows" if rewriter.target.engine == "oracle" else "AS hs_rows"
    titles = ", ".join(title for title, _ in items)
    return f"SELECT {titles} FROM ({inner}) {alias} WHERE {_NUMBER} = 1{order}"


def _items(block: Select, rewriter: Rewriter) -> list[tuple[str, str]]:
    """Return title and value of each column."""
    write, found = rewriter.names.write, []
    for item in block.items:
        if isinstance(item.value, Star):
            table = _only_table(block, rewriter)
            found += [(write(column.name), write(column.name)) for column in table]
            continue
        title = item.title
        if not title:
            raise CannotDraft("DISTINCT ON with a column that has no name")
        found.append((write(title), rewriter.node(item.value)))
    if len({title for title, _ in found}) < len(found):
        raise CannotDraft("DISTINCT ON with two columns of one name")
    return found


def _only_table(block: Select, rewriter: Rewriter) -> list[Column]:
    source = block.sources[0] if len(block.sources) == 1 else None
    table = rewriter.table(source.parts) if isinstance(source, TableRef) and len(block.items) == 1 else None
    if table is None or not table.columns:
        raise CannotDraft("DISTINCT ON with all columns of tables that are not known")
    return table.columns


def _distinct(clause: Clause, rewriter: Rewriter) -> list[Node]:
    """Return what is to be distinct; the keys of ORDER BY begin with it."""
    inside = rewriter.subject.read.inside(Node, clause.first, clause.last)
    outer = next((each for each in inside if isinstance(each, Row | Paren)), None)
    if outer is None:
        raise CannotDraft("DISTINCT ON in a form that is not known")
    return outer.items if isinstance(outer, Row) else [outer.inner]


def _refuse_titles(block: Select, keys: list[Node]) -> None:
    """Raise CannotDraft for keys that mean a column of the result by its place or title, which no window knows."""
    for key in keys:
        own = [item for item in block.items if isinstance(key, Name) and key.parts == (item.alias,)]
        if isinstance(key, Literal) or any(not isinstance(i.value, Name) or i.value.parts[-1] != i.alias for i in own):
            raise CannotDraft("DISTINCT ON by the place or the title of a column")


def _outer_order(query: Query, rewriter: Rewriter) -> tuple[list[str], str]:
    """Return further columns to sort by, and ORDER BY with them; nothing where the order of a query is nobody's business."""
    tree = rewriter.subject.tree
    is_read = isinstance(tree, QueryStatement) and tree.query is query
    if not query.order or isinstance(tree, CreateView) or not is_read:
        return [], ""
    columns, keys = [], []
    for place, item in enumerate(query.order, start=1):
        if not isinstance(item, OrderItem) or not isinstance(item.value, Name):
            raise CannotDraft("DISTINCT ON whose rows are read in the order of something that is no column")
        name = f"hs_key{place}"
        columns.append(f"{'.'.join(map(rewriter.names.write, item.value.parts))} AS {name}")
        is_first = item.nulls.upper() == "FIRST" or (not item.nulls and item.descending)
        nulls = f"CASE WHEN {name} IS NULL THEN {int(not is_first)} ELSE {int(is_first)} END"
        keys.append(f"{nulls}, {name}{' DESC' if item.descending else ''}")
    return columns, f" ORDER BY {', '.join(keys)}"
