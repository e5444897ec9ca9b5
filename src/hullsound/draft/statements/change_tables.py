"""Rows that a change gives to the query around it, by FINAL TABLE of Db2: only one that goes into variables is drafted."""

from typing import Final

from hullsound.analyze.inserted import inserted_row
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import QueryStatement, TableFunction

_STATES: Final = frozenset(("FINAL", "NEW", "OLD"))


def refuse_change_tables(rewriter: Rewriter) -> None:
    """Refuse each change inside of a query that no routine writes as a change with what it gives back."""
    read, words = rewriter.subject.read, rewriter.words
    tables = [
        each for each in read.all(TableFunction) if words[each.first] in _STATES and words[each.first + 1] == "TABLE"
    ]
    rows = [inserted_row(each.query, read) for each in read.all(QueryStatement)] if tables else []
    known = {row.source for row in rows if row is not None}
    for table in tables:
        if table not in known:
            rewriter.add(Point(table.first, table.last, _refuse))


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a change inside of a query")
