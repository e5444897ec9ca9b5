"""Constants in rows that the columns of the source read, and that other engines write otherwise: bytes, identifiers, zones, spans.

Sources: PostgreSQL 18, "Binary Data Types", "UUID Type" and "Date/Time Types"; Oracle Database 19c, "SQL Language Reference";
Transact-SQL reference of SQL Server 2022, "datetimeoffset"; MySQL 8.4 Reference Manual, "Hexadecimal Literals".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.literals import bytes_content
from hullsound.sql.tree import Insert

from .lone_values import lone_values
from .row_values import inserted_literals, inserted_types, rows_span

_BYTES: Final = re.compile(r"(?:E?'\\{1,2}x|0x|[xX]')((?:[0-9a-fA-F]{2})*)'?")
_IDENTIFIER: Final = re.compile(r"'\{?([0-9a-fA-F]{8}(?:-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12})\}?'")
_ZONED: Final = re.compile(r"'(\d{4}-\d\d-\d\d[ T]\d\d:\d\d(?::\d\d(?:\.\d+)?)?) ?([+-]\d\d)(:\d\d)?'")


def add_inserted_values(rewriter: Rewriter) -> None:
    """Add the points of constants in rows of PostgreSQL, and of bytes in those of MySQL, MariaDB and the T-SQL family."""
    if rewriter.catalog.engine == "postgresql":
        _add_texts(rewriter)
    elif rewriter.catalog.engine in ("mysql", "mariadb") and rewriter.target.engine in ("oracle", "sqlserver"):
        _add_digits(rewriter, (Family.BYTES,))
    elif rewriter.catalog.engine in ("sqlserver", "ase") and rewriter.target.engine == "oracle":
        _add_digits(rewriter, (Family.BYTES, Family.UUID))


def _add_digits(rewriter: Rewriter, families: tuple[Family, ...]) -> None:
    """Write bytes such as 0x4D and X'4D', and identifiers; other signs than ASCII in a column of bytes are for a person."""
    for insert in rewriter.subject.all(Insert):
        kinds = inserted_types(insert, rewriter) if insert.query is None else []
        for place, at in lone_values(rewriter.words, *rows_span(insert)) if kinds else ():
            is_bytes = place < len(kinds) and rewriter.types.family_of(kinds[place]) in families
            text = rewriter.tokens.source(at, at + 1)
            is_hexadecimal = _BYTES.fullmatch(text) is not None
            if is_bytes and text.upper() != "NULL":
                rewriter.add(Point(at, at + 1, partial(bytes_constant, text)))
            elif is_hexadecimal:
                rewriter.add(Point(at, at + 1, partial(bytes_constant, "")))


def _add_texts(rewriter: Rewriter) -> None:
    for insert in rewriter.subject.all(Insert):
        kinds = inserted_types(insert, rewriter) if insert.query is None else []
        for place, text in inserted_literals(insert, set(range(len(kinds))), rewriter):
            if text.form == "string":
                _add_constant(kinds[place], text.first, text.last, rewriter)


def _add_constant(kind: DataType, first: int, last: int, rewriter: Rewriter) -> None:
    text, engine = rewriter.tokens.source(first, last), rewriter.target.engine
    family = rewriter.types.family_of(kind)
    if family is Family.BYTES or (family is Family.UUID and engine == "oracle"):
        rewriter.add(Point(first, last, partial(bytes_constant, text)))
    elif family in MOMENTS and engine != "oracle" and re.search(r"\d ?[+-]\d\d(:\d\d)?'$|Z'$", text):
        rewriter.add(Point(first, last, partial(_zoned, text)))
    elif kind.name == "INTERVAL":
        rewriter.add(Point(first, last, _refuse_span))


def bytes_constant(text: str, rewriter: Rewriter) -> str:
    """Write a constant of bytes, or an identifier. Raises CannotDraft for signs beyond ASCII."""
    match = _BYTES.fullmatch(text) or _IDENTIFIER.fullmatch(text)
    content = bytes_content(text, rewriter.catalog.engine) if match is None and text.endswith("'") else None
    if match is None and content is None:
        raise CannotDraft("a constant of bytes that is neither ASCII nor written as hexadecimal digits")
    digits = (match[1].replace("-", "") if match is not None else (content or b"").hex()).upper()
    return f"HEXTORAW('{digits}')" if rewriter.target.engine == "oracle" else f"0x{digits}"


def _zoned(text: str, rewriter: Rewriter) -> str:
    """Write the minutes of an offset, without which SQL Server does not read it."""
    match = _ZONED.fullmatch(text)
    if match is None or rewriter.target.engine != "sqlserver":
        return _day_or_refuse(text)
    return f"'{match[1]} {match[2]}{match[3] or ':00'}'"


def _day_or_refuse(text: str) -> str:
    if re.fullmatch(r"'\d{4}-\d\d-\d\d'", text):
        return text
    raise CannotDraft("a moment with a time zone")


def _refuse_span(_: Rewriter) -> str:
    raise CannotDraft("a span of time as a text")
