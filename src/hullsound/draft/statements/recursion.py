"""Common tables that name themselves: where a target wants RECURSIVE, and where it wants the names of their columns."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import CommonTable, Query, Select, TableRef

from .recursive_types import add_recursive_types, add_types_of_null

_WITHOUT_WORD: Final = ("sqlserver", "oracle")
_WITH_WORD: Final = ("mysql", "mariadb", "postgresql")


def names_itself(common: CommonTable, rewriter: Rewriter) -> bool:
    inside = (t for t in rewriter.subject.all(TableRef) if common.first < t.first < common.last)
    return any(table.parts == (common.name,) for table in inside)


def add_recursion(rewriter: Rewriter, construct: str = "") -> None:
    """Write common tables that name themselves.

    Oracle asks for the names of their columns (SQL Language Reference, 19c, "subquery_factoring_clause").
    """
    target = rewriter.target.engine
    told: set[int] = set()
    for common in rewriter.subject.all(CommonTable):
        if not names_itself(common, rewriter):
            continue
        if target in _WITHOUT_WORD and rewriter.words[common.first - 1] == "RECURSIVE":
            rewriter.replace(common.first - 1, common.first, "")
        if target == "oracle" and not common.columns:
            _add_names(common, rewriter)
        at = _place_of_word(common, rewriter)
        if target in _WITH_WORD and at not in told and rewriter.words[at] != "RECURSIVE":
            rewriter.insert(at, "RECURSIVE ", construct)
            told.add(at)
        if target == "postgresql":
            add_types_of_null(common, rewriter)
        add_recursive_types(common, rewriter)


def _place_of_word(common: CommonTable, rewriter: Rewriter) -> int:
    """Return the token behind the WITH to which a common table belongs."""
    at, depth = common.first - 1, 0
    while at > 0 and (depth or rewriter.words[at] != "WITH"):
        depth += (rewriter.words[at] == ")") - (rewriter.words[at] == "(")
        at -= 1
    return at + 1


def _add_names(common: CommonTable, rewriter: Rewriter) -> None:
    """Name the columns by the titles of the first part; refuse one that has not all of them."""
    block = common.query.blocks[0] if isinstance(common.query, Query) else None
    titles = [item.title for item in block.items] if isinstance(block, Select) else []
    if titles and all(titles):
        rewriter.insert(common.first + 1, f"({', '.join(map(rewriter.names.write, titles))}) ")
    else:
        rewriter.add(Point(common.first, common.last, _refuse))


def _refuse(_rewriter: Rewriter) -> str:
    raise CannotDraft("a recursive query whose columns have no names")
