"""Joins with what a query makes of each row: LATERAL of the standard, APPLY of SQL Server and Oracle.

Sources: MySQL 8.4 Reference Manual, "Lateral Derived Tables"; Transact-SQL reference, "FROM"; Oracle Database 19c, "SQL Language
Reference", cross_outer_apply_clause.
"""

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import DerivedTable, Join, TableFunction


def add_lateral(join: Join, rewriter: Rewriter) -> None:
    """Write a lateral join in the target's words. Raises CannotDraft for one with a function that returns rows."""
    applies = join.kind in ("CROSS APPLY", "OUTER APPLY")
    right = join.right
    if not applies and not (isinstance(right, DerivedTable) and right.lateral):
        return
    target = rewriter.target.engine
    if isinstance(right, TableFunction) and not rewriter.changes(right):
        raise CannotDraft("a join with the rows that a function returns")
    if target in ("mysql", "mariadb") and applies:
        is_outer = join.kind.startswith("OUTER")
        rewriter.replace(join.left.last, right.first, " LEFT JOIN LATERAL " if is_outer else " JOIN LATERAL ")
        rewriter.insert_behind(join, " ON TRUE")
    elif target == "sqlserver" and not applies:
        _apply(join, right, rewriter)


def _apply(join: Join, right: object, rewriter: Rewriter) -> None:
    """Write LATERAL as APPLY, which has no condition of its own."""
    words = rewriter.words
    assert isinstance(right, DerivedTable)
    opening = next(at for at in range(join.left.last, right.last) if words[at] == "(")
    between = [word for word in words[join.left.last : opening] if word not in ("LATERAL", "JOIN", "OUTER", "INNER")]
    holds = join.condition is None or words[join.condition.first : join.condition.last] == ["TRUE"]
    if not holds or between not in ([], ["CROSS"], ["LEFT"]):
        raise CannotDraft("a lateral join with a condition")
    kind = "OUTER" if between == ["LEFT"] else "CROSS"
    rewriter.replace(join.left.last, opening, f" {kind} APPLY ")
    if join.condition is not None:
        rewriter.replace(right.last, join.condition.last, "")
