"""The values of a new row that code of Db2 reads by a query of the INSERT: RETURNING ... INTO."""

from functools import partial
from typing import TYPE_CHECKING, Final

from hullsound.analyze.inserted import Inserted, inserted_row
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.tree import Name, Query, QueryStatement, SelectItem

if TYPE_CHECKING:
    from .statements import PsmCode

_RANK: Final = 4


def add_inserted(code: "PsmCode") -> set[Query]:
    """Add a point for each query that puts the values of a new row into variables; return these queries."""
    found: set[Query] = set()
    for node in code.rewriter.subject.all(QueryStatement):
        row = inserted_row(node.query, code.rewriter.subject.read)
        if row is not None:
            found.add(node.query)
            code.rewriter.add(Point(node.query.first, node.query.last, partial(_returning, code, row), rank=_RANK))
    return found


def _returning(code: "PsmCode", row: Inserted, rewriter: Rewriter) -> str:
    values = [rewriter.elsewhere(each.value if isinstance(each, SelectItem) else each) for each in row.insert.returning]
    targets = [code.target(each) if isinstance(each, Name) else rewriter.node(each) for each in row.insert.into]
    text = rewriter.text(row.insert.first, row.insert.last).rstrip()
    return f"{text} RETURNING {', '.join(values)} INTO {', '.join(targets)}"
