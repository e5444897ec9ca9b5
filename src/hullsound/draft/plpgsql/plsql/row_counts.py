"""SQL%ROWCOUNT: the number of rows of the statement before it, kept in a variable of the routine."""

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.sql.tree import (
    CursorAttribute,
    Delete,
    Forall,
    Insert,
    Merge,
    Node,
    QueryStatement,
    Routine,
    Select,
    Update,
)


def asking_routines(rewriter: Rewriter) -> set[Routine | None]:
    """Return the routines that ask for the number of rows; None stands for a trigger or block."""
    attributes = rewriter.subject.all(CursorAttribute)
    return {_holder(a, rewriter) for a in attributes if a.cursor == ("SQL",) and a.attribute == "ROWCOUNT"}


def counts_rows(node: Node, rewriter: Rewriter) -> bool:
    """Whether the routine around a statement asks for the number of rows."""
    return _holder(node, rewriter) in asking_routines(rewriter)


def add_row_counts(rewriter: Rewriter) -> None:
    """Take the row count behind each statement of a routine that asks for it."""
    asking = asking_routines(rewriter)
    loops = rewriter.subject.all(Forall)
    for kind in (Insert, Update, Delete, Merge, QueryStatement) if asking else ():
        for node in rewriter.subject.all(kind):
            if any(loop.first <= node.first < loop.last for loop in loops) or _collects(node):
                continue  # what these become counts by itself
            if rewriter.words[node.last] == ";" and _holder(node, rewriter) in asking:
                rewriter.replace(node.last, node.last + 1, f"; GET DIAGNOSTICS {ROW_COUNT} = ROW_COUNT;")


def _collects(node: Node) -> bool:
    block = node.query.blocks[0] if isinstance(node, QueryStatement) and len(node.query.blocks) == 1 else None
    return isinstance(block, Select) and block.bulk


def _holder(node: Node, rewriter: Rewriter) -> Routine | None:
    """Return the innermost routine around a node; None in a trigger or block."""
    around = [r for r in rewriter.subject.all(Routine) if r.block is not None and r.first <= node.first < r.last]
    return min(around, key=lambda r: r.last - r.first, default=None)
