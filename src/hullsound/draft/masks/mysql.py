"""Moments and numbers as MySQL and MariaDB write and read them: DATE_FORMAT, STR_TO_DATE and FORMAT, and expressions for the rest.

Sources: MySQL 8.4 Reference Manual, "Date and Time Functions" and "String Functions"; MariaDB's own pages of the same functions, of
version 10.11.
"""

from collections.abc import Iterable
from itertools import groupby
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .pieces import LONG_NAMES, LONGEST_NAME, NAMES, WIDTHS, Case, Fill, NumberForm, Part, Piece, has_usual_form

_SIGNS: Final = {
    Part.YEAR: "%Y", Part.SHORT_YEAR: "%y", Part.ISO_YEAR: "%x", Part.MONTH: "%m", Part.MONTH_NAME: "%M",
    Part.SHORT_MONTH_NAME: "%b",
    Part.ISO_WEEK: "%v", Part.DAY: "%d", Part.DAY_OF_YEAR: "%j", Part.DAY_NAME: "%W", Part.SHORT_DAY_NAME: "%a", Part.HOUR: "%H",
    Part.HALF_DAY_HOUR: "%h", Part.MINUTE: "%i", Part.SECOND: "%s", Part.HALF_DAY: "%p",
}  # fmt: skip
"""Parts and what DATE_FORMAT and STR_TO_DATE call them."""
_BARE: Final = {Part.DAY: "%e", Part.MONTH: "%c", Part.HOUR: "%k", Part.HALF_DAY_HOUR: "%l"}
"""Parts without a zero before them."""
_NUMBERS: Final = {
    Part.QUARTER: "QUARTER({0})", Part.WEEK: "((DAYOFYEAR({0}) + 6) DIV 7)", Part.WEEK_OF_MONTH: "((DAYOFMONTH({0}) + 6) DIV 7)",
    Part.DAY_OF_WEEK: "DAYOFWEEK({0})", Part.ISO_DAY_OF_WEEK: "(WEEKDAY({0}) + 1)", Part.JULIAN_DAY: "(TO_DAYS({0}) + 1721060)",
    Part.SECONDS_OF_DAY: "(HOUR({0}) * 3600 + MINUTE({0}) * 60 + SECOND({0}))", Part.CENTURY: "((YEAR({0}) + 99) DIV 100)",
    Part.MINUTE: "MINUTE({0})",
    Part.SECOND: "SECOND({0})", Part.DAY_OF_YEAR: "DAYOFYEAR({0})", Part.SHORT_YEAR: "(YEAR({0}) MOD 100)",
    Part.ISO_WEEK: "WEEK({0}, 3)",
    Part.DAY: "DAYOFMONTH({0})", Part.HALF_DAY_HOUR: "((HOUR({0}) + 11) MOD 12 + 1)",
}  # fmt: skip
"""Parts that DATE_FORMAT has no sign for, or not with the same filling."""
_CASES: Final = {Case.UPPER: "UPPER", Case.LOWER: "LOWER"}
_MICROSECONDS: Final = 6


def quoted(text: str) -> str:
    """Write a text constant, in which a backslash would escape."""
    doubled = text.replace("\\", "\\\\").replace("'", "''")
    return f"'{doubled}'"


def joined(parts: list[str]) -> str:
    """Join texts, of which NULL makes NULL."""
    return parts[0] if len(parts) == 1 else f"CONCAT({', '.join(parts)})"


def moment_text(value: str, pieces: list[Piece]) -> str:
    """Write a moment as text."""
    written: list[str] = []
    for has_sign, run in groupby(pieces, key=lambda piece: _sign_of(piece) != ""):
        if has_sign:
            written.append(_signs_text(value, list(run)))
        else:
            written += [_expression_of(value, piece) for piece in run]
    return joined(written)


def _sign_of(piece: Piece) -> str:
    """Return the sign of DATE_FORMAT for a piece; empty where it needs an expression."""
    if piece.part is Part.LITERAL:
        return piece.text.replace("%", "%%")
    if piece.part is Part.FRACTION:
        return "%f" if piece.digits == _MICROSECONDS else ""
    if piece.part not in NAMES and piece.fill is Fill.NOTHING:
        return _BARE.get(piece.part, "%Y" if piece.part is Part.YEAR else "")
    return _SIGNS.get(piece.part, "") if has_usual_form(piece) else ""


