"""SELECT ... INTO ... FROM FINAL TABLE (INSERT ...) of Db2: the values that one new row was given.

Source: Db2 11.5, SQL Reference, "data-change-table-reference".
"""

from typing import NamedTuple

from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Insert, Node, Query, Select, TableFunction


class Inserted(NamedTuple):
    """An INSERT of one row, and what of the row goes into variables."""

    insert: Insert
    """With what it gives back, as other engines write it."""
    source: TableFunction


def inserted_row(query: Query, read: ReadStatement) -> Inserted | None:
    """Return the INSERT whose row a query puts into variables; None for other queries, and for rows as they were before."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    if not isinstance(block, Select) or not block.into or len(block.into) != len(block.items):
        return None
    source = block.sources[0] if len(block.sources) == 1 else None
    words = read.tokens.words
    is_bare = block.where is None and not block.group and block.having is None and query.last == block.last
    if not isinstance(source, TableFunction) or words[source.first] not in ("FINAL", "NEW") or not is_bare:
        return None
    inner = next(iter(read.inside(Insert, source.first, source.last)), None)
    if inner is None or inner.query is not None or inner.returning:
        return None
    returning: list[Node] = [*block.items]
    return Inserted(Insert(inner.first, inner.last, inner.table, inner.columns, None, returning, block.into), source)
