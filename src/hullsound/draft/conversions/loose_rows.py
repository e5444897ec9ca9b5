"""Rows of SQLite, which checks neither the length of a text nor whether it is a date: what does not fit is for a person.

Source: SQLite documentation, "Datatypes In SQLite", "Determination Of Column Affinity" and "Date and Time Datatype".
"""

import re
from functools import partial
from typing import Final, NoReturn

from hullsound.analyze.types import MOMENTS, Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Literal

from .row_values import kept_in_columns

_MOMENT: Final = re.compile(r"\d{4}-\d\d-\d\d(?:[ T]\d\d:\d\d(?::\d\d(?:\.\d{1,6})?)?(?:Z|[+-]\d\d:\d\d)?)?")
_RANK: Final = 6


def add_loose_rows(rewriter: Rewriter) -> None:
    """Refuse constants in rows and changes that their columns would not take: longer texts, texts that are no dates, bytes.

    Where values were measured, types follow them, and nothing is refused here.
    """
    for kind, value in kept_in_columns(rewriter) if not rewriter.catalog.measures else ():
        if isinstance(value, Literal) and value.form in ("string", "number"):
            reason = _reason(kind, value, rewriter)
            if reason:
                rewriter.add(Point(value.first, value.last, partial(_refuse, reason), rank=_RANK))


def _reason(kind: DataType, value: Literal, rewriter: Rewriter) -> str:
    source, family = rewriter.subject.source(value), rewriter.types.family_of(kind)
    if value.form == "number":
        return "a number in a column of dates" if family in MOMENTS else ""
    if source[:1] in "xX":
        return "" if family is Family.BYTES else "bytes in a column of values of another kind"
    content = string_content(source, rewriter.catalog.engine)
    length = kind.arguments[0] if kind.arguments else ""
    if family is Family.TEXT and length.isdecimal() and len(content) > int(length):
        return f"a text of {len(content)} signs in a column of {length}"
    if family in MOMENTS and not _MOMENT.fullmatch(content):
        return f"the text {source[:40]} in a column of dates"
    return ""


def _refuse(reason: str, _: Rewriter) -> NoReturn:
    raise CannotDraft(reason)