def _signs_text(value: str, pieces: list[Piece]) -> str:
    if all(piece.part is Part.LITERAL for piece in pieces):
        return quoted("".join(piece.text for piece in pieces))
    return f"DATE_FORMAT({value}, {quoted(''.join(map(_sign_of, pieces)))})"


def _expression_of(value: str, piece: Piece) -> str:
    if piece.part is Part.FRACTION:
        text = f"DATE_FORMAT({value}, '%f')"
        return f"LEFT({text}, {piece.digits})" if piece.digits < _MICROSECONDS else f"RPAD({text}, {piece.digits}, '0')"
    if piece.part is Part.ORDINAL_DAY:
        text = f"DATE_FORMAT({value}, '%D')"
        text = text if piece.fill is Fill.NOTHING else f"LPAD({text}, 4, '0')"
        return f"UPPER({text})" if piece.case is Case.UPPER else text
    if piece.part not in _NUMBERS or (piece.part is Part.DAY and piece.fill is Fill.NOTHING):
        text = f"DATE_FORMAT({value}, '{_SIGNS[piece.part]}')"
        text = f"{_CASES[piece.case]}({text})" if piece.case in _CASES else text
        return f"RPAD({text}, {LONGEST_NAME}, ' ')" if piece.part in LONG_NAMES and piece.fill is Fill.BLANKS else text
    number, width = _NUMBERS[piece.part].format(value), WIDTHS[piece.part]
    if piece.fill is Fill.NOTHING or width == 1:
        return f"CAST({number} AS CHAR)"
    return f"LPAD({number}, {width}, '{'0' if piece.fill is Fill.ZEROS else ' '}')"


def moment_of(text: str, pieces: Iterable[Piece]) -> str:
    """Read a moment from a text. Raises CannotDraft for a part that STR_TO_DATE does not read."""
    mask = ""
    for piece in pieces:
        sign = _sign_of(piece._replace(fill=Fill.NOTHING, case=Case.TITLE)) or _SIGNS.get(piece.part, "")
        if piece.part is Part.FRACTION:
            sign = "%f"
        if not sign:
            raise CannotDraft("a part of a moment that the target does not read")
        mask += sign
    return f"STR_TO_DATE({text}, {quoted(mask)})"


def number_text(value: str, form: NumberForm, always_fits: bool) -> str:
    """Write a number as text. Raises CannotDraft for groups that zeros fill up."""
    if (form.groups and form.least > 1) or 0 < form.kept < form.decimals:
        raise CannotDraft("groups of digits that are filled with zeros, or zeros behind some of the digits")
    is_plain = form.least == 1 and form.kept == form.decimals
    number = value if is_plain else f"ABS({value})"
    rounded = f"CAST({number} AS DECIMAL(38,{form.decimals}))"
    text = f"FORMAT({number}, {form.decimals})" if form.groups else f"CAST({rounded} AS CHAR)"
    if form.least > 1:
        width = form.least + (form.decimals + 1 if form.decimals else 0)
        text = f"LPAD({text}, GREATEST({width}, CHAR_LENGTH({text})), '0')"
    if form.least == 0:
        text = f"TRIM(LEADING '0' FROM {text})"
    if form.kept < form.decimals:
        text = f"TRIM(TRAILING '0' FROM {text})"
        text = text if form.keeps_point else f"TRIM(TRAILING '.' FROM {text})"
    elif form.keeps_point and not form.decimals:
        text = f"CONCAT({text}, '.')"
    if not is_plain:
        text = f"CONCAT(IF({value} < 0, '-', ''), {text})"
    if form.width:
        text = f"LPAD({text}, {form.width}, ' ')"
    if always_fits or not form.places:
        return text
    return f"(CASE WHEN ABS({rounded}) >= 1{'0' * form.places} THEN '{form.overflow}' ELSE {text} END)"
