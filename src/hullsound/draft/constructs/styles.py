"""Conversions of T-SQL with a style, and conversions that give NULL instead of an error."""

import re
from contextlib import suppress
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.assigned import cut_digits
from hullsound.draft.conversions.casts import digits_prefix, is_bytes
from hullsound.draft.conversions.db2_values import AS_TEXT
from hullsound.draft.conversions.decimal_digits import is_money
from hullsound.draft.conversions.moment_texts import by_style, mask_of_style, plain_text_of
from hullsound.draft.conversions.sums import cast_of_moment
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks.letters import by_letters, moment_as_number
from hullsound.sight.detector import Found
from hullsound.sql.tree import Cast, Literal, Node

from . import call_of, fixer
from .db2 import digits, form_of_moment, width_as_char
from .loose import cast_of_loose_text
from .texts import as_text


@fixer("convert_with_style")
def fix_convert_with_style(place: Found, rewriter: Rewriter) -> str:
    """Write CONVERT(type, value, style) as CAST, or by a mask where a style is given."""
    node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("CONVERT in a form that is not known")
    style = rewriter.words[node.value.last] == ","
    kind, source = rewriter.node(node.type), rewriter.types.family(node.value)
    value = rewriter.node(node.value)
    target = rewriter.types.family(node)
    if style and target is Family.TEXT and source in (Family.NUMBER, Family.INTEGER):
        return _cut(_number_by_style(node, value, rewriter), kind)
    if target is Family.TEXT and source in (Family.DATE, Family.TIMESTAMP, Family.TIME):
        text = (
            by_style(value, style_node(node, rewriter), rewriter)
            if style
            else plain_text_of(node.value, value, rewriter)
        )
        return _cut(text, kind)
    prefix = digits_prefix(node, rewriter) if source is Family.BYTES and target is Family.TEXT else ""
    if prefix:
        return _cut(f"({literal(prefix)} || upper(encode({value}, 'hex')))", kind)
    mask = mask_of_style(style_node(node, rewriter), rewriter) if style else ""
    if mask and target is Family.DATE and source in (Family.TEXT, Family.UNKNOWN):
        return f"to_date({value}, {mask})"
    if mask and target is Family.TIMESTAMP and source in (Family.TEXT, Family.UNKNOWN):
        return f"CAST(to_timestamp({value}, {mask}) AS timestamp)"
    if mask and target is Family.TEXT and source is Family.UNKNOWN:
        raise CannotDraft("a style for a value whose type is not known")
    return cast_of(node, rewriter)


def _number_by_style(node: Cast, value: str, rewriter: Rewriter) -> str:
    """Write an amount of money with two digits (0), with commas too (1), or with four digits (2)."""
    mask = {"0": "FM999999999999990.00", "1": "FM999,999,999,999,990.00", "2": "FM999999999999990.0000"}.get(
        rewriter.subject.source(style_node(node, rewriter))
    )
    source = rewriter.types.source_type(node.value)
    if mask is None or source is None or source.name not in ("MONEY", "SMALLMONEY"):
        raise CannotDraft("a style for a number that is no money")
    return f"to_char({value}, '{mask}')"


def style_node(node: Cast, rewriter: Rewriter) -> Node:
    """Return the number of a style. Raises CannotDraft where it is no constant."""
    first = node.value.last + 1
    found = [each for each in rewriter.subject.all(Literal) if each.first == first and each.last == node.last - 1]
    if not found:
        raise CannotDraft("a style that is not a constant")
    return found[0]


def _cut(text: str, kind: str) -> str:
    length = re.fullmatch(r"(?:var)?char\((\d+)\)", kind)
    return f"left({text}, {length[1]})" if length else text


_CUTTING: Final = frozenset(("sqlserver", "ase", "sqlite", "db2", "teradata"))
"""Engines whose casts to whole numbers cut fractions off, where PostgreSQL rounds."""


