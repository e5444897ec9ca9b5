"""Errors that triggers of SQLite raise by a query: SELECT RAISE(ABORT, text) WHERE condition."""

from functools import partial
from typing import Final

from hullsound.analyze.raised import Raised, RaisingQuery, raising_query
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import CreateTrigger, QueryStatement

_RANK: Final = 3


def add_raising_queries(tree: CreateTrigger, rewriter: Rewriter) -> None:
    """Write each query that raises as IF and RAISE EXCEPTION."""
    for node in rewriter.subject.all(QueryStatement):
        raising = raising_query(node, rewriter.subject.read)
        if raising is not None:
            rewriter.add(Point(node.first, node.last, partial(_raise, raising, tree), rank=_RANK))


def _raise(raising: RaisingQuery, tree: CreateTrigger, rewriter: Rewriter) -> str:
    tested = [
        f"{'ELSIF' if place else 'IF'} {rewriter.node(condition)} THEN {_statement(each, tree, rewriter)};"
        for place, each in enumerate(raising.branches)
        if (condition := each.condition) is not None
    ]
    rest = [_statement(each, tree, rewriter) for each in raising.branches if each.condition is None]
    if tested:
        otherwise = f" ELSE {rest[0]};" if rest else ""
        text = f"{' '.join(tested)}{otherwise} END IF"
    else:
        text = rest[0]
    if raising.source != (0, 0):
        if tested:
            raise CannotDraft("RAISE that the values of a table decide about")
        return f"IF EXISTS (SELECT 1 {rewriter.text(*raising.source).strip()}) THEN {text}; END IF"
    if raising.where is None:
        return text
    return f"IF {rewriter.node(raising.where)} THEN {text}; END IF"


def _statement(raised: Raised, tree: CreateTrigger, rewriter: Rewriter) -> str:
    if not raised.action:
        return "NULL"
    if raised.action == "IGNORE" and tree.timing.lower() == "before":
        return "RETURN NULL"  # the row is passed over
    if raised.action != "ABORT":
        raise CannotDraft(f"RAISE({raised.action}), which keeps what was changed before, or ends the transaction")
    return f"RAISE EXCEPTION '%', {rewriter.text(*raised.message).strip()}"
