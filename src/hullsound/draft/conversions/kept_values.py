"""Values that columns of another kind keep, on targets other than PostgreSQL: what becomes a text, a number or a bit there.

Sources: Oracle Database 19c, "SQL Language Reference", "Data Conversion"; Transact-SQL reference, "bit" and "money and smallmoney";
MySQL 8.4 Reference Manual, "Server SQL Modes" (strict).
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Literal, Node

from .casts import text_cannot_be
from .row_values import kept_in_columns

_TSQL: Final = ("sqlserver", "ase")
_NUMBER: Final = re.compile(r"\s*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?\s*")
_PLAIN: Final = re.compile(r"(0|[1-9]\d*)\.\d+")
_RANK: Final = 5


def add_kept_values(rewriter: Rewriter) -> None:
    """Write constants that columns of another kind keep; refuse what the target would keep otherwise, or not take."""
    cuts_days = rewriter.target.engine == "oracle" and rewriter.catalog.engine != "oracle"
    for kind, value in kept_in_columns(rewriter):
        family, form = rewriter.types.family_of(kind), value.form if isinstance(value, Literal) else ""
        if (form == "string" and family is Family.TEXT) or (form == "number" and family in NUMBERS):
            continue
        if cuts_days and family is Family.DATE and _has_time(value, rewriter):
            with rewriter.asked_by("convert.moment"):
                rewriter.wrap(value, partial(_day, value), rank=_RANK + 2)
        text = _constant(kind, value, rewriter) if form else ""
        if text:
            rewriter.add(Point(value.first, value.last, partial(_write, text), rank=_RANK))
        reason = _reason(family, value, rewriter)
        if reason:
            rewriter.add(Point(value.first, value.last, partial(_refuse, reason), rank=_RANK))


def _constant(kind: DataType, value: Node, rewriter: Rewriter) -> str:
    """Return what stands for a constant: 1 or 0 for a bit, a text of all digits for a number that becomes one; '' for others."""
    source = rewriter.subject.source(value)
    if kind.name == "BIT" and rewriter.catalog.engine in _TSQL:
        word = (string_content(source, rewriter.catalog.engine) if source.endswith("'") else source).strip().upper()
        if word.isdigit():
            return "1" if int(word) else "0"
        return {"TRUE": "1", "FALSE": "0"}.get(word, "")
    return f"'{source}'" if rewriter.types.family_of(kind) is Family.TEXT and _PLAIN.fullmatch(source) else ""


def _reason(family: Family, value: Node, rewriter: Rewriter) -> str:
    """Return why a value is kept otherwise than in the source, by the family of its column; '' where it is kept alike."""
    source = rewriter.subject.source(value)
    is_text = isinstance(value, Literal) and value.form == "string"
    if family in NUMBERS and is_text and not (rewriter.catalog.engine == "oracle" and source in ("''", "N''")):
        content = string_content(source, rewriter.catalog.engine)
        return "" if _NUMBER.fullmatch(content) else f"the text {content[:40]!r} kept as a number"
    if family is Family.TEXT and not (isinstance(value, Literal) and _PLAIN.fullmatch(source)):
        return text_cannot_be(value, rewriter)
    return ""


def _has_time(value: Node, rewriter: Rewriter) -> bool:
    """Whether a moment has a time of day, which a DATE of Oracle keeps and a date of the source does not."""
    is_text = isinstance(value, Literal) and value.form == "string"
    return ":" in rewriter.subject.source(value) if is_text else rewriter.types.family(value) is Family.TIMESTAMP


def _day(value: Node, rewriter: Rewriter) -> str:
    return f"TRUNC({rewriter.node(value)})"


def _write(text: str, _: Rewriter) -> str:
    return text


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)
