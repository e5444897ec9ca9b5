"""Settings of a session in code: those that change what the statements behind them mean, and those that nothing depends on.

Sources: Transact-SQL reference, "SET CONCAT_NULL_YIELDS_NULL", "SET ANSI_WARNINGS" and "SET ANSI_DEFAULTS"; MySQL 8.4 Reference
Manual, "Server System Variables".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Name, Node

_STANDARD: Final = frozenset(("CONCAT_NULL_YIELDS_NULL", "ANSI_WARNINGS", "ANSI_DEFAULTS"))

_IDLE: Final = frozenset(
    """AUTOCOMMIT UNIQUE_CHECKS SQL_SAFE_UPDATES GROUP_CONCAT_MAX_LEN SQL_NOTES SQL_WARNINGS SQL_LOG_BIN CTE_MAX_RECURSION_DEPTH
    MAX_SP_RECURSION_DEPTH MAX_HEAP_TABLE_SIZE TMP_TABLE_SIZE SORT_BUFFER_SIZE JOIN_BUFFER_SIZE READ_BUFFER_SIZE
    BULK_INSERT_BUFFER_SIZE OPTIMIZER_SWITCH PROFILING""".split()
)
"""Variables of MySQL and MariaDB for whose value there is no need elsewhere: sizes, limits, logs."""
SESSION_WORDS: Final = frozenset(("SESSION", "LOCAL"))
ENCODING_STATEMENTS: Final = frozenset(("set names", "set character set", "set charset"))


def is_idle_setting(target: Node, rewriter: Rewriter) -> bool:
    """Whether SET gives a value to a variable of the session on which no result depends."""
    if rewriter.catalog.engine not in ("mysql", "mariadb") or not isinstance(target, Name):
        return False
    name = target.parts[-1].lstrip("@")
    return name in _IDLE and name not in rewriter.subject.scope.declared


def check_standard(words: list[str]) -> None:
    """Raise CannotDraft for a setting by which NULL, texts that are too long or divisions by zero mean something else."""
    if words[-1] == "OFF" and not _STANDARD.isdisjoint(words):
        raise CannotDraft(f"{' '.join(words)}, which changes what statements behind it do")
