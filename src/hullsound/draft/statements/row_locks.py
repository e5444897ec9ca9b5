"""Rows that a query locks until the transaction ends: FOR UPDATE and FOR SHARE, which SQL Server says by hints behind the tables.

Sources: Transact-SQL reference of SQL Server 2022, "Table hints" (UPDLOCK, REPEATABLEREAD, NOWAIT, READPAST); Oracle Database 19c,
"SQL Language Reference", "SELECT", for_update_clause; PostgreSQL 18, "The Locking Clause"; MySQL 8.4 Reference Manual, "Locking
Reads"; MariaDB 10.11, "LOCK IN SHARE MODE", "FOR UPDATE" and "WAIT and NOWAIT".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Join, Node, Query, Select, TableRef

_UPDATES: Final = ("for-update", "for-update-of")
_SHARES: Final = ("for-share", "lock-in-share-mode")
_WAITS: Final = ("NOWAIT", "SKIP", "WAIT")
"""What may stand behind the tables: how long to wait for other locks."""


def add_row_locks(rewriter: Rewriter) -> None:
    """Write the locks of queries for a target other than PostgreSQL; refuse those that it does not have."""
    for clause in rewriter.subject.all(Clause):
        if clause.name not in (*_UPDATES, *_SHARES):
            continue
        if rewriter.target.engine != "sqlserver":
            rewriter.add(Point(clause.first, clause.last, partial(_clause, clause)))
            continue
        try:
            _add_hints(clause, rewriter)
        except CannotDraft as error:
            rewriter.add(Point(clause.first, clause.last, partial(_refuse, str(error))))


def locking_clause(query: Query, rewriter: Rewriter) -> Clause | None:
    """Return the clause that locks the rows of a query; None for none."""
    behind = max(each.last for each in query.blocks)
    inside = (each for each in rewriter.subject.all(Clause) if behind <= each.first and each.last <= query.last)
    return next((each for each in inside if each.name in (*_UPDATES, *_SHARES)), None)


def _add_hints(clause: Clause, rewriter: Rewriter) -> None:
    """Put hints behind the tables whose rows a query locks, and leave the clause out."""
    words = rewriter.words[clause.first : clause.last]
    if "WAIT" in words:
        raise CannotDraft("locks that wait for a time")
    hints = ["UPDLOCK" if clause.name in _UPDATES else "REPEATABLEREAD", "ROWLOCK"]
    hints += [hint for word, hint in (("NOWAIT", "NOWAIT"), ("SKIP", "READPAST")) if word in words]
    for table in _locked(clause, rewriter):
        rewriter.insert_behind(table, f" WITH ({', '.join(hints)})")
    rewriter.replace(clause.first, clause.last, "")


def _clause(clause: Clause, rewriter: Rewriter) -> str:
    """Write a locking clause of Oracle, MySQL or MariaDB. PostgreSQL has weaker locks on keys, which become whole ones."""
    engine, words = rewriter.target.engine, rewriter.words
    is_share = clause.name in _SHARES
    if (engine == "oracle" and is_share) or (engine == "mysql" and "WAIT" in words[clause.first : clause.last]):
        raise CannotDraft("locks for sharing" if is_share else "locks that wait for a time")
    of = ""
    if "OF" in words[clause.first : clause.last]:
        locked = _locked(clause, rewriter)
        if len(locked) < len(_tables(clause, rewriter)):
            if engine != "mysql":
                raise CannotDraft("locks on rows of some of the tables that a query reads")
            of = f" OF {', '.join(rewriter.names.write(each.alias or each.parts[-1]) for each in locked)}"
    shared = "LOCK IN SHARE MODE" if engine == "mariadb" else "FOR SHARE"
    head = shared if is_share else "FOR UPDATE"
    return f"{head}{of} {rewriter.text(end_of_tables(clause, rewriter), clause.last)}".rstrip()


def end_of_tables(clause: Clause, rewriter: Rewriter) -> int:
    """Return the index of the token where a locking clause says how long it waits; its end where it does not."""
    return next((i for i in range(clause.first, clause.last) if rewriter.words[i] in _WAITS), clause.last)


def _tables(clause: Clause, rewriter: Rewriter) -> list[TableRef]:
    """Return the tables of the query that a locking clause ends. Raises CannotDraft where it reads anything else."""
    around = [each for each in rewriter.subject.all(Query) if each.first < clause.first and clause.last <= each.last]
    query = min(around, key=lambda each: each.last - each.first, default=None)
    block = query.blocks[0] if query is not None and len(query.blocks) == 1 else None
    sources = list(flat_sources(block.sources)) if isinstance(block, Select) else []
    tables = [each for each in sources if isinstance(each, TableRef)]
    if not tables or len(tables) < len(sources):
        raise CannotDraft("locks on rows of queries that read other queries")
    return tables


def flat_sources(sources: list[Node]) -> Iterator[Node]:
    """Yield what a query reads, joined or side by side."""
    for each in sources:
        if isinstance(each, Join):
            yield from flat_sources([each.left, each.right])
        else:
            yield each


def _locked(clause: Clause, rewriter: Rewriter) -> list[TableRef]:
    """Return the tables whose rows are locked: all, or those that OF names, in Oracle by their columns."""
    tables, words = _tables(clause, rewriter), rewriter.words
    if "OF" not in words[clause.first : clause.last] or len(tables) == 1:
        return tables
    start = words.index("OF", clause.first)
    named = {words[at] for at in range(start + 1, end_of_tables(clause, rewriter)) if words[at - 1] in ("OF", ",")}
    found = [each for each in tables if (each.alias or each.parts[-1]) in named]
    if len(found) != len(named):
        raise CannotDraft("locks on rows of tables that the query does not name")
    return found


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)
