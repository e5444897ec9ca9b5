"""How the source writes a value as a text by itself, where PostgreSQL would write another one.

Sources: Oracle SQL Language Reference, "TO_CHAR (number)"; Transact-SQL reference, "CAST and CONVERT"; MySQL 8.4 Reference Manual,
"Conversion Between Date and Time Types"; SQLite documentation, "Datatypes In SQLite".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import LogicalType, logical_type
from hullsound.sql.tree import Literal, Node

from .decimal_digits import is_money
from .moment_texts import plain_text_of
from .plain_numbers import plain_number

NOT_TEXT: Final = NUMBERS | MOMENTS | {Family.TIME, Family.UUID, Family.BOOLEAN}
"""Kinds of values that become texts beside texts."""
_MOMENTS: Final = MOMENTS | {Family.TIME}
_TSQL: Final = ("sqlserver", "ase")


def add_text(node: Node, rewriter: Rewriter, rank: int = 3) -> None:
    """Write a value as the source's text of it, unless it is a text."""
    if rewriter.types.family(node) in NOT_TEXT:
        rewriter.wrap(node, partial(text_of, node), rank=rank)


def text_of(node: Node, rewriter: Rewriter) -> str:
    """Return a value as the source's text of it. Raises CannotDraft where PostgreSQL cannot write that text."""
    engine, kind, text = rewriter.catalog.engine, rewriter.types.family(node), rewriter.node(node)
    if kind is Family.BOOLEAN and engine in (*_TSQL, "sqlite"):
        return f"CAST(CAST({text} AS integer) AS text)"
    if engine == "oracle" and kind is Family.NUMBER:
        return plain_number(node, rewriter)
    if is_money(node, rewriter):
        return f"CAST(round({text}, 2) AS text)"
    if engine in _TSQL and kind in _MOMENTS:
        return plain_text_of(node, text, rewriter)
    if engine in ("mysql", "mariadb") and kind is Family.TIMESTAMP:
        return _mysql_moment(text, _logical(node, rewriter))
    if engine == "sqlite" and kind is Family.NUMBER and not isinstance(node, Literal):
        return _sqlite_number(text, _logical(node, rewriter))
    return f"CAST({text} AS text)"


def _logical(node: Node, rewriter: Rewriter) -> LogicalType | None:
    source = rewriter.types.source_type(node)
    return logical_type(rewriter.catalog.engine, source) if source is not None else None


def _mysql_moment(text: str, logical: LogicalType | None) -> str:
    """Write a moment with the digits of its type, in the time zone of the session, and without naming that."""
    if logical is None or (logical.kind == "date-time" and not logical.precision):
        return f"CAST({text} AS text)"
    return f"to_char({text}, 'YYYY-MM-DD HH24:MI:SS{f'.FF{logical.precision}' if logical.precision else ''}')"


def _sqlite_number(text: str, logical: LogicalType | None) -> str:
    """Write a number without idle zeros: NUMERIC keeps 2.50 as 2.5, and 10.00 as 10."""
    if logical is None or logical.kind == "float":
        raise CannotDraft("a floating-point number as a text, whose digits differ")
    return f"CAST(trim_scale({text}) AS text)"
