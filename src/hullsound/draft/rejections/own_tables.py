"""Row triggers that read or change the table they belong to, which targets refuse or see at another moment than the source.

Sources: Oracle Database 19c PL/SQL Language Reference, "Mutating-Table Restriction" (ORA-04091); MySQL 8.4 Reference Manual,
"Restrictions on Stored Programs" (error 1442), and "Trigger Syntax" (a trigger runs with its row, the next one unchanged).
"""

from typing import Final

from hullsound.knowledge.engine_model import Target
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import CreateTrigger, Delete, Insert, Merge, Name, Node, TableRef, Update

_BY_STATEMENT: Final = ("sqlserver", "ase")
_ROWS: Final = (("INSERTED",), ("DELETED",))
"""Tables of changed rows in the T-SQL family."""
_BEHIND_STATEMENT: Final = ("postgresql", "db2")
"""Engines whose AFTER triggers run when all rows are changed.

Sources: PostgreSQL 18, "Visibility of Data Changes"; Db2 12, "CREATE TRIGGER".
"""


def own_table_use(read: ReadStatement, target: Target, source: str) -> str:
    """Return what a trigger does with its own table or changed rows that the target does otherwise, as words; '' for nothing."""
    tree = read.tree
    rows = [each for each in read.all(TableRef) if each.parts in _ROWS]
    if rows and source in _BY_STATEMENT and target.engine in ("oracle", "mysql", "mariadb"):
        return f"the table {rows[0].parts[0].lower()} of a trigger"
    if not isinstance(tree, CreateTrigger) or tree.level != "row" or tree.timing == "instead of" or not tree.table:
        return ""
    changes: list[Insert | Update | Delete | Merge] = [
        *read.all(Insert), *read.all(Update), *read.all(Delete), *read.all(Merge)
    ]  # fmt: skip
    own = [each for each in read.all(TableRef) if each.parts[-1] == tree.table[-1] and each.first >= tree.body_at]
    changed = {id(change.table) for change in changes}
    if target.engine == "oracle":
        return "a row trigger that reads or changes its own table" if own else ""
    if target.engine not in ("mysql", "mariadb") or not own:
        return ""
    if any(id(each) in changed for each in own):
        return "a trigger that changes its own table"
    # What is computed anew for each row is right behind the last one; what is added to what was there is not.
    computed = [
        value for update in read.all(Update) for column, value in update.assignments if not _adds(column, value, read)
    ]
    if all(any(value.first <= each.first < value.last for value in computed) for each in own):
        return ""
    sees_all = source in _BY_STATEMENT or (source in _BEHIND_STATEMENT and tree.timing == "after")
    return "a trigger that reads its own table while not all rows are changed" if sees_all else ""


def _adds(column: Node, value: Node, read: ReadStatement) -> bool:
    """Whether a value is made of what the column has held."""
    held = column.parts[-1] if isinstance(column, Name) else ""
    return any(name.parts[-1] == held for name in read.inside(Name, value.first, value.last))
