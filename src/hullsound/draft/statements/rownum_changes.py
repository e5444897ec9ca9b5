"""UPDATE and DELETE of any so many rows by ROWNUM of Oracle.

Sources: Oracle Database 19c, "SQL Language Reference", "ROWNUM Pseudocolumn"; MySQL 8.4 Reference Manual, "DELETE Statement";
Transact-SQL reference, "TOP"; PostgreSQL 18, "DELETE".
"""

from functools import partial

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detectors.conditions import conjuncts
from hullsound.sight.detectors.rownum import ChangeLimit, change_limits
from hullsound.sql.tree import Node, TableRef


def add_rownum_changes(rewriter: Rewriter) -> None:
    """Write each such limit in the target's form."""
    target = rewriter.target.engine
    for limit in change_limits(rewriter.subject).values():
        change, where = limit.change, limit.change.where
        assert where is not None
        if not isinstance(change.table, TableRef):
            rewriter.add(Point(where.first, where.last, _refuse, rank=1))
            continue
        rest = [each for each in conjuncts(where) if each is not limit.condition]
        at = next(i for i in range(where.first - 1, change.first, -1) if rewriter.words[i] == "WHERE")
        render = partial(_by_address if target == "postgresql" else _conditions, limit, rest)
        rewriter.add(Point(at, where.last, render, rank=1))
        if target == "sqlserver":
            rewriter.add(Point(change.first + 1, change.first + 1, partial(_top, limit)))
        elif target in ("mysql", "mariadb"):
            rewriter.add(Point(change.last, change.last, partial(_behind, limit), behind=change.first))


def _refuse(_: Rewriter) -> str:
    raise CannotDraft("a change through a query of so many rows")


def _count(limit: ChangeLimit, rewriter: Rewriter) -> str:
    text = rewriter.subject.source(limit.limit)
    if text.isdecimal():
        return str(max(int(text) - limit.is_strict, 0))
    if rewriter.types.family(limit.limit) is not Family.INTEGER or rewriter.target.engine in ("mysql", "mariadb"):
        raise CannotDraft("a change of so many rows that no plain number says")
    written = rewriter.elsewhere(limit.limit)
    return f"{written} - 1" if limit.is_strict else written


def _conditions(limit: ChangeLimit, rest: list[Node], rewriter: Rewriter) -> str:
    return f"WHERE {rewriter.nodes(rest, ' AND ')}" if rest else ""


def _by_address(limit: ChangeLimit, rest: list[Node], rewriter: Rewriter) -> str:
    """Choose the rows by their address, as PostgreSQL takes no limit in a change."""
    table = limit.change.table
    assert isinstance(table, TableRef)
    name = f"{rewriter.names.write(table.alias)}.ctid" if table.alias else "ctid"
    condition = f" WHERE {rewriter.nodes(rest, ' AND ')}" if rest else ""
    return (
        f"WHERE {name} IN (SELECT {name} FROM {rewriter.elsewhere(table)}{condition} LIMIT {_count(limit, rewriter)})"
    )


def _top(limit: ChangeLimit, rewriter: Rewriter) -> str:
    return f"TOP ({_count(limit, rewriter)}) "


def _behind(limit: ChangeLimit, rewriter: Rewriter) -> str:
    return f" LIMIT {_count(limit, rewriter)}"
