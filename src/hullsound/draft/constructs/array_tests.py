"""Arrays of PostgreSQL that only list values: tests against one that is written out, and texts that are joined by way of one.

Source: PostgreSQL 18, "Row and Array Comparisons" (NULL among the values counts as in IN) and "Array Functions and Operators"
(array_to_string passes over NULL, as string_agg does).
"""

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sight.detectors.shared import listed_array
from hullsound.sql.tree import Operation

from . import fixer


@fixer("array_test")
def fix_array_test(place: Found, rewriter: Rewriter) -> str:
    """Write = ANY (ARRAY[...]) and <> ALL (ARRAY[...]) as IN and NOT IN."""
    node = place.node
    assert isinstance(node, Operation)
    row = listed_array(node)
    if row is None or not row.items:
        raise CannotDraft("a test against an array that is not written out")
    word = "NOT IN" if node.operators[0].endswith("ALL") else "IN"
    return f"{rewriter.node(node.operands[0])} {word} ({rewriter.nodes(row.items)})"
