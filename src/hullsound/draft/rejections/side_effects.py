"""What functions of SQL Server may not do: change tables, raise errors, print, or give another value at each call.

Source: Transact-SQL reference of SQL Server 2022, "CREATE FUNCTION", Limitations, and error 443 ("invalid use of a side-effecting
operator").
"""

from typing import Final

from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Call,
    CallStatement,
    CreateRoutine,
    Delete,
    Execute,
    Insert,
    Merge,
    Node,
    PlainStatement,
    Raise,
    TableRef,
    TryCatch,
    Update,
)

_CHANGING: Final = frozenset(("NEWID", "NEWSEQUENTIALID", "RAND", "TEXTPTR"))
_STATEMENTS: Final = frozenset(("PRINT", "RAISERROR", "THROW", "WAITFOR", "COMMIT", "ROLLBACK", "SAVE"))


def side_effect(read: ReadStatement) -> str:
    """Return what a function of a draft does and may not do, as words; '' where there is nothing, or no function."""
    tree = read.tree
    if not isinstance(tree, CreateRoutine) or tree.routine.form.upper() != "FUNCTION":
        return ""
    for call in read.all(Call):
        if call.parts[-1] in _CHANGING and len(call.parts) == 1:
            return f"{call.parts[-1]} in a function"
    words = read.tokens.words
    for node in (*read.all(PlainStatement), *read.all(Raise)):
        if words[node.first] in _STATEMENTS:
            return f"{words[node.first]} in a function"
    calling: tuple[type[Node], ...] = (TryCatch, Execute, CallStatement)
    if any(read.all(kind) for kind in calling):
        return "TRY or a call of a procedure in a function"
    changes: list[Insert | Update | Delete | Merge] = [
        *read.all(Insert), *read.all(Update), *read.all(Delete), *read.all(Merge)
    ]  # fmt: skip
    changed = [change.table for change in changes]
    if any(not isinstance(table, TableRef) or not table.parts[-1].startswith("@") for table in changed):
        return "a function that changes a table"
    return "a temporary table in a function" if any(t.parts[-1].startswith("#") for t in read.all(TableRef)) else ""
