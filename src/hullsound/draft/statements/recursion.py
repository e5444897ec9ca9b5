"""Common tables that name themselves: where a target wants RECURSIVE, and where it wants the names of their columns."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import CommonTable, TableRef

_WITHOUT_WORD: Final = ("sqlserver", "oracle")
_WITH_WORD: Final = ("mysql", "mariadb", "postgresql")


def names_itself(common: CommonTable, rewriter: Rewriter) -> bool:
    inside = (t for t in rewriter.subject.all(TableRef) if common.first < t.first < common.last)
    return any(table.parts == (common.name,) for table in inside)


def say_recursive(common: CommonTable, rewriter: Rewriter) -> None:
    """Write RECURSIVE behind the WITH to which a common table belongs, unless it stands there."""
    at, depth = common.first - 1, 0
    while at >= 0 and (depth or rewriter.words[at] != "WITH"):
        depth += (rewriter.words[at] == ")") - (rewriter.words[at] == "(")
        at -= 1
    if at >= 0 and rewriter.words[at + 1] != "RECURSIVE":
        rewriter.insert(at + 1, "RECURSIVE ")


def add_recursion(rewriter: Rewriter) -> None:
    """Write common tables that name themselves for targets other than PostgreSQL.

    Oracle asks for the names of their columns (SQL Language Reference, 19c, "subquery_factoring_clause").
    """
    told = False
    for common in rewriter.subject.all(CommonTable):
        if not names_itself(common, rewriter):
            continue
        if rewriter.target.engine in _WITHOUT_WORD and rewriter.words[common.first - 1] == "RECURSIVE":
            rewriter.replace(common.first - 1, common.first, "")
        if rewriter.target.engine == "oracle" and not common.columns:
            rewriter.add(Point(common.first, common.last, _refuse))
        if rewriter.target.engine in _WITH_WORD and not told:
            say_recursive(common, rewriter)
            told = True


def _refuse(_rewriter: Rewriter) -> str:
    raise CannotDraft("a recursive query whose columns have no names")
