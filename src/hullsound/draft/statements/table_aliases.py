"""Aliases of tables for Oracle, which takes no AS before them.

Source: Oracle Database 19c, "SQL Language Reference", SELECT (table_reference).
"""

from functools import partial

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.lexer import Tokens
from hullsound.sql.tree import DerivedTable, Node, TableFunction, TableRef


def leave_out_as(rewriter: Rewriter) -> None:
    """Write each alias of a table right behind the table."""
    for kind in (TableRef, DerivedTable, TableFunction):
        for table in rewriter.subject.all(kind):
            at = as_before_alias(table, rewriter.tokens)
            if at >= 0:
                rewriter.add(Point(at, at + 2, partial(_bare, at)))


def as_before_alias(table: Node, tokens: Tokens) -> int:
    """Return the token of AS before the alias of a table, subquery or function in FROM; -1 where there is none."""
    inner = table.query.last if isinstance(table, DerivedTable) else table.first + 1
    inner = table.call.last if isinstance(table, TableFunction) else inner
    return next((at for at in range(inner, table.last - 1) if tokens.words[at] == "AS"), -1)


def _bare(at: int, rewriter: Rewriter) -> str:
    return rewriter.text(at + 1, at + 2)
