"""Aggregates over the rows of a filter, for engines without FILTER: what does not fit is NULL, which aggregates pass over.

Source: SQL:2003, "filter clause"; PostgreSQL 18, "Aggregate Expressions".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Name, Node, Star

_HEAD: Final = ["FILTER", "(", "WHERE"]


def add_filtered_aggregates(rewriter: Rewriter) -> None:
    """Move the condition of each filter into the aggregate's argument."""
    for call in rewriter.subject.all(Call):
        behind = call.closing + 1
        if rewriter.words[behind : behind + len(_HEAD)] != _HEAD:
            continue
        close = closing_of(rewriter, behind + 1)
        if len(call.arguments) != 1 or rewriter.words[call.arguments[0].last] != ")":
            rewriter.add(Point(call.first, call.last, _refuse, rank=9))
            continue
        rewriter.wrap(call.arguments[0], partial(_fitting, call.arguments[0], behind + len(_HEAD), close), rank=1)
        rewriter.replace(behind, close + 1, "")


def _fitting(value: Node, first: int, last: int, rewriter: Rewriter) -> str:
    is_name = any(each.first == first and each.last == last for each in rewriter.subject.read.inside(Name, first, last))
    counted = "1" if isinstance(value, Star) else rewriter.node(value)
    test = rewriter.text(first, last)
    if is_name and rewriter.target.engine in ("sqlserver", "oracle"):  # which keep truth values as numbers
        test = f"{test} <> 0"
    return f"CASE WHEN {test} THEN {counted} END"


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("an aggregate of several values over a part of the rows")
