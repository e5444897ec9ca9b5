"""UPDATE that sets several columns at once, for targets that set one by one: MySQL, MariaDB and SQL Server.

Source: SQL:1992, "update statement", as Oracle, PostgreSQL and Db2 extend it: SET (a, b) = (SELECT x, y ...).
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Name, Node, Query, Row, Select, Subquery, TableRef, Update

_RANK: Final = 3


def add_assigned_rows(rewriter: Rewriter) -> None:
    """Write each such assignment as one for each column; Oracle takes those of queries as they are."""
    is_oracle = rewriter.target.engine == "oracle"
    for update in rewriter.subject.all(Update):
        for columns, value in update.assignments:
            if isinstance(columns, Row) and not (is_oracle and isinstance(value, Subquery)):
                rewriter.add(Point(columns.first, value.last, partial(_one_by_one, columns, value, update), rank=_RANK))


def _one_by_one(columns: Row, value: Node, update: Update, rewriter: Rewriter) -> str:
    names = [each.parts[-1] for each in columns.items if isinstance(each, Name)]
    if len(names) < len(columns.items):
        raise CannotDraft("an assignment to something that is no column")
    if rewriter.target.engine in ("mysql", "mariadb") and _reads(
        value, {*names, *_set_before(columns, update)}, rewriter
    ):
        raise CannotDraft("an UPDATE that reads a column which it has set before")
    texts = _values(value, rewriter)
    if len(texts) != len(names):
        raise CannotDraft("columns that are set to a row of another length")
    return ", ".join(f"{rewriter.names.write(name)} = {text}" for name, text in zip(names, texts, strict=True))


def _set_before(columns: Row, update: Update) -> set[str]:
    return {c.parts[-1] for c, _ in update.assignments if isinstance(c, Name) and c.first < columns.first}


def _reads(value: Node, names: set[str], rewriter: Rewriter) -> bool:
    """Whether a value may read columns of the changed row that are set already: MySQL goes from left to right."""
    inside = rewriter.subject.read.inside(Name, value.first, value.last)
    own = {alias for table in _tables(value, rewriter) for alias in table}
    return any(n.parts[-1] in names and not (len(n.parts) > 1 and n.parts[-2] in own) for n in inside)


def _tables(value: Node, rewriter: Rewriter) -> list[tuple[str, ...]]:
    return [(t.alias, t.parts[-1]) for t in rewriter.subject.read.inside(TableRef, value.first, value.last)]


def _values(value: Node, rewriter: Rewriter) -> list[str]:
    if isinstance(value, Row):
        return [rewriter.node(each) for each in value.items]
    query = value.query if isinstance(value, Subquery) else None
    block = query.blocks[0] if isinstance(query, Query) and len(query.blocks) == 1 and not query.common else None
    if query is None or not isinstance(block, Select):
        raise CannotDraft("columns that are set to something other than a row or a query")
    head = rewriter.text(block.first, block.items[0].first)
    rest = rewriter.text(block.items[-1].last, query.last)
    return [f"({head} {rewriter.node(item.value)} {rest})" for item in block.items]
