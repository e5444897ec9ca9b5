"""Moments and numbers as SQL Server writes and reads them: FORMAT in English, DATEPART for what it lacks, styles, parts of texts.

Sources: Transact-SQL reference of SQL Server 2016 to 2025, "FORMAT", "DATEPART", "CAST and CONVERT"; .NET, "Custom date and time
format strings" and "Custom numeric format strings".
"""

from itertools import groupby
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft

from .pieces import LONG_NAMES, LONGEST_NAME, NAMES, WIDTHS, Case, Fill, NumberForm, Part, Piece, has_usual_form

_LETTERS: Final = {
    Part.YEAR: "yyyy", Part.SHORT_YEAR: "yy", Part.MONTH: "MM", Part.MONTH_NAME: "MMMM", Part.SHORT_MONTH_NAME: "MMM",
    Part.DAY: "dd",
    Part.DAY_NAME: "dddd", Part.SHORT_DAY_NAME: "ddd", Part.HOUR: "HH", Part.HALF_DAY_HOUR: "hh", Part.MINUTE: "mm",
    Part.SECOND: "ss",
    Part.HALF_DAY: "tt",
}  # fmt: skip
_BARE: Final = frozenset((Part.MONTH, Part.DAY, Part.HOUR, Part.HALF_DAY_HOUR, Part.MINUTE, Part.SECOND))
"""Parts of which one letter leaves the zero out."""
_NUMBERS: Final = {
    Part.QUARTER: "DATEPART(quarter, {0})", Part.WEEK: "((DATEPART(dayofyear, {0}) + 6) / 7)",
    Part.WEEK_OF_MONTH: "((DAY({0}) + 6) / 7)",
    Part.DAY_OF_WEEK: "((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7 + 1)",
    Part.ISO_DAY_OF_WEEK: "((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7 + 1)", Part.ISO_WEEK: "DATEPART(iso_week, {0})",
    Part.ISO_YEAR: "YEAR(DATEADD(day, 26 - DATEPART(iso_week, {0}), {0}))",
    Part.JULIAN_DAY: "(DATEDIFF(day, CAST('0001-01-01' AS date), {0}) + 1721426)",
    Part.SECONDS_OF_DAY: "(DATEPART(hour, {0}) * 3600 + DATEPART(minute, {0}) * 60 + DATEPART(second, {0}))",
    Part.CENTURY: "((YEAR({0}) + 99) / 100)", Part.DAY_OF_YEAR: "DATEPART(dayofyear, {0})", Part.DAY: "DAY({0})",
    Part.HALF_DAY_HOUR: "((DATEPART(hour, {0}) + 11) % 12 + 1)", Part.SHORT_YEAR: "(YEAR({0}) % 100)",
}  # fmt: skip
"""Parts that FORMAT has no letters for, or not with the same filling."""
_CASES: Final = {Case.UPPER: "UPPER", Case.LOWER: "LOWER"}
_PLAIN_SIGNS: Final = frozenset("-., ()_")
_MOST_FRACTION: Final = 7
_READ: Final = {Part.YEAR: 4, Part.MONTH: 2, Part.DAY: 2, Part.HOUR: 2, Part.MINUTE: 2, Part.SECOND: 2}
"""Parts that are read from a text, and their digits."""
_ISO: Final = (
    (Part.YEAR, ""),
    (Part.MONTH, "-"),
    (Part.DAY, "-"),
    (Part.HOUR, " "),
    (Part.MINUTE, ":"),
    (Part.SECOND, ":"),
)
_STYLES: Final = {
    "%Y-%m-%d": 23, "%Y-%m-%d %H:%i:%s": 120, "%Y%m%d": 112, "%d/%m/%Y": 103, "%d.%m.%Y": 104, "%d-%m-%Y": 105, "%m/%d/%Y": 101,
    "%Y/%m/%d": 111,
}  # fmt: skip
"""Styles of CONVERT that read moments (Transact-SQL reference, "CAST and CONVERT"), by the signs of their parts."""
_SIGNS: Final = {
    Part.YEAR: "%Y", Part.MONTH: "%m", Part.DAY: "%d", Part.HOUR: "%H", Part.MINUTE: "%i", Part.SECOND: "%s",
}  # fmt: skip


def moment_text(value: str, pieces: list[Piece]) -> str:
    """Write a moment as text."""
    written: list[str] = []
    for has_letters, run in groupby(pieces, key=lambda piece: _letters_of(piece) != ""):
        if has_letters:
            written.append(_letters_text(value, list(run)))
        else:
            written += [_expression_of(value, piece) for piece in run]
    return written[0] if len(written) == 1 else f"({' + '.join(written)})"


