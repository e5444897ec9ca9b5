"""MERGE between Oracle, SQL Server and PostgreSQL, and from Db2 and Teradata: where conditions stand, and what a branch may do.

Sources: Oracle Database 19c, "SQL Language Reference", MERGE; Transact-SQL reference, MERGE; PostgreSQL 18, MERGE.
"""

from functools import partial
from typing import Final, NamedTuple, NoReturn

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Merge, Name

_KNOWING: Final = frozenset(("oracle", "sqlserver"))
_OPENERS: Final = frozenset(("UPDATE", "INSERT", "DELETE", "DO"))


class Branch(NamedTuple):
    """Tokens of one branch: WHEN, THEN, what it does, and its end."""

    when: int
    then: int
    end: int
    action: str
    is_matched: bool
    by_source: bool


def add_merges(rewriter: Rewriter) -> None:
    """Add the points of every MERGE for Oracle and SQL Server; refuse what the target's own has no place for."""
    if rewriter.target.engine not in _KNOWING:
        return
    for merge in rewriter.subject.all(Merge):
        reason = refused(merge, rewriter)
        if reason:
            rewriter.add(Point(merge.first, merge.last, partial(_refuse, reason), rank=9))
        elif rewriter.target.engine == "oracle":
            _add_for_oracle(merge, rewriter)
        else:
            _add_for_sqlserver(merge, rewriter)


def branches_of(merge: Merge, rewriter: Rewriter) -> list[Branch]:
    """Return the branches of a MERGE in their order."""
    words, depth, starts = rewriter.words, 0, []
    for at in range(merge.first, merge.last):
        depth += (words[at] in ("(", "CASE")) - (words[at] in (")", "END"))
        if depth == 0 and words[at] == "WHEN" and words[at + 1] in ("MATCHED", "NOT"):
            starts.append(at)
    found = []
    for when, end in zip(starts, [*starts[1:], merge.last], strict=True):
        then = next((at for at in range(when, end) if words[at] == "THEN"), end - 1)
        by_source = words[when + 3 : when + 5] == ["BY", "SOURCE"]
        found.append(Branch(when, then, end, words[then + 1], words[when + 1] == "MATCHED", by_source))
    return found


def refused(merge: Merge, rewriter: Rewriter) -> str:
    """Return what neither the target's MERGE nor other statements of it say; '' where they say all."""
    words, branches = rewriter.words, branches_of(merge, rewriter)
    clauses = {c.name for c in rewriter.subject.all(Clause) if merge.first <= c.first < merge.last}
    if clauses & {"output", "error-log", "returning", "merge-delete"} or words[merge.first + 1] == "TOP":
        return "MERGE that gives rows back, deletes what it has changed, or stops after some rows"
    if any(each.action not in _OPENERS or each.action == "DO" for each in branches):
        return "MERGE with a branch that does nothing"
    if rewriter.target.engine == "sqlserver":
        return ""
    kinds = [(each.is_matched, each.action) for each in branches]
    if any(each.by_source for each in branches) or len(kinds) != len(set(kinds)) or (True, "DELETE") in kinds:
        return "MERGE with several branches of one kind, or that deletes"
    joined = {
        name.parts[-1]
        for name in rewriter.subject.all(Name)
        if merge.condition.first <= name.first < merge.condition.last and name.parts[:-1] and _is_own(name, merge)
    }
    changed = {name.parts[-1] for name, _ in merge.assignments if isinstance(name, Name)}
    return "MERGE that changes a column of its condition (ORA-38104)" if joined & changed else ""


def _is_own(name: Name, merge: Merge) -> bool:
    return name.parts[-2] in (merge.table.alias, merge.table.parts[-1])


def _add_for_oracle(merge: Merge, rewriter: Rewriter) -> None:
    """Write INTO, brackets around the condition, and further conditions as WHERE behind what a branch does."""
    words = rewriter.words
    if words[merge.first + 1] != "INTO":
        rewriter.insert(merge.first + 1, "INTO ")
    using = words.index("USING", merge.first)
    for at in (at for at in range(merge.first, using) if words[at] == "AS"):
        rewriter.replace(at, at + 1, "")
    if words[merge.condition.first] != "(" or words[merge.condition.last - 1] != ")":
        rewriter.insert(merge.condition.first, "(")
        rewriter.insert_behind(merge.condition, ")")
    for branch in branches_of(merge, rewriter):
        condition = branch.when + (2 if branch.is_matched else 3)
        if words[condition : condition + 2] == ["BY", "TARGET"]:
            rewriter.replace(condition, condition + 2, "")
            condition += 2
        if words[condition] == "AND":
            rewriter.replace(condition, branch.then, "")
            end = branch.end - (words[branch.end - 1] == ";")
            rewriter.add(Point(end, end, partial(_where, condition + 1, branch.then), behind=branch.then))


def _where(first: int, last: int, rewriter: Rewriter) -> str:
    return f" WHERE {rewriter.text_elsewhere(first, last).strip()} "


def _add_for_sqlserver(merge: Merge, rewriter: Rewriter) -> None:
    """Write conditions before THEN, and the semicolon that must stand behind."""
    for clause in rewriter.subject.all(Clause):
        if clause.name == "merge-where" and merge.first <= clause.first < merge.last:
            branch = next(b for b in branches_of(merge, rewriter) if b.when <= clause.first < b.end)
            rewriter.replace(clause.first, clause.last, "")
            rewriter.add(Point(branch.then, branch.then, partial(_and, clause)))


def _and(clause: Clause, rewriter: Rewriter) -> str:
    return f"AND ({rewriter.text_elsewhere(clause.first + 1, clause.last).strip()}) "


def _refuse(reason: str, _: Rewriter) -> NoReturn:
    raise CannotDraft(reason)
