"""What a mask says, whatever notation it is written in: the parts of a moment in their order, and the form of a number."""

from enum import Enum, auto
from typing import NamedTuple


class Part(Enum):
    """A part of a moment."""

    LITERAL = auto()
    YEAR = auto()
    SHORT_YEAR = auto()
    ISO_YEAR = auto()
    CENTURY = auto()
    QUARTER = auto()
    MONTH = auto()
    MONTH_NAME = auto()
    SHORT_MONTH_NAME = auto()
    WEEK = auto()
    """Weeks of seven days from 1 January on."""
    ISO_WEEK = auto()
    WEEK_OF_MONTH = auto()
    DAY = auto()
    ORDINAL_DAY = auto()
    """1st, 2nd, 3rd ..."""
    DAY_OF_YEAR = auto()
    DAY_OF_WEEK = auto()
    """1 for Sunday to 7."""
    ISO_DAY_OF_WEEK = auto()
    """1 for Monday to 7."""
    DAY_NAME = auto()
    SHORT_DAY_NAME = auto()
    HOUR = auto()
    HALF_DAY_HOUR = auto()
    """1 to 12."""
    MINUTE = auto()
    SECOND = auto()
    FRACTION = auto()
    HALF_DAY = auto()
    """AM or PM."""
    JULIAN_DAY = auto()
    SECONDS_OF_DAY = auto()


class Case(Enum):
    """The case of a name."""

    TITLE = auto()
    UPPER = auto()
    LOWER = auto()


class Fill(Enum):
    """What fills a part up to its width: in front of digits, behind a name."""

    ZEROS = auto()
    BLANKS = auto()
    NOTHING = auto()


class Piece(NamedTuple):
    """One part of a moment as a mask asks for it, or a literal text."""

    part: Part
    text: str = ""
    """What a literal holds."""
    fill: Fill = Fill.ZEROS
    case: Case = Case.TITLE
    digits: int = 0
    """Digits of a fraction of a second."""


NAMES = frozenset(
    (Part.MONTH_NAME, Part.SHORT_MONTH_NAME, Part.DAY_NAME, Part.SHORT_DAY_NAME, Part.HALF_DAY, Part.ORDINAL_DAY)
)
"""Parts that are words of a language."""
LONG_NAMES = frozenset((Part.MONTH_NAME, Part.DAY_NAME))
LONGEST_NAME = 9
"""Letters of September and Wednesday, to which long names are filled."""
WIDTHS = {
    Part.YEAR: 4, Part.ISO_YEAR: 4, Part.DAY_OF_YEAR: 3, Part.SECONDS_OF_DAY: 5, Part.JULIAN_DAY: 7,
    **dict.fromkeys((Part.QUARTER, Part.WEEK_OF_MONTH, Part.DAY_OF_WEEK, Part.ISO_DAY_OF_WEEK), 1),
    **dict.fromkeys((Part.SHORT_YEAR, Part.CENTURY, Part.MONTH, Part.WEEK, Part.ISO_WEEK, Part.DAY, Part.HOUR, Part.HALF_DAY_HOUR,
                     Part.MINUTE, Part.SECOND), 2),
}  # fmt: skip
"""Digits of the parts that are numbers, filled up."""


class NumberForm(NamedTuple):
    """How a number is written."""

    places: int
    """Digits before the point that fit; 0 where any number does."""
    least: int
    """Digits before the point at least, filled up with zeros."""
    decimals: int
    """Digits behind the point at most; the number is rounded half away from zero."""
    kept: int
    """How many of them are written though they are zeros at the end."""
    groups: bool = False
    """Whether commas part groups of three digits."""
    width: int = 0
    """Characters with the sign that blanks in front fill up to; 0 for none."""
    overflow: str = ""
    """What stands in place of a number that does not fit."""
    keeps_point: bool = False
    """Whether a point stays behind which no digit is left."""


def has_usual_form(piece: Piece) -> bool:
    """Whether a part is written as engines write it by themselves: digits with zeros, bare names with a capital, AM in capitals."""
    if piece.part in LONG_NAMES:
        return piece.fill is Fill.NOTHING and piece.case is Case.TITLE
    if piece.part in NAMES:
        return piece.case is (Case.UPPER if piece.part is Part.HALF_DAY else Case.TITLE)
    return piece.fill is Fill.ZEROS
