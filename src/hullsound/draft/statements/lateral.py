"""Joins with what a query makes of each row: LATERAL of the standard, APPLY of SQL Server and Oracle.

Sources: MySQL 8.4 Reference Manual, "Lateral Derived Tables"; Transact-SQL reference, "FROM"; Oracle Database 19c, "SQL Language
Reference", cross_outer_apply_clause.
"""

from functools import partial

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, DerivedTable, Join, Select, TableFunction

from .document_rows import READ
from .lateral_rows import LateralRows


def add_lateral(join: Join, rewriter: Rewriter) -> None:
    """Write a lateral join in the target's words. Raises CannotDraft for one with a function that returns rows."""
    applies = join.kind in ("CROSS APPLY", "OUTER APPLY")
    right = join.right
    if not applies and not (isinstance(right, DerivedTable) and right.lateral):
        return
    target = rewriter.target.engine
    if (
        isinstance(right, TableFunction)
        and isinstance(right.call, Call)
        and right.call.parts[-1] in (*READ, "GENERATE_SERIES")
    ):
        return  # written with its join
    if isinstance(right, TableFunction) and not rewriter.changes(right):
        raise CannotDraft("a join with the rows that a function returns")
    if target == "mariadb" and isinstance(right, DerivedTable):
        _add_rows(join, right, rewriter)
    elif target in ("mysql", "mariadb") and applies:
        is_outer = join.kind.startswith("OUTER")
        rewriter.replace(join.left.last, right.first, " LEFT JOIN LATERAL " if is_outer else " JOIN LATERAL ")
        rewriter.insert_behind(join, " ON TRUE")
    elif target == "sqlserver" and not applies:
        _apply(join, right, rewriter)


def add_lateral_lists(rewriter: Rewriter) -> None:
    """Write FROM t, LATERAL (query) for MariaDB, as if a join stood there."""
    for select in rewriter.subject.all(Select) if rewriter.target.engine == "mariadb" else ():
        match select.sources:
            case [left, DerivedTable(lateral=True) as right]:
                _add_rows(Join(left.first, right.last, "CROSS JOIN", left, right, None), right, rewriter)


def _add_rows(join: Join, right: DerivedTable, rewriter: Rewriter) -> None:
    try:
        LateralRows(join, right, rewriter).add()
    except CannotDraft as reason:
        rewriter.add(Point(join.left.last, join.last, partial(_refuse, str(reason))))


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


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)
