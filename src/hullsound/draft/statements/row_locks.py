"""Rows that a query locks until the transaction ends: FOR UPDATE and FOR SHARE, which SQL Server says by hints behind the tables.

Sources: Transact-SQL reference of SQL Server 2022, "Table hints" (UPDLOCK, REPEATABLEREAD, NOWAIT, READPAST); Oracle Database 19c,
"SQL Language Reference", "SELECT", for_update_clause; PostgreSQL 18, "The Locking Clause"; MySQL 8.4, "Locking Reads".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Join, Node, Query, Select, TableRef

_HINTS: Final = {
    "for-update": "UPDLOCK",
    "for-update-of": "UPDLOCK",
    "for-no": "UPDLOCK",
    "for-share": "REPEATABLEREAD",
    "for-key-share": "REPEATABLEREAD",
    "lock-in-share-mode": "REPEATABLEREAD",
}
WAITS: Final = ("NOWAIT", "SKIP", "WAIT")
"""What may stand behind the tables: how long to wait for other locks."""
_OF: Final = 2
"""Tokens before OF: FOR UPDATE."""


def add_lock_hints(rewriter: Rewriter) -> None:
    """Put hints behind the tables whose rows a query locks, and leave the clause out."""
    for clause in rewriter.subject.all(Clause):
        if clause.name not in _HINTS:
            continue
        words = rewriter.words[clause.first : clause.last]
        try:
            tables = locked_tables(clause, rewriter)
        except CannotDraft as error:
            rewriter.add(Point(clause.first, clause.last, partial(_refuse, str(error))))
            continue
        waits = "".join(f", {hint}" for word, hint in (("NOWAIT", "NOWAIT"), ("SKIP", "READPAST")) if word in words)
        for table in tables:
            rewriter.insert_behind(table, f" WITH ({_HINTS[clause.name]}, ROWLOCK{waits})")
        rewriter.replace(clause.first, clause.last, "")


def read_tables(clause: Clause, rewriter: Rewriter) -> list[TableRef]:
    """Return the tables of the query that a locking clause ends. Raises CannotDraft where it reads anything else."""
    around = [each for each in rewriter.subject.all(Query) if each.first < clause.first and clause.last <= each.last]
    query = min(around, key=lambda each: each.last - each.first, default=None)
    block = query.blocks[0] if query is not None and len(query.blocks) == 1 else None
    sources = list(_flat(block.sources)) if isinstance(block, Select) else []
    tables = [each for each in sources if isinstance(each, TableRef)]
    if not tables or len(tables) < len(sources):
        raise CannotDraft("locks on rows of queries that read other queries")
    return tables


def _flat(sources: list[Node]) -> Iterator[Node]:
    for each in sources:
        if isinstance(each, Join):
            yield from _flat([each.left, each.right])
        else:
            yield each


def locked_tables(clause: Clause, rewriter: Rewriter) -> list[TableRef]:
    """Return the tables whose rows are locked: all, or those that OF names, by their columns in Oracle and Db2."""
    tables = read_tables(clause, rewriter)
    if clause.name != "for-update-of" or len(tables) == 1:
        return tables
    words = rewriter.words
    end = next((i for i in range(clause.first, clause.last) if words[i] in WAITS), clause.last)
    named = {words[at] for at in range(clause.first + _OF + 1, end) if words[at - 1] in ("OF", ",")}
    found = [each for each in tables if (each.alias or each.parts[-1]) in named]
    if len(found) != len(named):
        raise CannotDraft("locks on rows of tables that the query does not name")
    return found


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)
