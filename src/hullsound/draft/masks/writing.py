"""Moments and numbers written and read for MySQL, MariaDB, SQL Server and Oracle, whichever notation says how."""

from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Node, Paren

from . import mysql, oracle, sqlserver
from .constants import constant_text, known_moment
from .number_forms import fits
from .pieces import NumberForm, Part, Piece
from .reading import read_style

_MYSQL: Final = ("mysql", "mariadb")
TIMES: Final = frozenset(
    (Part.HOUR, Part.HALF_DAY_HOUR, Part.MINUTE, Part.SECOND, Part.FRACTION, Part.HALF_DAY, Part.SECONDS_OF_DAY)
)
"""Parts of a time of day."""
_DEFAULT_SIZE: Final = "30"
"""Length of a text type without one in CAST and CONVERT (Transact-SQL reference, "char and varchar")."""
_NEW_MOMENTS: Final = ("DATETIME2", "DATETIMEOFFSET")
_NEW_CLOCKS: Final = ("SYSDATETIME", "SYSUTCDATETIME", "SYSDATETIMEOFFSET")


def write_moment(node: Node, pieces: list[Piece], rewriter: Rewriter) -> str:
    """Write a moment as the text that pieces of a mask make of it. Raises CannotDraft for a value that is no moment."""
    if rewriter.types.family(node) not in MOMENTS:
        raise CannotDraft("a mask for a value that is no moment, or of a kind that is not known")
    value = rewriter.node(node)
    if rewriter.target.engine in _MYSQL:
        return mysql.moment_text(value, pieces)
    if rewriter.target.engine == "oracle":
        return oracle.moment_text(value, pieces, has_fraction=rewriter.types.family(node) is Family.TIMESTAMP)
    return sqlserver.moment_text(value, pieces)


def read_moment(node: Node, pieces: list[Piece], rewriter: Rewriter, is_date: bool, is_kind: bool = False) -> str:
    """Read a moment from a text, as a date or with a time; NULL where it does not fit if it is kind.

    Raises CannotDraft for years of two digits where the engines choose other centuries.
    """
    text, engine = rewriter.node(node), rewriter.target.engine
    parts = {piece.part for piece in pieces}
    if engine in _MYSQL:
        read = mysql.moment_of(text, pieces)
        return f"DATE({read})" if is_date and parts & TIMES else read
    if Part.SHORT_YEAR in parts:
        raise CannotDraft("years of two digits, whose century is chosen otherwise")
    if rewriter.types.family(node) is not Family.TEXT:
        raise CannotDraft("a moment that is read from something else than a text")
    if engine == "oracle":
        reads = "TO_TIMESTAMP" if Part.FRACTION in parts else "TO_DATE"
        otherwise = " DEFAULT NULL ON CONVERSION ERROR" if is_kind else ""
        return f"{reads}({text}{otherwise}, '{oracle.mask_of(pieces)}')"
    return sqlserver.moment_of(text, pieces, "date" if is_date else "datetime2(0)", is_kind)


def write_number(node: Node, form: NumberForm, rewriter: Rewriter) -> str:
    """Write a number in a form. Raises CannotDraft for a value that is no number."""
    if rewriter.types.family(node) not in NUMBERS:
        raise CannotDraft("a mask for numbers and another value")
    value, always_fits = rewriter.node(node), not form.places or fits(node, form.places, rewriter)
    if rewriter.target.engine in _MYSQL:
        return mysql.number_text(value, form, always_fits)
    if rewriter.target.engine == "oracle":
        return oracle.number_text(value, form, always_fits)
    return sqlserver.number_text(value, form, always_fits)


def whole_text(node: Node, rewriter: Rewriter) -> str:
    """Write a whole number as text."""
    value, engine = rewriter.node(node), rewriter.target.engine
    return {"oracle": f"TO_CHAR({value})", "sqlserver": f"CAST({value} AS nvarchar(40))"}.get(
        engine, f"CAST({value} AS CHAR)"
    )


def decimal_form(node: Node, rewriter: Rewriter) -> NumberForm | None:
    """Return the form in which a decimal is written with all digits of its type; None where the type is not known."""
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    if logical is None or logical.kind != "decimal" or not 0 < logical.scale <= logical.precision:
        return None
    return NumberForm(0, 1, logical.scale, logical.scale)


# --- moments of the T-SQL family as texts ---


def text_of_moment(cast: Cast, style: str, rewriter: Rewriter) -> str:
    """Write a moment that is cast to a text, by the number of a style or, without one, by that of its type.

    Raises CannotDraft for fractions of the newer types, which show the digits that they have.
    """
    value = cast.value
    while isinstance(value, Paren):
        value = value.inner
    kind = rewriter.types.source_type(value)
    is_new = (kind is not None and kind.name in _NEW_MOMENTS) or (
        isinstance(value, Call) and value.parts[-1] in _NEW_CLOCKS
    )
    pieces = read_style(style or ("23" if rewriter.types.family(value) is Family.DATE else "0"))
    if is_new and (not style or any(piece.part is Part.FRACTION for piece in pieces)):
        raise CannotDraft("a moment as text, with as many digits as its type has")
    return sized(write_moment(cast.value, pieces, rewriter), cast, rewriter)


def sized(text: str, cast: Cast, rewriter: Rewriter) -> str:
    """Cut a text to the length of the type that it is cast to, and fill it up where that is a fixed one."""
    size = cast.type.arguments[0].upper() if cast.type.arguments else _DEFAULT_SIZE
    if cast.type.name in ("CHAR", "NCHAR") and rewriter.target.engine not in _MYSQL:
        return f"RPAD({text}, {size})" if rewriter.target.engine == "oracle" else f"CAST({text} AS nchar({size}))"
    if size == "MAX":
        return text
    return f"SUBSTR({text}, 1, {size})" if rewriter.target.engine == "oracle" else f"LEFT({text}, {size})"


# --- constant texts where a moment is asked for ---

_DAY_ZERO: Final = "1900-01-01"
"""The day that the number 0 means in the T-SQL family (Transact-SQL reference, "datetime")."""


def moment_operand(node: Node, rewriter: Rewriter) -> str:
    """Write a moment, or a constant that the source reads as one, such as '2024-02-29'; 0 is a day in the T-SQL family.

    Raises CannotDraft for values that are neither.
    """
    engine = rewriter.catalog.engine
    if rewriter.subject.source(node) == "0" and engine in ("sqlserver", "ase"):
        return _constant_moment(_DAY_ZERO, rewriter)
    content = text_value(node, rewriter)
    if content is not None and engine != "oracle":
        return _constant_moment(constant_text(known_moment(content, engine), Family.TIMESTAMP, engine), rewriter)
    if rewriter.types.family(node) not in MOMENTS:
        raise CannotDraft("a value that is no moment where one is asked for")
    return rewriter.node(node)


def _constant_moment(text: str, rewriter: Rewriter) -> str:
    has_time = " " in text
    if rewriter.target.engine == "oracle":
        return f"{'TIMESTAMP' if has_time else 'DATE'} '{text}'"
    if rewriter.target.engine == "sqlserver":
        return f"CAST('{text}' AS {'datetime2(6)' if has_time else 'date'})"
    return f"CAST('{text}' AS {'DATETIME(6)' if '.' in text else 'DATETIME' if has_time else 'DATE'})"
