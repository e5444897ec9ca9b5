"""Joins with the mark (+) or by *= and =*: which tables are optional, and whether LEFT JOIN can say the same."""

from dataclasses import dataclass, field
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sql.tree import (
    Clause,
    Comparison,
    DerivedTable,
    Name,
    Node,
    Operation,
    OuterMark,
    Select,
    Subquery,
    TableFunction,
    TableRef,
)

from .conditions import conjuncts


@dataclass(slots=True)
class OuterJoinPlan:
    """How one query block's marks become joins; `reason` says why they cannot."""

    select: Select
    marks: list[OuterMark]
    joins: dict[str, list[Node]] = field(default_factory=dict)
    """Alias of each optional table -> the conditions of its join, in the order to join in."""
    reason: str = ""


def outer_joins(subject: Subject) -> dict[Select, OuterJoinPlan]:
    """Return a plan for each query block with marks."""
    known = subject.memory.get("outer joins")
    if isinstance(known, dict):
        return known
    plans: dict[Select, OuterJoinPlan] = {}
    marks = subject.all(OuterMark)
    if marks:
        selects = sorted(subject.all(Select), key=lambda s: s.last - s.first)
        for mark in marks:
            for select in selects:
                if select.first <= mark.first < select.last:
                    plans.setdefault(select, OuterJoinPlan(select, [])).marks.append(mark)
                    break
        for plan in plans.values():
            plan.reason = _plan(plan, subject)
    subject.memory["outer joins"] = plans
    return plans


def source_alias(node: Node) -> str:
    """Return the name by which a block's columns name a table of FROM."""
    if isinstance(node, TableRef):
        return node.alias or node.parts[-1]
    return node.alias if isinstance(node, DerivedTable | TableFunction) else ""


def _plan(plan: OuterJoinPlan, subject: Subject) -> str:
    """Fill in the joins of a plan; return why it cannot be done, or ''."""
    select = plan.select
    aliases = [source_alias(source) for source in select.sources]
    if "" in aliases:
        return "mixed with ANSI joins or unnamed tables"
    if any(
        c.first >= select.first and c.last <= select.last for c in subject.all(Clause) if c.name == "from-partition"
    ):
        return "a partition is named"
    where = select.where
    if where is None or any(not where.first <= mark.first < where.last for mark in plan.marks):
        return "a mark outside WHERE"
    parents: dict[str, set[str]] = {}
    for condition in conjuncts(where):
        marked = {mark.name.parts[0] for mark in plan.marks if condition.first <= mark.first < condition.last}
        if not marked:
            continue
        if not isinstance(condition, Operation | Comparison) or "OR" in getattr(condition, "operators", ()):
            return "a mark inside OR or another expression"
        if len(marked) > 1 or not marked <= set(aliases) or any(len(m.name.parts) < 2 for m in plan.marks):
            return "a mark whose table is not clear"
        others, unclear = _aliases_in(condition, subject, aliases, plan.marks)
        if unclear:
            return "a column without its table beside a mark"
        if any(s.first >= condition.first and s.last <= condition.last for s in subject.all(Subquery)):
            return "a subquery beside a mark"
        alias = marked.pop()
        parents.setdefault(alias, set()).update(others - {alias})
        plan.joins.setdefault(alias, []).append(condition)
    return _order(plan, parents, aliases)


def _aliases_in(condition: Node, subject: Subject, aliases: list[str], marks: list[OuterMark]) -> tuple[set[str], bool]:
    """Return the tables whose unmarked columns stand in a condition, and whether a column's table is unclear."""
    marked = {mark.name for mark in marks}
    others: set[str] = set()
    for name in subject.all(Name):
        if condition.first <= name.first < condition.last and name not in marked:
            if len(name.parts) > 1 and name.parts[0] in aliases:
                others.add(name.parts[0])
            elif len(name.parts) == 1 and name.parts[0] not in subject.scope.declared and name.parts[0] not in (
                "SYSDATE", "USER",
            ):  # fmt: skip
                return others, True
    return others, False


def _order(plan: OuterJoinPlan, parents: dict[str, set[str]], aliases: list[str]) -> str:
    """Sort the joins so that each table comes behind those it is joined to."""
    placed = {alias for alias in aliases if alias not in parents}
    if not placed:
        return "every table is optional"
    ordered: dict[str, list[Node]] = {}
    waiting = [alias for alias in aliases if alias in parents]
    while waiting:
        ready = [alias for alias in waiting if parents[alias] <= placed]
        if not ready:
            return "the optional tables depend on each other in a circle"
        for alias in ready:
            ordered[alias] = plan.joins[alias]
            placed.add(alias)
            waiting.remove(alias)
    plan.joins = ordered
    return ""


STAR_SIGNS: Final = {"*=": 1, "=*": 0}
"""Signs of the T-SQL family, and which of their operands belongs to the optional table."""


def star_joins(subject: Subject) -> dict[Select, OuterJoinPlan]:
    """Return a plan for each query block with *= or =* in its WHERE.

    What else is asked of the optional table alone belongs to its join, as the source applies it before it joins.
    """
    plans: dict[Select, OuterJoinPlan] = {}
    for select in subject.all(Select):
        conditions = conjuncts(select.where) if select.where is not None else []
        starred = [c for c in conditions if isinstance(c, Operation) and set(c.operators) <= STAR_SIGNS.keys()]
        if starred:
            plan = plans[select] = OuterJoinPlan(select, [])
            plan.reason = _plan_stars(plan, starred, conditions, subject)
    return plans


def _plan_stars(plan: OuterJoinPlan, starred: list[Operation], conditions: list[Node], subject: Subject) -> str:
    aliases = [source_alias(source) for source in plan.select.sources]
    if "" in aliases:
        return "mixed with ANSI joins or unnamed tables"
    parents: dict[str, set[str]] = {}
    for join in starred:
        optional = join.operands[STAR_SIGNS[join.operators[0]]]
        others, unclear = _aliases_in(join, subject, aliases, [])
        if len(join.operands) != 2 or unclear or not isinstance(optional, Name) or optional.parts[0] not in aliases:
            return "a column without its table beside the sign"
        parents.setdefault(optional.parts[0], set()).update(others - {optional.parts[0]})
        plan.joins.setdefault(optional.parts[0], []).append(join)
    for condition in conditions:
        others, unclear = _aliases_in(condition, subject, aliases, [])
        if condition in starred or not (unclear or others & parents.keys()):
            continue
        if unclear or len(others) > 1:
            return "a condition that is not clear about its table"
        plan.joins[others.pop()].append(condition)
    return _order(plan, parents, aliases)
