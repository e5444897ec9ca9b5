"""UPDATE and DELETE of the first rows in an order, as MySQL and MariaDB have them, for SQL Server and Oracle.

Sources: MySQL 8.4 Reference Manual, "UPDATE Statement"; Transact-SQL reference, "TOP", "Using TOP in a common table expression";
Oracle Database 19c, "SQL Language Reference", "ROWID Pseudocolumn", row_limiting_clause.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Delete, Name, TableRef, Update

_ROWS: Final = "hs_rows"


def add_ordered_change(change: Update | Delete, limit: Clause, count: tuple[int, int], rewriter: Rewriter) -> None:
    """Write a change with ORDER BY before its limit. Raises CannotDraft for one that reads several tables."""
    names = rewriter.subject.read.inside(Name, change.first, change.last)
    if not isinstance(change.table, TableRef) or change.table.alias or any(len(each.parts) > 1 for each in names):
        raise CannotDraft("a change of the first rows in an order, of a table with an alias")
    order = _order_at(change, limit, rewriter)
    start = change.where.first - 1 if change.where is not None else order
    if rewriter.target.engine == "oracle":
        render = partial(_by_address, change, change.table, order, limit, count)
        rewriter.add(Point(start, change.last, render, rank=1))
    else:
        render = partial(_through_rows, change, change.table, start, order, limit, count)
        rewriter.add(Point(change.first, change.last, render, rank=1))


def _order_at(change: Update | Delete, limit: Clause, rewriter: Rewriter) -> int:
    at = next((at for at in range(limit.first - 1, change.first, -1) if rewriter.words[at] == "ORDER"), -1)
    if at < (change.where.last if change.where is not None else change.first):
        raise CannotDraft("a change of so many rows, with an order inside of a query")
    return at


def _chosen(change: Update | Delete, order: int, limit: Clause, rewriter: Rewriter) -> str:
    where = f" WHERE {rewriter.node(change.where)}" if change.where is not None else ""
    return f"{where} {rewriter.text(order, limit.first).strip()}"


def _by_address(
    change: Update | Delete, table: TableRef, order: int, limit: Clause, count: tuple[int, int], rewriter: Rewriter
) -> str:
    name, chosen = rewriter.elsewhere(table), _chosen(change, order, limit, rewriter)
    number = rewriter.text_elsewhere(*count).strip()
    return f"WHERE ROWID IN (SELECT ROWID FROM {name}{chosen} FETCH FIRST {number} ROWS ONLY)"


def _through_rows(
    change: Update | Delete,
    table: TableRef,
    start: int,
    order: int,
    limit: Clause,
    count: tuple[int, int],
    rewriter: Rewriter,
) -> str:
    name, chosen = rewriter.node(table), _chosen(change, order, limit, rewriter)
    rows = f"WITH {_ROWS} AS (SELECT TOP ({rewriter.text(*count).strip()}) * FROM {name}{chosen})"
    if isinstance(change, Delete):
        return f"{rows} DELETE FROM {_ROWS}"
    return f"{rows} UPDATE {_ROWS} {rewriter.text(table.last, start).strip()}"
