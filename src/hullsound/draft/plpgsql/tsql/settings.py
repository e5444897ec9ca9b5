"""SET statements of Transact-SQL code: most are left out, some become settings of PostgreSQL."""

from typing import Final

from hullsound.draft.constructs.weeks import first_weekday_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import OtherStatement

_IDLE: Final = ("set nocount", "set ansi", "set quoted", "set xact_abort", "set concat", "set arith", "set numeric",
                "set statistics", "set textsize", "set lock_timeout", "set identity_insert", "set showplan",
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
    if node.words.startswith(_IDLE) or (node.words == "set rowcount" and words[-1] == "0"):
        return ""
    if node.words.startswith("set transaction isolation"):
        if words[4:6] in _IN_FORCE:
            return ""
        raise CannotDraft(f"the isolation level {' '.join(words[4:]).lower()}, which a transaction must begin with")
    if node.words.startswith("set datefirst"):
        first_weekday_of(rewriter)
        return ""
    if node.words.startswith("set dateformat") and words[-1].strip("'") in _DATE_ORDERS:
        return f"PERFORM set_config('datestyle', 'ISO, {words[-1].strip(chr(39))}', true)"
    if node.words.startswith("set language") and words[-1].strip("'[]") in _ENGLISH:
        return ""
    return None
