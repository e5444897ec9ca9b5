"""MERGE of Oracle: WHERE and DELETE WHERE inside a branch become conditions and branches of their own."""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Merge, Name, Node

_INNER: Final = ("merge-where", "merge-delete")


def add_merge_points(rewriter: Rewriter) -> None:
    """Add the points of every MERGE whose branches hold conditions."""
    for merge in rewriter.subject.all(Merge):
        branches: dict[int, dict[str, Clause]] = {}
        for clause in rewriter.subject.all(Clause):
            if clause.name in _INNER and merge.first <= clause.first < merge.last:
                branches.setdefault(_when(clause, merge, rewriter), {})[clause.name] = clause
        for when, clauses in branches.items():
            _add_branch(when, clauses, merge, rewriter)


def _when(clause: Clause, merge: Merge, rewriter: Rewriter) -> int:
    """Return the token WHEN of the branch that a clause stands in."""
    words = rewriter.words
    return next(
        at for at in range(clause.first, merge.first, -1) if words[at] == "WHEN" and words[at + 1] in ("MATCHED", "NOT")
    )


def _add_branch(when: int, clauses: dict[str, Clause], merge: Merge, rewriter: Rewriter) -> None:
    where, delete = clauses.get("merge-where"), clauses.get("merge-delete")
    then = rewriter.words.index("THEN", when)
    for clause in clauses.values():
        rewriter.replace(clause.first, clause.last, "")
    if where is not None:
        rewriter.add(Point(then, then, partial(_condition, where)))
    if delete is not None:
        rewriter.add(Point(when, when, partial(_deletion, where, delete, merge)))


def _condition(where: Clause, rewriter: Rewriter) -> str:
    return f"AND ({rewriter.text_elsewhere(where.first + 1, where.last)}) "


def _deletion(where: Clause | None, delete: Clause, merge: Merge, rewriter: Rewriter) -> str:
    """Write the branch that deletes rows which meet a condition once they are changed."""
    first = delete.first + 2
    assigned = {name.parts[-1]: value for name, value in merge.assignments if isinstance(name, Name)}
    own = merge.table.alias or merge.table.parts[-1]
    changed: list[tuple[Name, Node]] = []
    for name in rewriter.subject.all(Name):
        if first <= name.first < delete.last and name.parts[-1] in assigned:
            if len(name.parts) < 2:
                raise CannotDraft("DELETE WHERE with a column that names no table")
            if name.parts[-2] == own:
                changed.append((name, assigned[name.parts[-1]]))
    text, at = "", first
    for name, value in sorted(changed, key=lambda pair: pair[0].first):
        text += f"{rewriter.text_elsewhere(at, name.first)} ({rewriter.elsewhere(value)})"
        at = name.last
    condition = f"({(text + ' ' + rewriter.text_elsewhere(at, delete.last)).strip()})"
    if where is not None:
        condition = f"({rewriter.text_elsewhere(where.first + 1, where.last)}) AND {condition}"
    return f"WHEN MATCHED AND {condition} THEN DELETE\n"