def _letters_of(piece: Piece) -> str:
    """Return the letters of FORMAT for a piece; empty where it needs an expression."""
    if piece.part is Part.LITERAL:
        return "".join(sign if sign in _PLAIN_SIGNS or sign.isdigit() else f"\\{sign}" for sign in piece.text)
    if piece.part is Part.FRACTION:
        return "f" * piece.digits if piece.digits <= _MOST_FRACTION else ""
    if piece.part not in NAMES and piece.fill is Fill.NOTHING:
        return _LETTERS[piece.part][0] if piece.part in _BARE else "yyyy" if piece.part is Part.YEAR else ""
    return _LETTERS.get(piece.part, "") if has_usual_form(piece) else ""


def _letters_text(value: str, pieces: list[Piece]) -> str:
    if all(piece.part is Part.LITERAL for piece in pieces):
        return _quoted("".join(piece.text for piece in pieces))
    pattern = "".join(map(_letters_of, pieces))
    return f"FORMAT({value}, {_quoted(pattern if len(pattern) > 1 else f'%{pattern}')}, 'en-US')"


def _quoted(text: str) -> str:
    doubled = text.replace("'", "''")
    return f"'{doubled}'" if text.isascii() else f"N'{doubled}'"


def _expression_of(value: str, piece: Piece) -> str:
    if piece.part in (Part.ORDINAL_DAY, Part.FRACTION):
        raise CannotDraft("a part of a moment that the target does not write")
    if piece.part not in _NUMBERS:
        text = f"FORMAT({value}, {_quoted(_LETTERS[piece.part])}, 'en-US')"
        text = f"{_CASES[piece.case]}({text})" if piece.case in _CASES else text
        return (
            f"LEFT({text} + SPACE({LONGEST_NAME}), {LONGEST_NAME})"
            if piece.part in LONG_NAMES and piece.fill is Fill.BLANKS
            else text
        )
    text, width = f"CAST({_NUMBERS[piece.part].format(value)} AS nvarchar(10))", WIDTHS[piece.part]
    if piece.fill is Fill.NOTHING or width == 1:
        return text
    return f"RIGHT('{('0' if piece.fill is Fill.ZEROS else ' ') * (width - 1)}' + {text}, {width})"


def moment_of(text: str, pieces: list[Piece], kind: str, is_kind: bool) -> str:
    """Read a moment from a text, as a type; NULL where it does not fit if it is kind.

    Raises CannotDraft for parts other than numbers with all their digits.
    """
    convert = "TRY_CONVERT" if is_kind else "CONVERT"
    signs = "".join(piece.text if piece.part is Part.LITERAL else _SIGNS.get(piece.part, "?") for piece in pieces)
    if signs in _STYLES:
        return f"{convert}({kind}, {text}, {_STYLES[signs]})"
    places: dict[Part, str] = {}
    at = 1
    for piece in pieces:
        if piece.part is Part.LITERAL:
            at += len(piece.text)
        elif piece.part in _READ and piece.part not in places:
            places[piece.part] = f"SUBSTRING({text}, {at}, {_READ[piece.part]})"
            at += _READ[piece.part]
        else:
            raise CannotDraft("a part of a moment that the target does not read by its place")
    read = [part for part, _ in _ISO if part in places]
    if read != [part for part, _ in _ISO][: len(read)] or Part.DAY not in places or len(read) == 4:
        raise CannotDraft("a moment of which not all parts are read")
    iso = " + ".join(f"'{sign}' + {places[part]}" if sign else places[part] for part, sign in _ISO if part in places)
    iso = iso if Part.SECOND in places or Part.HOUR not in places else f"{iso} + ':00'"
    return f"{convert}({kind}, {iso}, {120 if Part.HOUR in places else 23})"


def number_text(value: str, form: NumberForm, always_fits: bool) -> str:
    """Write a number as text."""
    whole = "0" * form.least if form.least else "#"
    if form.groups:
        whole = f"#,{whole.rjust(3, '#')}"
    behind = "0" * form.kept + "#" * (form.decimals - form.kept)
    text = f"FORMAT({value}, '{whole}{'.' if behind else ''}{behind}', 'en-US')"
    if form.keeps_point and not form.kept:
        text = f"({text} + CASE WHEN ROUND({value}, {form.decimals}) = ROUND({value}, 0) THEN '.' ELSE '' END)"
    if form.width:
        text = f"RIGHT(SPACE({form.width}) + {text}, {form.width})"
    if always_fits or not form.places:
        return text
    return f"(CASE WHEN ABS(ROUND({value}, {form.decimals})) >= 1{'0' * form.places} THEN '{form.overflow}' ELSE {text} END)"