def cast_of(node: Cast, rewriter: Rewriter) -> str:
    """Render a cast; decimals that become whole numbers are cut off where the source cuts them."""
    value, kind = rewriter.node(node.value), rewriter.node(node.type)
    is_tsql = rewriter.catalog.engine in ("sqlserver", "ase")
    moment = cast_of_moment(node, rewriter) if is_tsql else ""
    if moment:
        return moment
    if (
        is_tsql
        and rewriter.types.family(node) is Family.TEXT
        and rewriter.types.family(node.value) in (Family.DATE, Family.TIMESTAMP, Family.TIME)
    ):
        return _cut(plain_text_of(node.value, value, rewriter), kind)
    if is_tsql and rewriter.types.family(node) is Family.TEXT and rewriter.types.family(node.value) is Family.BOOLEAN:
        return f"CAST(CAST({value} AS integer) AS {kind})"
    if rewriter.types.family(node) is Family.TEXT and is_money(node.value, rewriter):
        return f"CAST(round({value}, 2) AS {kind})"
    if is_tsql and rewriter.types.family(node) is Family.TEXT and is_bytes(node.value, rewriter):
        raise CannotDraft("bytes as a text, in the code page of the source")
    if is_tsql and rewriter.types.family(node) is Family.BOOLEAN and rewriter.types.family(node.value) in NUMBERS:
        return f"({value} <> 0)"
    if rewriter.catalog.engine in _CUTTING and rewriter.types.family(node) is Family.INTEGER:
        source = rewriter.types.family(node.value)
        is_digits = isinstance(node.value, Literal) and value.isdigit()
        if source is Family.NUMBER and not is_money(node.value, rewriter) and not is_digits:  # money rounds
            return f"CAST(trunc({value}) AS {kind})"
        if is_tsql and source is Family.TEXT and not isinstance(node.value, Literal):
            return f"(CASE btrim({value}) WHEN '' THEN 0 ELSE CAST({value} AS {kind}) END)"  # an empty text counts as 0
        if is_tsql and source is Family.BOOLEAN:
            return f"CAST(({value})::integer AS {kind})"
    scale = node.type.arguments if rewriter.catalog.engine == "db2" else ()
    if len(scale) == 2 and rewriter.types.family(node) is rewriter.types.family(node.value) is Family.NUMBER:
        return f"CAST({cut_digits(node.value, scale[1], rewriter)} AS {kind})"
    if rewriter.catalog.engine in ("mysql", "mariadb", "sqlite") and rewriter.types.family(node.value) is Family.TEXT:
        lenient = cast_of_loose_text(node, value, kind, rewriter)
        if lenient:
            return lenient
    return f"CAST({value} AS {kind})"


@fixer("try_convert")
def fix_try_convert(place: Found, rewriter: Rewriter) -> str:
    """Give NULL where a value cannot be read as the type."""
    node = place.node
    if not isinstance(node, Cast) or rewriter.words[node.value.last] == ",":
        raise CannotDraft("a conversion with a style")
    value, kind = as_text(node.value, rewriter), rewriter.node(node.type)
    if "(" in kind and not kind.startswith(("numeric", "timestamp", "varchar")):
        raise CannotDraft(f"a test for {kind}")
    empty = f"WHEN btrim({value}) = '' THEN 0 " if rewriter.types.family(node) is Family.INTEGER else ""
    return f"(CASE {empty}WHEN pg_input_is_valid({value}, {literal(kind)}) THEN CAST({value} AS {kind}) END)"


@fixer("type_function")
def fix_type_function(place: Found, rewriter: Rewriter) -> str:
    """Write a type used as a function as a cast."""
    call = call_of(place)
    name = {"DEC": "numeric", "DECIMAL": "numeric", "INT": "integer", "INTEGER": "integer", "BIGINT": "bigint",
            "SMALLINT": "smallint", "DOUBLE": "double precision", "FLOAT": "double precision", "REAL": "real",
            "VARCHAR": "varchar", "CHAR": "char"}.get(call.parts[-1])  # fmt: skip
    sizes = [rewriter.subject.source(each) for each in call.arguments[1:]]
    if call.parts[-1] == "DIGITS":
        return digits(call.arguments[0], rewriter)
    if name in ("char", "varchar") and len(sizes) == 1 and not sizes[0].isdigit():
        return form_of_moment(call.arguments[0], sizes[0].upper(), rewriter)
    if name is None or not all(size.isdigit() for size in sizes):
        raise CannotDraft(f"{call.parts[-1]} as a function")
    if name == "char" and not sizes:
        name = "text"
    source = rewriter.types.family(call.arguments[0])
    value = rewriter.node(call.arguments[0])
    if name in ("text", "varchar") and source is Family.TIMESTAMP and not sizes:
        return by_letters(call.arguments[0], AS_TEXT, rewriter)
    if name in ("integer", "bigint", "numeric") and source in (*MOMENTS, Family.TIME) and not sizes:
        return moment_as_number(call.arguments[0], has_fraction=name == "numeric", rewriter=rewriter)
    if name in ("text", "varchar") and source in (Family.DATE, Family.TIMESTAMP, Family.TIME):
        raise CannotDraft("a date as text, whose form the database sets")
    if name in ("integer", "bigint", "smallint") and source is Family.NUMBER:
        value = f"trunc({value})"
    if name == "numeric" and source in (Family.NUMBER, Family.TEXT):
        places = sizes[1] if len(sizes) > 1 else "0"
        is_text = source is Family.TEXT
        value = (
            f"trunc(CAST({value} AS numeric), {places})" if is_text else cut_digits(call.arguments[0], places, rewriter)
        )
    if call.parts[-1] == "CHAR" and not sizes and source in NUMBERS:
        with suppress(CannotDraft):  # of a type that is not known the blanks are left to the remedy
            return f"rpad(CAST({value} AS text), {width_as_char(call.arguments[0], rewriter)})"
    return f"CAST({value} AS {name}{'(' + ', '.join(sizes) + ')' if sizes else ''})"
