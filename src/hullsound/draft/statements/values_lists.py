"""Members of VALUES lists, IN (VALUES (1), (2)), as members of plain lists, which every target reads.

Source: SQL:1992, "in predicate": IN over a query is true where the value is equal to one of its rows, as it is over a list.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.commas import between_commas
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Comparison, Row, Subquery

from .values_tables import items_of

_RANK: Final = 5


def add_values_lists(rewriter: Rewriter) -> None:
    """Write the rows of VALUES in IN one after the other."""
    for node in rewriter.subject.all(Comparison):
        inner = node.operands[-1]
        if node.operator == "IN" and isinstance(inner, Subquery) and listed_rows(inner, rewriter) is not None:
            rewriter.add(Point(inner.first, inner.last, partial(_listed, node, inner), rank=_RANK))


def listed_rows(node: Subquery, rewriter: Rewriter) -> Clause | None:
    """Return the VALUES list that a query is; None for another query."""
    if rewriter.words[node.query.first] != "VALUES":
        return None
    lists = (each for each in rewriter.subject.all(Clause) if each.name == "values-query")
    return next((each for each in lists if (each.first, each.last) == (node.query.first, node.query.last)), None)


def written_rows(values: Clause, rewriter: Rewriter) -> list[list[str]]:
    """Return the values of each row of a VALUES list, as the target writes them."""
    rows = between_commas(values.first + 1, values.last, rewriter.words)
    return [items_of(first + 1, last - 1, rewriter) for first, last in rows]


def _listed(node: Comparison, inner: Subquery, rewriter: Rewriter) -> str:
    values, tested = listed_rows(inner, rewriter), node.operands[0]
    assert values is not None
    wanted = len(tested.items) if isinstance(tested, Row) else 1
    rows = written_rows(values, rewriter)
    if any(len(row) != wanted for row in rows):
        raise CannotDraft("a list of rows of another length than what is looked for")
    written = [", ".join(row) if wanted == 1 else f"({', '.join(row)})" for row in rows]
    return f"({', '.join(written)})"
