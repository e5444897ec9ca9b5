"""What a target refuses in a common table that names itself; '' if nothing.

PostgreSQL 18, "WITH Queries" and the messages of its parser; MySQL 8.4 Reference Manual, "Recursive Common Table Expressions";
MariaDB Server documentation, "Recursive Common Table Expressions Overview"; Transact-SQL reference of SQL Server 2022, "WITH
common_table_expression"; Oracle Database 19c, "SQL Language Reference", "Recursive Subquery Factoring".
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from hullsound.knowledge.engine_model import Target
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Clause, CommonTable, Join, Node, Query, Select, Subquery, TableRef

_ONE_UNION: Final = ("postgresql", "oracle")
"""Targets in which one block alone may name the table."""
_GROUPING: Final = ("mysql", "mariadb", "sqlserver", "oracle")
_ENDS: Final = ("limit", "offset", "fetch-first", "top")


@dataclass(frozen=True)
class _Recursion:
    """A common table that names itself, with the blocks that do, and the places at which they do."""

    read: ReadStatement
    query: Query
    naming: list[Select]
    uses: list[TableRef]

    def is_outside_of_subqueries(self, node: Node) -> bool:
        """Whether a node belongs to the query itself, not to one inside of it."""
        inner = self.read.inside(Query, self.query.first, self.query.last)
        return not any(each is not self.query and each.first <= node.first < each.last for each in inner)


def recursion(read: ReadStatement, target: Target) -> str:
    """Return what a target refuses in the recursive queries of a statement."""
    for common in read.all(CommonTable):
        query = common.query
        if not isinstance(query, Query):
            continue
        uses = [each for each in read.inside(TableRef, query.first, query.last) if each.parts == (common.name,)]
        if not uses:
            continue
        selects = [each for each in query.blocks if isinstance(each, Select)]
        naming = [each for each in selects if any(each.first <= use.first < each.last for use in uses)]
        found = next(filter(None, (rule(_Recursion(read, query, naming, uses), target) for rule in _RULES)), "")
        if found:
            return f"{found} in a common table that names itself"
    return ""


def _operator(it: _Recursion, target: Target) -> str:
    names = {name for name, _ in it.query.operators}
    allowed = {"UNION ALL"} if target.engine in ("oracle", "sqlserver") else {"UNION", "UNION ALL", "UNION DISTINCT"}
    unlike = names - allowed if len(it.query.operators) == 1 or target.engine == "postgresql" else set()
    return min(unlike) if unlike else ""


def _several_blocks(it: _Recursion, target: Target) -> str:
    return "several recursive blocks" if len(it.naming) > 1 and target.engine in _ONE_UNION else ""


def _named_twice(it: _Recursion, target: Target) -> str:
    is_found = any(sum(block.first <= use.first < block.last for use in it.uses) > 1 for block in it.naming)
    return "its own name twice" if is_found else ""


def _in_condition(it: _Recursion, target: Target) -> str:
    subqueries = it.read.inside(Subquery, it.query.first, it.query.last)
    is_found = any(each.first <= use.first < each.last and not any(each is block for block in it.query.blocks)
                   for each in subqueries for use in it.uses)  # fmt: skip
    return "its own name in a subquery" if is_found else ""


def _outer_join(it: _Recursion, target: Target) -> str:
    for join in it.read.inside(Join, it.query.first, it.query.last):
        if not any(join.first <= use.first < join.last for use in it.uses):
            continue
        kind = join.kind.split()[0] if join.kind else ""
        if target.engine == "sqlserver" and kind in ("LEFT", "RIGHT", "FULL"):
            return "an outer join"
        missing = {"LEFT": (join.right,), "RIGHT": (join.left,), "FULL": (join.left, join.right)}.get(kind, ())
        if any(side.first <= use.first < side.last for side in missing for use in it.uses):
            return "its own name on the side of an outer join that may be missing"
    return ""


def _grouped(it: _Recursion, target: Target) -> str:
    for block in it.naming:
        calls = [each for each in it.read.inside(Call, block.first, block.last) if it.is_outside_of_subqueries(each)]
        if any(each.parts[-1] in AGGREGATES_OF_ALL and each.over is None for each in calls):
            return "an aggregate"
        if target.engine in ("mysql", "mariadb") and any(each.over is not None for each in calls):
            return "a window function"
        if target.engine in _GROUPING and (block.group or block.having is not None):
            return "GROUP BY"
        if target.engine in _GROUPING and it.read.tokens.words[block.first + 1] in ("DISTINCT", "UNIQUE"):
            return "DISTINCT"
    return ""


def _ordered(it: _Recursion, target: Target) -> str:
    if it.query.order:
        return "ORDER BY"
    clauses = it.read.inside(Clause, it.query.first, it.query.last)
    ends = [each for each in clauses if each.name in _ENDS and it.is_outside_of_subqueries(each)]
    # MySQL takes LIMIT since 8.0.19.
    return "a limit of rows" if ends and target.engine != "mysql" else ""


_RULES: Final[tuple[Callable[[_Recursion, Target], str], ...]] = (
    _operator, _several_blocks, _in_condition, _named_twice, _outer_join, _grouped, _ordered,
)  # fmt: skip
