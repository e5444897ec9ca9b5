"""SET of several variables, all of whose values the source takes before it sets the first."""

from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Assign, Name

READS_SET: Final = "a SET that reads a variable which it sets before: the source takes all values first"
_ONE_BY_ONE: Final = frozenset(("mysql", "mariadb"))
"""Dialects whose SET goes from left to right. MySQL 8.4 Reference Manual, "SET Syntax for Variable Assignment"."""


def reads_what_is_set(last: Assign, rewriter: Rewriter) -> bool:
    """Whether an assignment reads what another of the same SET has set before it.

    Db2 11.5 SQL Reference, "SET variable": all expressions are evaluated before any assignment is made.
    """
    if rewriter.catalog.engine in _ONE_BY_ONE:
        return False
    together = sorted(
        (each for each in rewriter.subject.all(Assign) if each.first == last.first and each.last <= last.last),
        key=lambda each: each.last,
    )
    written: set[tuple[str, ...]] = set()
    for each in together:
        if any(
            name.parts in written
            for name in rewriter.subject.all(Name)
            if each.value.first <= name.first < each.value.last
        ):
            return True
        if isinstance(each.target, Name):
            written.add(each.target.parts)
    return False
