"""MERGE for MySQL and MariaDB, which have none: an UPDATE of the rows that match, and an INSERT of those that do not.

Sources: Oracle Database 19c, "SQL Language Reference", MERGE; Transact-SQL reference, MERGE; MySQL 8.4 Reference Manual, "UPDATE
Statement" (multiple-table syntax) and "INSERT ... SELECT Statement".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, CursorAttribute, Merge, Name, TableRef

from .merges_elsewhere import Branch, branches_of, refused

NOTE: Final = "convert.merge-in-two"
_COUNTS: Final = frozenset(("@@ROWCOUNT",))


def add_split_merges(rewriter: Rewriter) -> None:
    """Add a point for each MERGE."""
    for merge in rewriter.subject.all(Merge):
        rewriter.add(Point(merge.first, merge.last, partial(_written, merge), NOTE, rank=9))


def _written(merge: Merge, rewriter: Rewriter) -> str:
    branches = branches_of(merge, rewriter)
    reason = refused(merge, rewriter) or _refused(merge, branches, rewriter)
    if reason:
        raise CannotDraft(reason)
    statements = [
        _update(merge, branch, rewriter) if branch.is_matched else _insert(merge, branch, rewriter)
        for branch in sorted(branches, key=lambda each: not each.is_matched)
    ]
    return ";\n".join(statements)


def _refused(merge: Merge, branches: list[Branch], rewriter: Rewriter) -> str:
    """Return what two statements would not do as the one does."""
    subject = rewriter.subject
    inside = subject.read.inside(TableRef, merge.source.first, merge.source.last)
    if any(table.parts[-1] == merge.table.parts[-1] for table in inside):
        return "MERGE whose source reads the table that it changes"
    counts = any(name.parts[-1] in _COUNTS for name in subject.all(Name)) or any(
        mark.cursor == ("SQL",) for mark in subject.all(CursorAttribute)
    )
    if counts:
        return "MERGE whose rows are counted"
    if any(each.by_source or each.action == "DELETE" for each in branches):
        return "MERGE that deletes, or changes what the source does not have"
    set_before: set[str] = set()
    for column, value in merge.assignments:
        names = subject.read.inside(Name, value.first, value.last)
        if any(name.parts[-1] in set_before and _is_own(name, merge) for name in names):
            return "MERGE that reads a column which it has set before"
        set_before |= {column.parts[-1]} if isinstance(column, Name) else set()
    return ""


def _is_own(name: Name, merge: Merge) -> bool:
    return len(name.parts) == 1 or name.parts[-2] in (merge.table.alias, merge.table.parts[-1])


def _table(merge: Merge, rewriter: Rewriter) -> tuple[str, str]:
    """Return the table as it is written, and the name under which the statement knows it."""
    first = merge.table.first
    table = rewriter.text(first, first + 2 * len(merge.table.parts) - 1).strip()
    return table, rewriter.names.write(merge.table.alias or merge.table.parts[-1])


def _source(merge: Merge, rewriter: Rewriter) -> str:
    using = rewriter.words.index("USING", merge.first)
    on = merge.condition.first - 1
    on -= rewriter.words[on] == "("
    return rewriter.text_elsewhere(using + 1, on).strip()


def _update(merge: Merge, branch: Branch, rewriter: Rewriter) -> str:
    table, name = _table(merge, rewriter)
    pairs = [
        f"{name}.{rewriter.names.write(column.parts[-1])} = {rewriter.elsewhere(value)}"
        for column, value in merge.assignments
        if isinstance(column, Name)
    ]
    known = f"{table} {name}" if merge.table.alias else table
    joined = f"UPDATE {known} JOIN {_source(merge, rewriter)} ON {rewriter.elsewhere(merge.condition)}"
    where = _condition(branch, merge, rewriter)
    return f"{joined} SET {', '.join(pairs)}" + (f" WHERE {where}" if where else "")


def _insert(merge: Merge, branch: Branch, rewriter: Rewriter) -> str:
    table, name = _table(merge, rewriter)
    words = rewriter.words
    values = next((at for at in range(branch.then, branch.end) if words[at] == "VALUES"), -1)
    if values < 0:
        raise CannotDraft("MERGE that inserts a row of defaults")
    depth, last = 0, values + 1
    for last in range(values + 1, branch.end):
        depth += (words[last] == "(") - (words[last] == ")")
        if depth == 0:
            break
    columns = ", ".join(rewriter.names.write(each.parts[-1]) for each in merge.columns)
    given = rewriter.text_elsewhere(values + 2, last).strip()
    known = f"{table} {name}" if merge.table.alias else table
    missing = f"NOT EXISTS (SELECT 1 FROM {known} WHERE {rewriter.elsewhere(merge.condition)})"
    where = _condition(branch, merge, rewriter)
    head = f"INSERT INTO {table} ({columns})" if columns else f"INSERT INTO {table}"
    return f"{head} SELECT {given} FROM {_source(merge, rewriter)} WHERE {missing}" + (
        f" AND ({where})" if where else ""
    )


def _condition(branch: Branch, merge: Merge, rewriter: Rewriter) -> str:
    """Return the further condition of a branch, before THEN or in a WHERE behind what it does; '' for none."""
    words = rewriter.words
    at = branch.when + (2 if branch.is_matched else 3)
    at += 2 * (words[at : at + 2] == ["BY", "TARGET"])
    if words[at] == "AND":
        return rewriter.text_elsewhere(at + 1, branch.then).strip()
    clause = next(
        (
            each for each in rewriter.subject.read.inside(Clause, branch.when, branch.end) if each.name == "merge-where"
        ),
        None,
    )  # fmt: skip
    return rewriter.text_elsewhere(clause.first + 1, clause.last).strip() if clause is not None else ""
