"""Savepoints in procedures, as MySQL, MariaDB and Oracle name them.

Sources: PL/SQL Language Reference, "SAVEPOINT Statement"; Transact-SQL reference, "SAVE TRANSACTION"; MySQL 8.4 Reference Manual,
"SAVEPOINT, ROLLBACK TO SAVEPOINT".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import OtherStatement, PlainStatement

from .speech import Lines

_SETTING: Final = frozenset(("savepoint", "save"))
_TARGETS: Final = frozenset(("mysql", "mariadb", "oracle"))


def savepoint(node: PlainStatement | OtherStatement, rewriter: Rewriter) -> Lines | None:
    """Write SAVEPOINT name or ROLLBACK TO SAVEPOINT name; None for another statement.

    Raises CannotDraft where the target ties savepoints to a transaction that is open.
    """
    sets = node.words in _SETTING
    name = rewriter.words[node.last - 1]
    if not sets and node.words != "rollback to" and not (node.words == "rollback" and name in _saved(rewriter)):
        return None
    if rewriter.target.engine not in _TARGETS:
        raise CannotDraft("a savepoint, which needs an open transaction there")
    written = rewriter.names.write(name)
    return [f"SAVEPOINT {written};" if sets else f"ROLLBACK TO SAVEPOINT {written};"]


def _saved(rewriter: Rewriter) -> set[str]:
    """Return the names that SAVE TRANSACTION gives; a ROLLBACK without one of them undoes everything."""
    return {rewriter.words[each.last - 1] for each in rewriter.subject.all(PlainStatement) if each.words == "save"}
