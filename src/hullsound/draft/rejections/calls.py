"""Calls that a target refuses: functions of later versions, other numbers of arguments, window functions without a window."""

from typing import Final

from hullsound.knowledge.engine_model import Target, version_text
from hullsound.knowledge.targets import load_call_rows
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Name, Window

_VALUE_WORDS: Final = {
    "sqlserver": frozenset(("CURRENT_TIMESTAMP", "CURRENT_USER", "SESSION_USER", "SYSTEM_USER", "USER")),
    "oracle": frozenset(("CURRENT_DATE", "CURRENT_TIMESTAMP", "LOCALTIMESTAMP", "USER")),
}
"""The standard's words for a clock or a user that stand without brackets, by target: SQL Language Reference of Oracle Database 19c,
Transact-SQL reference of SQL Server 2022."""
_STANDARD_WORDS: Final = frozenset(
    """CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER SESSION_USER USER SYSTEM_USER
    CURRENT_ROLE CURRENT_CATALOG CURRENT_SCHEMA""".split()
)


def refused_call(read: ReadStatement, target: Target) -> str:
    """Return the first call that the target refuses, and why, as words; '' where there is none."""
    rows = load_call_rows(target.engine)
    for call in read.all(Call):
        row = rows.get(call.parts[0]) if len(call.parts) == 1 and call.opening >= 0 else None
        if row is None:
            continue
        if target.version < row.since:
            return f"{call.parts[0]}, before version {version_text(row.since)}" if row.since < 9999 else call.parts[0]
        words = read.tokens.words[call.opening + 1 : call.closing]
        fewest, most = row.arguments
        # Words such as FROM, USING and AS divide arguments too.
        if words and not call.modified and not fewest <= len(call.arguments) <= most:
            return f"{call.parts[0]} with {len(call.arguments)} arguments"
        if row.needs and not _has_window(call, read, row.needs == "order"):
            return f"{call.parts[0]} without {'OVER' if row.needs == 'over' else 'ORDER BY'}"
    return ""


def _has_window(call: Call, read: ReadStatement, is_ordered: bool) -> bool:
    words = read.tokens.words
    behind = words[call.closing + 1 : call.last]
    is_named = isinstance(call.over, Window) and words[call.over.first] != "("
    return is_named or ("ORDER" in behind if is_ordered else "OVER" in behind)


def unknown_word(read: ReadStatement, target: Target) -> str:
    """Return a word of the standard for a clock or a user that the target does not have; '' where there is none."""
    known = _VALUE_WORDS.get(target.engine, _STANDARD_WORDS)
    words = (name.parts[0] for name in read.all(Name) if len(name.parts) == 1)
    return next((word for word in words if word in _STANDARD_WORDS - known), "")
