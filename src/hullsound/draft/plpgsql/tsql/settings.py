"""SET statements of Transact-SQL code: most are left out, some become settings of PostgreSQL."""

from typing import Final

from hullsound.draft.constructs.weeks import first_weekday_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.session_settings import check_standard
from hullsound.sql.tree import OtherStatement

_IDLE: Final = ("set nocount", "set ansi", "set quoted", "set xact_abort", "set concat", "set arith", "set numeric",
                "set statistics", "set textsize", "set identity_insert", "set showplan",
                "set deadlock_priority", "set string_rtruncation", "set chained", "update statistics")  # fmt: skip
"""Settings that nothing takes the place of."""
_DATE_ORDERS: Final = ("DMY", "MDY", "YMD")
_ENGLISH: Final = ("ENGLISH", "US_ENGLISH")
_IN_FORCE: Final = (["READ", "COMMITTED"], ["READ", "UNCOMMITTED"])
"""Isolation levels that PostgreSQL has by default, or that mean the same there."""


def setting(node: OtherStatement, rewriter: Rewriter) -> str | None:
    """Write a setting; '' for one that is left out, None for a statement that is none.

    Raises CannotDraft for a setting that has no counterpart.
    """
    words = rewriter.words[node.first : node.last]
    check_standard(words)
    if node.words.startswith(_IDLE) or (node.words == "set rowcount" and words[-1] == "0"):
        return ""
    if node.words.startswith("set transaction isolation"):
        if words[4:6] in _IN_FORCE:
            return ""
        raise CannotDraft(f"the isolation level {' '.join(words[4:]).lower()}, which a transaction must begin with")
    if node.words.startswith("set lock_timeout"):
        return f"PERFORM set_config('lock_timeout', '{_lock_timeout(words[2:])}', true)"
    if node.words.startswith("set datefirst"):
        first_weekday_of(rewriter)
        return ""
    if node.words.startswith("set dateformat") and words[-1].strip("'") in _DATE_ORDERS:
        return f"PERFORM set_config('datestyle', 'ISO, {words[-1].strip(chr(39))}', true)"
    if node.words.startswith("set language") and words[-1].strip("'[]") in _ENGLISH:
        return ""
    return None


def _lock_timeout(words: list[str]) -> str:
    """Return how many milliseconds to wait for a lock: 0 means for ever in PostgreSQL, as -1 does in the source."""
    if words == ["-", "1"]:
        return "0"
    if len(words) != 1 or not words[0].isdecimal():
        raise CannotDraft("a time to wait for locks that is no constant")
    return "1" if words == ["0"] else words[0]
