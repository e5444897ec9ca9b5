"""Fixers for MySQL, MariaDB, SQL Server and Oracle as targets: moments and numbers by a mask, a pattern or a style.

What a mask says is read once (`draft/masks/`), and each target writes it in its own way.
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.casts import cast_in_words
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.number_forms import read_number_mask, read_number_pattern
from hullsound.draft.masks.pieces import Piece
from hullsound.draft.masks.reading import read_letters, read_pattern, read_percent_signs, read_style
from hullsound.draft.masks.writing import (
    TIMES,
    decimal_form,
    read_moment,
    sized,
    text_of_moment,
    whole_text,
    write_moment,
    write_number,
)
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Cast, Node

from . import call_of, fixer
from .functions import ENGLISH
from .styles import style_node

_MYSQL: Final = ("mysql", "mariadb")
_WRITING: Final = ("TO_CHAR", "VARCHAR_FORMAT")
_READING: Final = ("TO_DATE", "TO_TIMESTAMP", "TIMESTAMP_FORMAT")


def plain_text_of_number(node: Node, rewriter: Rewriter) -> str:
    """Write a number as the source writes it without a mask.

    Raises CannotDraft for numbers whose digits behind the point are not known.
    """
    if rewriter.types.family(node) is Family.INTEGER:
        return whole_text(node, rewriter)
    if rewriter.catalog.engine == "oracle" or rewriter.target.engine in _MYSQL:
        return f"CAST({rewriter.node(node)} AS {'CHAR' if rewriter.target.engine in _MYSQL else 'nvarchar(60)'})"
    form = decimal_form(node, rewriter)
    if form is None:
        raise CannotDraft("a number with digits behind the point as text, of which it is not known how many")
    return write_number(node, form, rewriter)


@fixer("text_of_number")
def fix_text_of_number(place: Found, rewriter: Rewriter) -> str:
    """A whole number where Oracle expects a text; for SQL Server."""
    if rewriter.types.family(place.node) is not Family.INTEGER:
        raise CannotDraft("a number with digits behind the point, or a moment, as text")
    return whole_text(place.node, rewriter)


# --- masks of letters ---


@fixer("text_by_mask")
def fix_text_by_mask(place: Found, rewriter: Rewriter) -> str:
    """TO_CHAR, TO_DATE, TO_TIMESTAMP and TO_NUMBER, with a mask or without one."""
    call = call_of(place)
    name, value = call.parts[-1], call.arguments[0]
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else ""
    language = text_value(call.arguments[2], rewriter) if len(call.arguments) > 2 else ""
    if mask is None or language is None or (language and not ENGLISH.fullmatch(language)):
        raise CannotDraft("a mask that is not a constant, or of a language")
    if name in _WRITING:
        return _written(value, mask, rewriter)
    if name == "TO_NUMBER":
        return _number_of(value, mask, rewriter)
    if name not in _READING or not mask:
        raise CannotDraft(f"{name.lower()} in the session's format")
    is_date = name == "TO_DATE" and rewriter.catalog.engine in ("postgresql", "teradata")
    return read_moment(value, read_letters(mask, rewriter.catalog.engine), rewriter, is_date)


def _written(value: Node, mask: str, rewriter: Rewriter) -> str:
    family = rewriter.types.family(value)
    if family in NUMBERS:
        if not mask:
            return plain_text_of_number(value, rewriter)
        return write_number(value, read_number_mask(mask, rewriter.catalog.engine), rewriter)
    if not mask or family not in MOMENTS:
        raise CannotDraft("to_char of a value whose kind is not known, or in the session's format")
    return write_moment(value, read_letters(mask, rewriter.catalog.engine), rewriter)


def _number_of(value: Node, mask: str, rewriter: Rewriter) -> str:
    """Read a number: by a mask its commas are passed over."""
    text, engine = rewriter.node(value), rewriter.target.engine
    if engine == "oracle":
        form = read_number_mask(mask, rewriter.catalog.engine) if mask else None
        groups = mask.upper().removeprefix("FM").replace(",", "G").replace(".", "D")
        return (
            f"TO_NUMBER({text})" if form is None else f"TO_NUMBER({text}, '{groups}', 'NLS_NUMERIC_CHARACTERS=''.,''')"
        )
    kind = "DECIMAL(38,10)" if engine in _MYSQL else "decimal(38, 10)"
    if mask and read_number_mask(mask, rewriter.catalog.engine).groups:
        text = f"REPLACE({text}, ',', '')"
    return f"CAST({text} AS {kind})"


# --- percent signs ---


@fixer("moment_by_percent_signs")
def fix_moment_by_percent_signs(place: Found, rewriter: Rewriter) -> str:
    """DATE_FORMAT(moment, mask) of MySQL."""
    return write_moment(call_of(place).arguments[0], _signs_of(call_of(place), rewriter), rewriter)


@fixer("moment_of_percent_signs")
def fix_moment_of_percent_signs(place: Found, rewriter: Rewriter) -> str:
    """STR_TO_DATE(text, mask) of MySQL, which gives NULL for what does not fit."""
    call = call_of(place)
    pieces = _signs_of(call, rewriter)
    return read_moment(call.arguments[0], pieces, rewriter, not {piece.part for piece in pieces} & TIMES, is_kind=True)


def _signs_of(call: Call, rewriter: Rewriter) -> list[Piece]:
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) == 2 else None
    if mask is None:
        raise CannotDraft("a mask that is not a constant, or of a language")
    return read_percent_signs(mask)


# --- patterns and styles of SQL Server ---


@fixer("text_by_pattern")
def fix_text_by_pattern(place: Found, rewriter: Rewriter) -> str:
    """FORMAT(value, pattern) of SQL Server, in English."""
    value, pattern, *language = call_of(place).arguments
    form = text_value(pattern, rewriter)
    if form is None or (language and (text_value(language[0], rewriter) or "").lower() != "en-us"):
        raise CannotDraft("a pattern that is not a constant, or in another language than English")
    if rewriter.types.family(value) in NUMBERS:
        return write_number(value, read_number_pattern(form), rewriter)
    return write_moment(value, read_pattern(form), rewriter)


@fixer("converted_by_style")
def fix_converted_by_style(place: Found, rewriter: Rewriter) -> str:
    """CONVERT(type, value), and with the number of a style for texts of moments."""
    node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("CONVERT in a form that is not known")
    source, target = rewriter.types.family(node.value), rewriter.types.family(node)
    style = style_node(node, rewriter) if rewriter.words[node.value.last] == "," else None
    if source in MOMENTS and target is Family.TEXT:
        return text_of_moment(node, rewriter.subject.source(style) if style is not None else "", rewriter)
    if source is Family.TEXT and target in MOMENTS and style is not None:
        return read_moment(node.value, read_style(rewriter.subject.source(style)), rewriter, target is Family.DATE)
    if source is Family.TEXT and target in MOMENTS and style is None and text_value(node.value, rewriter) is not None:
        return cast_in_words(node, rewriter) or f"CAST({rewriter.node(node.value)} AS {rewriter.node(node.type)})"
    if style is not None or not source or (source is Family.TEXT and target in MOMENTS):
        raise CannotDraft("a style for a value of another kind")
    if rewriter.target.engine == "oracle":
        return _cast_for_oracle(node, rewriter)
    return f"CAST({rewriter.node(node.value)} AS {rewriter.node(node.type)})"


def _cast_for_oracle(node: Cast, rewriter: Rewriter) -> str:
    value = rewriter.node(node.value)
    source, target = rewriter.types.family(node.value), rewriter.types.family(node)
    if target is Family.TEXT:
        if source is Family.TEXT:
            return sized(value, node, rewriter)
        if source in NUMBERS:
            text = plain_text_of_number(node.value, rewriter)
            is_fixed = node.type.name in ("CHAR", "NCHAR")
            return sized(text, node, rewriter) if is_fixed or source is not Family.INTEGER else text
        raise CannotDraft("a value of another kind as text")
    if source is Family.TEXT:
        raise CannotDraft("a style for a value of another kind")
    if source in MOMENTS and target is Family.DATE:
        return f"TRUNC({value})"
    number = f"TRUNC({value})" if (source, target) == (Family.NUMBER, Family.INTEGER) else value
    return f"CAST({number} AS {rewriter.node(node.type)})"
