"""Changes through a common or derived table of SQL Server, on targets that change tables alone: by key, or by address on Oracle.

Sources: Transact-SQL reference, "DELETE" and "WITH common_table_expression"; MySQL 8.4 Reference Manual, "Optimizing Derived
Tables" (one with a window function or LIMIT is never merged, so that it may read what is changed); Oracle Database 19c, "SQL
Language Reference", "ROWID Pseudocolumn" and "MERGE".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Clause, CommonTable, Delete, DerivedTable, Select, Star, TableRef, Update

from .through import (
    alias_of,
    block_behind,
    changed_query,
    column_behind,
    qualify_bare_names,
    table_behind,
)

_SELF: Final = "hs_self"
_ADDRESS: Final = "hs_address"
_OTHER: Final = ("update-from", "output", "output-into", "top")
"""Clauses of a change that this way does not know."""
_ALL: Final = 18446744073709551615
"""The limit that takes every row ("SELECT Statement")."""


def add_queried_changes(rewriter: Rewriter) -> None:
    """Add a point for each change that names a query instead of a table; sources other than SQL Server have none."""
    if rewriter.catalog.engine != "sqlserver":
        return
    changes: list[Update | Delete] = [*rewriter.subject.all(Update), *rewriter.subject.all(Delete)]
    for node in changes:
        query = changed_query(node, rewriter)
        block, table = (block_behind(query), table_behind(query)) if query is not None else (None, None)
        if query is None:
            continue
        if block is None or table is None:
            rewriter.add(Point(node.first, node.last, _refuse))
            continue
        keys = _keys(table, rewriter)
        write = rewriter.names.write
        name = write(table.alias or table.parts[-1])
        added = "".join(f", {name}.{column} AS {title}" for title, column in keys.items())
        rewriter.insert_behind(block.items[-1], added)
        if rewriter.target.engine == "oracle" and len(block.items) == 1 and isinstance(block.items[0].value, Star):
            rewriter.put(block.items[0].value, f"{name}.*")
        qualify_bare_names(node, query, rewriter)
        rewriter.add(Point(node.first, node.last, partial(_changed, node, query, keys)))


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a change of rows that the query does not take from one table")


def _keys(table: TableRef, rewriter: Rewriter) -> dict[str, str]:
    """Return what finds a row again, by the titles that the query gives it; {} where a table has no key."""
    if rewriter.target.engine == "oracle":
        return {_ADDRESS: "ROWID"}
    item = rewriter.table(table.parts)
    taken = {column.name for column in item.columns if not column.nullable} if item is not None else set()
    keys = rewriter.catalog.keys_of(item) if item is not None else []
    key = next((key for key in keys if taken.issuperset(key)), [])
    return {f"hs_key{place}": rewriter.names.write(column) for place, column in enumerate(key, start=1)}


def _changed(node: Update | Delete, query: CommonTable | DerivedTable, keys: dict[str, str], rewriter: Rewriter) -> str:
    """Write the change on the table behind the query. Raises CannotDraft where its rows cannot be found again."""
    block, table = block_behind(query), table_behind(query)
    commons = [each for each in rewriter.subject.all(CommonTable) if node.first <= each.first < node.last]
    if block is None or table is None or rewriter.words[block.first + 1] == "DISTINCT" or len(commons) > 1:
        raise CannotDraft("a change of rows that the query does not take from one table")
    clauses = [each for each in rewriter.subject.all(Clause) if node.first <= each.first < node.last]
    outside = [each for each in clauses if not query.first <= each.first < query.last]
    if isinstance(query, CommonTable) and any(each.name in _OTHER for each in outside):
        raise CannotDraft("a change through a query that reads other tables, is cut, or gives out rows")
    name = rewriter.names.qualified(*table.parts[-2:])
    inner, alias = rewriter.node(query.query), alias_of(query, rewriter)
    where = rewriter.node(node.where) if node.where is not None else ""
    sets = [
        (rewriter.names.write(column_behind(target, block)), _value(target.last, rewriter), rewriter.node(value))
        for target, value in (node.assignments if isinstance(node, Update) else ())
    ]
    if any(operator for _, operator, _ in sets):
        raise CannotDraft("an assignment through a query that also calculates")
    if rewriter.target.engine == "oracle":
        condition = f" WHERE {where}" if where else ""
        if isinstance(node, Delete):
            return f"DELETE FROM {name} WHERE ROWID IN (SELECT {alias}.{_ADDRESS} FROM ({inner}) {alias}{condition})"
        pairs = ", ".join(f"{_SELF}.{column} = {value}" for column, _, value in sets)
        return (
            f"MERGE INTO {name} {_SELF} USING ({inner}) {alias} ON ({_SELF}.ROWID = {alias}.{_ADDRESS})"
            f" WHEN MATCHED THEN UPDATE SET {pairs}{condition}"
        )
    if not keys:
        raise CannotDraft("a change through a query of a table without a key")
    if not _is_kept_apart(block, rewriter):
        inner += f" LIMIT {_ALL}"
    found = " AND ".join(f"{_SELF}.{column} = {alias}.{title}" for title, column in keys.items())
    joined = f"{name} AS {_SELF} JOIN ({inner}) AS {alias} ON {found}"
    condition = f" WHERE {where}" if where else ""
    if isinstance(node, Delete):
        return f"DELETE {_SELF} FROM {joined}{condition}"
    pairs = ", ".join(f"{_SELF}.{column} = {value}" for column, _, value in sets)
    return f"UPDATE {joined} SET {pairs}{condition}"


def _value(at: int, rewriter: Rewriter) -> str:
    """Return the operator of an assignment that calculates too; '' for a plain one."""
    return "" if rewriter.words[at] == "=" else rewriter.words[at]


def _is_kept_apart(block: Select, rewriter: Rewriter) -> bool:
    """Whether a derived table is made before its rows are joined: it numbers or cuts them."""
    calls = rewriter.subject.read.inside(Call, block.first, block.last)
    return any(call.over is not None for call in calls) or "TOP" in rewriter.words[block.first : block.first + 3]
