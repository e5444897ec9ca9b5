"""Runs of data: many plain INSERTs that are drafted as one text, since what a statement costs is mostly its beginning."""

import re
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Call, Clause, Insert, Literal, Name, Node, Operation, Paren, TableRef

_MAX: Final = 50
"""Statements that are drafted together: some steps look at each of them for each of them."""
_PLAIN: Final[frozenset[type[Node]]] = frozenset((Insert, TableRef, Name, Literal, Call, Clause, Operation, Paren))
_BETWEEN: Final = re.compile(r"\s*;\s*")


def joined_rows(reads: Iterable[ReadStatement]) -> Iterator[ReadStatement]:
    """Join neighbouring INSERTs of values into one table; other statements stay by themselves.

    Only `;` and white space may stand between those that are joined, so that no comment gets into the draft.
    """
    run: list[ReadStatement] = []
    for read in reads:
        if run and (len(run) == _MAX or not _is_plain(read) or not _are_neighbours(run[-1], read)):
            yield _join(run)
            run = []
        if _is_plain(read):
            run.append(read)
        else:
            yield read
    if run:
        yield _join(run)


def _is_plain(read: ReadStatement) -> bool:
    if not (read.is_complete and isinstance(read.tree, Insert) and read.by_kind.keys() <= _PLAIN):
        return False
    return len(read.all(TableRef)) == 1 and all(each.name != "rows-passed-over" for each in read.all(Clause))


def _are_neighbours(one: ReadStatement, other: ReadStatement) -> bool:
    if one.tokens is not other.tokens or one.all(TableRef)[0].parts != other.all(TableRef)[0].parts:
        return False
    return _BETWEEN.fullmatch(one.tokens.text, one.end, other.start) is not None


def _join(run: list[ReadStatement]) -> ReadStatement:
    if len(run) == 1:
        return run[0]
    nodes = [node for read in run for node in read.nodes]
    return ReadStatement(run[0].tokens, run[0].first, run[-1].last, run[0].tree, nodes, is_complete=True)
