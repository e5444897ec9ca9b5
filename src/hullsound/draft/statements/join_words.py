"""Joins without a condition, and CROSS JOIN with one, which MySQL, MariaDB and SQLite take and others refuse.

Sources: MySQL 8.4 Reference Manual, "JOIN Clause"; SQLite documentation, "SELECT", 2.1; SQL:1992, "joined table".
"""

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Join

_LOOSE = ("mysql", "mariadb", "sqlite")


def add_join_words(rewriter: Rewriter) -> None:
    """Write CROSS JOIN where no condition stands, and JOIN where one does."""
    if rewriter.catalog.engine not in _LOOSE or rewriter.target.engine in _LOOSE:
        return
    words = rewriter.words
    for join in rewriter.subject.all(Join):
        between = words[join.left.last : join.right.first]
        is_bound = has_condition(join, words)
        if between in (["JOIN"], ["INNER", "JOIN"], ["STRAIGHT_JOIN"]) and not is_bound:
            rewriter.replace(join.left.last, join.right.first, "CROSS JOIN")
        elif between in (["CROSS", "JOIN"], ["STRAIGHT_JOIN"]) and is_bound:
            rewriter.replace(join.left.last, join.right.first, "JOIN")


def has_condition(join: Join, words: list[str]) -> bool:
    """Whether ON or USING says which rows a join brings together."""
    return join.condition is not None or words[join.right.last : join.right.last + 1] == ["USING"]
