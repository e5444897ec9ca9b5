"""Conditions of SQL/PSM that a routine gives names."""

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import PlainStatement


def named_conditions(rewriter: Rewriter) -> dict[str, str]:
    """Return the conditions that DECLARE ... CONDITION FOR names: name -> SQLSTATE or number."""
    named: dict[str, str] = {}
    words = rewriter.words
    for node in rewriter.subject.all(PlainStatement):
        if node.words == "declare condition":
            inside = words[node.first : node.last]
            named[inside[1]] = inside[-1].strip("'\"")
    return named
