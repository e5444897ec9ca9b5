"""A changed row as one document: FOR XML RAW over inserted or deleted, told of one row, for MySQL, MariaDB and Oracle.

Source: Transact-SQL reference, "FOR XML", "Use RAW mode with FOR XML": an element with an attribute for each column, those that
are NULL left out; moments by ISO 8601, signs of markup as entities.
"""

import re
from collections.abc import Callable
from typing import Final

from hullsound.analyze.types import Family
from hullsound.catalog.model import DataType, Object, ObjectType
from hullsound.draft.constructs.xml import spelled
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import parse_type

_RAW: Final = re.compile(r"FOR XML RAW(?:\s*\(\s*N?'([A-Za-z_][\w.-]*)'\s*\))?(\s*,\s*TYPE)?", re.IGNORECASE)
_ENTITIES: Final = (("&", "&amp;"), ("<", "&lt;"), (">", "&gt;"), ('"', "&quot;"))
_UNLIKE: Final = ("FLOAT", "REAL", "DATETIMEOFFSET", "SQL_VARIANT", "ROWVERSION", "TIMESTAMP")
"""Types whose values XML shows in another way than the target does."""
_MONEY: Final = ("MONEY", "SMALLMONEY")
_PLACES: Final = 4
"""Decimal places of money."""


def row_as_xml(form: str, table: Object, value_of: Callable[[str], str], rewriter: Rewriter) -> str:
    """Return the document of a row; `form` is FOR XML as the source has it, `value_of` writes the row's columns.

    Raises CannotDraft for another form, and for a column whose value the target would show otherwise.
    """
    match = _RAW.fullmatch(" ".join(form.split()))
    if match is None:
        raise CannotDraft("changed rows as a document of another form than FOR XML RAW")
    titles, is_oracle = spelled(table.text), rewriter.target.engine == "oracle"
    pieces = []
    for column in table.columns:
        title, value = titles.get(column.name, ""), value_of(column.name)
        if not re.fullmatch(r"[A-Za-z_]\w*", title):
            raise CannotDraft("FOR XML with a column whose name is no name of XML")
        write, declared = (_for_oracle if is_oracle else _for_mysql), _plain(column.type, rewriter)
        text = write(value, declared, rewriter.types.family_of(declared))
        if is_oracle:
            attribute = f"' {title}=\"' || {text} || '\"'"
        else:
            attribute = f"CONCAT(' {title}=\"', {text}, '\"')"
        pieces.append(f"CASE WHEN {value} IS NULL THEN '' ELSE {attribute} END" if column.nullable else attribute)
    tag = match[1] or "row"
    if not is_oracle:
        return f"CONCAT('<{tag}', {', '.join(pieces)}, '/>')"
    document = f"TO_CLOB('<{tag}') || {' || '.join(pieces)} || '/>'"
    return f"XMLTYPE({document})" if match[2] else document


def _plain(declared: DataType, rewriter: Rewriter) -> DataType:
    """Return the type that an alias type stands for; another type is itself."""
    item = rewriter.catalog.resolve(tuple(declared.name.split(".")), rewriter.default_schema) if declared.name else None
    is_alias = item is not None and item.type is ObjectType.TYPE and item.details.get("form") == "alias"
    return parse_type(item.details["element"]) if item is not None and is_alias else declared


def _refuse(kind: DataType) -> CannotDraft:
    return CannotDraft(f"a value of the type {kind.name.lower() or 'that is worked out'} in XML")


def _masked(text: str) -> str:
    for sign, entity in _ENTITIES:
        text = f"REPLACE({text}, '{sign}', '{entity}')"
    return text


def _for_mysql(value: str, declared: DataType, kind: Family) -> str:
    text = f"CAST({value} AS CHAR)"
    if declared.name in _UNLIKE:
        raise _refuse(declared)
    match kind:
        case Family.INTEGER | Family.NUMBER | Family.DATE | Family.BOOLEAN:
            return text
        case Family.TEXT:
            return _masked(value)
        case Family.UUID:
            return f"UPPER({text})"
        case Family.TIMESTAMP | Family.TIME:
            mask = "%Y-%m-%dT%H:%i:%s.%f" if kind is Family.TIMESTAMP else "%H:%i:%s.%f"
            return f"TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM DATE_FORMAT({value}, '{mask}')))"
    raise _refuse(declared)


def _for_oracle(value: str, declared: DataType, kind: Family) -> str:
    if declared.name in _UNLIKE:
        raise _refuse(declared)
    match kind:
        case Family.INTEGER | Family.BOOLEAN:
            return f"TO_CHAR({value})"
        case Family.NUMBER:
            arguments = declared.arguments
            places = int(arguments[1]) if len(arguments) > 1 else _PLACES if declared.name in _MONEY else 0
            mask = f"FM{'9' * 37}0" + (f".{'0' * places}" if places else "")
            return f"TO_CHAR({value}, '{mask}')"
        case Family.TEXT:
            return _masked(value)
        case Family.DATE:
            return f"TO_CHAR({value}, 'YYYY-MM-DD')"
        case Family.TIMESTAMP:
            moment = f"TO_CHAR(CAST({value} AS timestamp(6)), 'YYYY-MM-DD\"T\"HH24:MI:SS.FF6')"
            return f"RTRIM(RTRIM({moment}, '0'), '.')"
    raise _refuse(declared)
