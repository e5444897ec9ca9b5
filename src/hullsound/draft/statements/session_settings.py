"""Settings of a session by which the statements of T-SQL code behind them mean something else.

Source: Transact-SQL reference, "SET CONCAT_NULL_YIELDS_NULL", "SET ANSI_WARNINGS" and "SET ANSI_DEFAULTS".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

_STANDARD: Final = frozenset(("CONCAT_NULL_YIELDS_NULL", "ANSI_WARNINGS", "ANSI_DEFAULTS"))


def check_standard(words: list[str]) -> None:
    """Raise CannotDraft for a setting by which NULL, texts that are too long or divisions by zero mean something else."""
    if words[-1] == "OFF" and not _STANDARD.isdisjoint(words):
        raise CannotDraft(f"{' '.join(words)}, which changes what statements behind it do")
