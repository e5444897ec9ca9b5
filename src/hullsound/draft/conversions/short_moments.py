"""TIMESTAMP constants without a time, or without its seconds, which PostgreSQL reads and other engines refuse.

Sources: PostgreSQL 18, "Date/Time Input"; MySQL 8.4 Reference Manual, "Date and Time Literals"; Oracle SQL Language Reference,
"Literals" (ORA-01861).
"""

import re
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.sql.tree import TypedLiteral

_SHORT: Final = re.compile(r"'(\d{4}-\d\d-\d\d)(?: (\d\d:\d\d))?'")


def add_short_moments(rewriter: Rewriter) -> None:
    """Write the time out in TIMESTAMP constants."""
    for node in rewriter.subject.all(TypedLiteral):
        text = rewriter.tokens.source(node.last - 1, node.last)
        if node.form == "TIMESTAMP" and (short := _SHORT.fullmatch(text)) is not None:
            rewriter.add(Point(node.last - 1, node.last, partial(_whole, short[1], short[2] or "00:00")))


def _whole(day: str, minute: str, _rewriter: Rewriter) -> str:
    return f"'{day} {minute}:00'"
