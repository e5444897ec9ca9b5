"""Members of enumerations that the source takes by their place, as a target without enumerations has to be told.

Source: MySQL 8.4 Reference Manual, "The ENUM Type": the first member has the place 1.
"""

from functools import partial

from hullsound.catalog.model import DataType
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Node, Query


def add_members(rewriter: Rewriter) -> None:
    """Write the place of a member where a number is asked for, or where rows are ordered by members."""
    distinct = _keys_of_distinct_rows(rewriter)
    for node, kind in rewriter.types.counted_members.items():
        if node.first in distinct:
            rewriter.wrap(node, _refuse)
        rewriter.wrap(node, partial(_place_of, node, kind), rank=0)


def _keys_of_distinct_rows(rewriter: Rewriter) -> set[int]:
    """Return where the keys of ORDER BY begin that must stand in the select list of SELECT DISTINCT."""
    found: set[int] = set()
    for query in rewriter.subject.all(Query):
        if query.order and any("DISTINCT" in rewriter.words[each.first : each.first + 2] for each in query.blocks):
            found |= {order.first for order in query.order}
    return found


def _refuse(rewriter: Rewriter) -> str:
    raise CannotDraft("distinct members of an enumeration in the order of their places")


def _place_of(node: Node, kind: DataType, rewriter: Rewriter) -> str:
    members = [literal(string_content(each, rewriter.catalog.engine)) for each in kind.arguments]
    if rewriter.target.engine == "postgresql":
        return f"array_position(ARRAY[{', '.join(members)}], CAST({rewriter.node(node)} AS text))"
    places = " ".join(f"WHEN {member} THEN {place}" for place, member in enumerate(members, 1))
    return f"(CASE {rewriter.node(node)} {places} END)"
