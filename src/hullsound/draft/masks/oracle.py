"""Moments and numbers as Oracle writes and reads them: TO_CHAR, TO_DATE and TO_TIMESTAMP, in English and with a point.

Source: Oracle Database 19c SQL Language Reference, "Format Models".
"""

from collections.abc import Iterable
from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft

from .pieces import NAMES, Case, Fill, NumberForm, Part, Piece

_ELEMENTS: Final = {
    Part.YEAR: "YYYY", Part.SHORT_YEAR: "YY", Part.ISO_YEAR: "IYYY", Part.CENTURY: "CC", Part.QUARTER: "Q", Part.MONTH: "MM",
    Part.MONTH_NAME: "Month", Part.SHORT_MONTH_NAME: "Mon", Part.WEEK: "WW", Part.ISO_WEEK: "IW", Part.WEEK_OF_MONTH: "W",
    Part.DAY: "DD", Part.ORDINAL_DAY: "DDTH", Part.DAY_OF_YEAR: "DDD", Part.DAY_NAME: "Day", Part.SHORT_DAY_NAME: "Dy",
    Part.HOUR: "HH24",
    Part.HALF_DAY_HOUR: "HH12", Part.MINUTE: "MI", Part.SECOND: "SS", Part.HALF_DAY: "AM", Part.JULIAN_DAY: "J",
    Part.SECONDS_OF_DAY: "SSSSS",
}  # fmt: skip
_DAYS: Final = {
    Part.DAY_OF_WEEK: "TO_CHAR(MOD(TRUNC({0}) - TRUNC({0}, 'IW') + 1, 7) + 1)",
    Part.ISO_DAY_OF_WEEK: "TO_CHAR(TRUNC({0}) - TRUNC({0}, 'IW') + 1)",
}
"""Days of the week by number, whose first one depends on the territory in a mask."""
_UNFILLED: Final = frozenset(
    (
        Part.YEAR,
        Part.QUARTER,
        Part.WEEK_OF_MONTH,
        Part.JULIAN_DAY,
        Part.SHORT_MONTH_NAME,
        Part.SHORT_DAY_NAME,
        Part.HALF_DAY,
    )
)
"""Parts of one width, which FM leaves as they are."""
_PLAIN_SIGNS: Final = frozenset("-/,.;: ")
_ENGLISH: Final = "'NLS_DATE_LANGUAGE=English'"
_POINT_AND_COMMA: Final = "'NLS_NUMERIC_CHARACTERS=''.,'''"
_MOST_GROUPS: Final = 6


def moment_text(value: str, pieces: list[Piece], has_fraction: bool) -> str:
    """Write a moment as text. Raises CannotDraft for a fraction of a value that has none."""
    written: list[str] = []
    run: list[Piece] = []
    for piece in pieces:
        if piece.part in _DAYS or (piece.fill is Fill.BLANKS and piece.part not in NAMES):
            written += _native(value, run, has_fraction)
            run = []
            bare = piece._replace(fill=Fill.NOTHING)
            written.append(
                _DAYS[piece.part].format(value)
                if piece.part in _DAYS
                else f"LPAD({_native(value, [bare], has_fraction)[0]}, 2)"
            )
        else:
            run.append(piece)
    written += _native(value, run, has_fraction)
    return written[0] if len(written) == 1 else f"({' || '.join(written)})"


def _native(value: str, pieces: list[Piece], has_fraction: bool) -> list[str]:
    if not pieces:
        return []
    if all(piece.part is Part.LITERAL for piece in pieces):
        return [literal("".join(piece.text for piece in pieces))]
    language = f", {_ENGLISH}" if any(piece.part in NAMES for piece in pieces) else ""
    return [f"TO_CHAR({value}, {literal(mask_of(pieces, has_fraction))}{language})"]


def mask_of(pieces: Iterable[Piece], has_fraction: bool = True) -> str:
    """Return the mask for pieces. Raises CannotDraft for one that is not known, and for a fraction of a value that has none."""
    mask, is_bare = "", False
    for piece in pieces:
        if piece.part is Part.LITERAL:
            mask += _literal_of(piece.text)
            continue
        if piece.part is Part.FRACTION:
            if not has_fraction:
                raise CannotDraft("fractions of a second of a date")
            mask += f"FF{piece.digits}"
            continue
        if piece.part not in _ELEMENTS:
            raise CannotDraft("a part of a moment that the target does not write")
        if piece.part not in _UNFILLED and is_bare is not (piece.fill is Fill.NOTHING):
            mask, is_bare = f"{mask}FM", not is_bare
        mask += _cased(_ELEMENTS[piece.part], piece)
    return mask


def _cased(element: str, piece: Piece) -> str:
    if piece.part not in NAMES or piece.case is Case.TITLE:
        return element
    return element.upper() if piece.case is Case.UPPER else element.lower()


def _literal_of(text: str) -> str:
    if set(text) <= _PLAIN_SIGNS:
        return text
    if '"' in text:
        raise CannotDraft("a quotation mark in a mask")
    return f'"{text}"'


def number_text(value: str, form: NumberForm, always_fits: bool) -> str:
    """Write a number as text. Raises CannotDraft for what one mask does not say."""
    if form.keeps_point and form.kept < form.decimals:
        point, is_stripped = "D", False
    else:
        point, is_stripped = "D" if form.decimals else "", form.kept < form.decimals
    places = max(form.places, 3 * _MOST_GROUPS)
    digits = "9" * (places - max(form.least, 0)) + "0" * form.least
    whole = "G".join(_threes(digits)) if form.groups else digits
    mask = f"FM{whole}{point}{'0' * form.kept}{'9' * (form.decimals - form.kept)}"
    text = f"TO_CHAR({value}, {literal(mask)}, {_POINT_AND_COMMA})"
    if is_stripped:
        text = f"RTRIM({text}, '.')"
    if form.width:
        text = f"LPAD({text}, {form.width})"
    if always_fits or not form.places:
        return text
    return f"(CASE WHEN ABS(ROUND({value}, {form.decimals})) >= 1{'0' * form.places} THEN {literal(form.overflow)} ELSE {text} END)"


def _threes(digits: str) -> list[str]:
    first = len(digits) % 3
    return [digits[:first]] * bool(first) + [digits[at : at + 3] for at in range(first, len(digits), 3)]
