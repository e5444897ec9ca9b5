"""Tests of changes that a draft asks twice, once for the rows and once for the change: both must meet the same rows."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Name, Node

_REPEATABLE: Final = frozenset(
    """ABS AVG CEIL CEILING CHAR_LENGTH COALESCE COUNT DATEADD DATEDIFF DAY FLOOR ISNULL LEFT LEN LENGTH LOWER LTRIM MAX MIN MONTH
    NULLIF NVL REPLACE RIGHT ROUND RTRIM SUBSTR SUBSTRING SUM TRIM TRUNC UPPER YEAR""".split()
)
"""Functions that give the same for the same values; clocks, random numbers and functions of one's own may not."""
_CLOCKS: Final = frozenset(
    "CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP SYSDATE SYSTIMESTAMP".split()
)


def check_repeatable(where: Node | None, rewriter: Rewriter) -> None:
    """Raise CannotDraft for a test that may meet other rows when it is asked again a moment later."""
    if where is None:
        return
    calls = [each for each in rewriter.subject.all(Call) if where.first <= each.first < where.last]
    names = [each for each in rewriter.subject.all(Name) if where.first <= each.first < where.last]
    is_moving = any(len(each.parts) > 1 or each.parts[0] not in _REPEATABLE for each in calls)
    if is_moving or any(len(each.parts) == 1 and each.parts[0] in _CLOCKS for each in names):
        raise CannotDraft("a change that gives rows back, and whose test may meet others a moment later")
