"""One check and its result."""

from collections.abc import Iterator
from enum import StrEnum

import msgspec


class Result(StrEnum):
    """What a check came to, from best to worst."""

    GOOD = "good"
    UNKNOWN = "unknown"
    """It could not be found out, or cannot be seen from here."""
    LOOK = "look"
    """The work can begin; somebody should look at it."""
    BAD = "bad"
    """The work cannot begin, or would leave something out."""


class Check(msgspec.Struct, frozen=True):
    """What was checked, what came of it, and what to do."""

    side: str
    """`source` or `target`."""
    name: str
    result: Result
    found: str
    do: str = ""
    """What to do, with the statement that gives a missing right; '' where nothing is to be done."""


Checks = Iterator[Check]


def is_bad(checks: list[Check], side: str) -> bool:
    """Whether a side has a check that stands in the way."""
    return any(check.side == side and check.result is Result.BAD for check in checks)
