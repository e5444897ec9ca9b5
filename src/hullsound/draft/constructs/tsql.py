"""Functions of the T-SQL family at the edges of their arguments: counts below 0, places outside of a text, empty texts.

Source: Transact-SQL reference, "String Functions".
"""

import re
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.case import ignores_case
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import logical_type
from hullsound.sight.detector import Found
from hullsound.sql.tree import Node

from . import call_of, fixer


def _constant(node: Node, rewriter: Rewriter) -> int | None:
    """Return a whole number that is written there; None for anything else."""
    text = rewriter.subject.source(node).replace(" ", "")
    return int(text) if text.removeprefix("-").isdigit() else None


def _repeated(text: str, count: Node, rewriter: Rewriter) -> str:
    """Repeat a text; a count below 0 gives NULL."""
    number, constant = rewriter.node(count), _constant(count, rewriter)
    if constant is not None and constant < 0:
        return "CAST(NULL AS text)"
    return f"repeat({text}, {number if constant is not None else f'CASE WHEN {number} >= 0 THEN {number} END'})"


@fixer("repeated_text")
def fix_repeated_text(place: Found, rewriter: Rewriter) -> str:
    text, count = call_of(place).arguments
    return _repeated(rewriter.node(text), count, rewriter)


@fixer("repeated_blanks")
def fix_repeated_blanks(place: Found, rewriter: Rewriter) -> str:
    return _repeated("' '", call_of(place).arguments[0], rewriter)


_BYTES: Final = range(1, 256)


@fixer("character_of_code")
def fix_character_of_code(place: Found, rewriter: Rewriter) -> str:
    """CHAR gives NULL for what is no byte."""
    code = call_of(place).arguments[0]
    number, constant = rewriter.node(code), _constant(code, rewriter)
    if constant is not None:
        return f"chr({number})" if constant in _BYTES else "CAST(NULL AS text)"
    return f"(CASE WHEN {number} BETWEEN 1 AND 255 THEN chr({number}) END)"


@fixer("part_replaced")
def fix_part_replaced(place: Found, rewriter: Rewriter) -> str:
    """STUFF(text, start, length, new): NULL for a start outside of the text or a length below 0; a new text of NULL is nothing."""
    text, start, length, new = call_of(place).arguments
    given, first, count = (rewriter.node(each) for each in (text, start, length))
    put = rewriter.node(new) if rewriter.types.is_never_null(new) else f"COALESCE({rewriter.node(new)}, '')"
    at, many = _constant(start, rewriter), _constant(length, rewriter)
    if (at is not None and at < 1) or (many is not None and many < 0):
        return "CAST(NULL AS text)"
    if at == 1 and many is not None:
        return f"overlay(NULLIF({given}, '') placing {put} from 1 for {count})"
    test = f"{first} BETWEEN 1 AND length({given})" if at is None else f"length({given}) >= {first}"
    if many is None:
        test += f" AND {count} >= 0"
    return f"(CASE WHEN {test} THEN overlay({given} placing {put} from {first} for {count}) END)"


@fixer("place_of_text")
def fix_place_of_text(place: Found, rewriter: Rewriter) -> str:
    """CHARINDEX(part, text, start): an empty part is nowhere, and a start below 1 is the first character."""
    part, text, *start = call_of(place).arguments
    sought, given = rewriter.node(part), rewriter.node(text)
    constant = text_value(part, rewriter)
    found = f"strpos({given}, {sought})"
    at = _constant(start[0], rewriter) if start else 1
    if at is None or at > 1:
        first = rewriter.node(start[0])
        first = first if at is not None else f"GREATEST({first}, 1)"
        found = f"strpos(substr({given}, {first}), {sought})"
        found = f"(CASE {found} WHEN 0 THEN 0 ELSE {found} + {first} - 1 END)"
    return found if constant else f"LEAST(length({sought}), 1) * {found}"


@fixer("first_non_null_of_its_type")
def fix_first_non_null_of_its_type(place: Found, rewriter: Rewriter) -> str:
    """ISNULL(value, other) has the type of the value: a whole number, or a text of so many characters."""
    value, other = call_of(place).arguments
    given = rewriter.node(other)
    if rewriter.types.family(value) is Family.INTEGER and rewriter.types.family(other) is Family.NUMBER:
        return f"COALESCE({rewriter.node(value)}, CAST(trunc({given}) AS bigint))"
    length = _length(value, rewriter)
    if length and rewriter.types.family(other) is Family.TEXT:
        constant = text_value(other, rewriter)
        if constant is not None:
            given = literal(constant[:length]) if len(constant) > length else given
        elif not 0 < _length(other, rewriter) <= length:
            given = f"left({given}, {length})"
    return f"COALESCE({rewriter.node(value)}, {given})"


def _length(node: Node, rewriter: Rewriter) -> int:
    """Return the greatest number of characters of a text, as its type says; 0 where it does not."""
    kind = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical.length if logical is not None and logical.kind in ("text", "fixed-text") else 0


@fixer("replaced_without_case")
def fix_replaced_without_case(place: Found, rewriter: Rewriter) -> str:
    """REPLACE(text, old, new) finds the old text in any case: a regular expression in which every sign stands for itself."""
    text, old, new = call_of(place).arguments
    values = [rewriter.node(each) for each in (text, old, new)]
    if not ignores_case(rewriter):
        return f"replace({', '.join(values)})"
    constant, put = text_value(old, rewriter), text_value(new, rewriter)
    pattern = (
        literal(re.sub(r"([^\w\s])", r"\\\1", constant))
        if constant is not None
        else f"regexp_replace({values[1]}, '([^\\w\\s])', '\\\\\\1', 'g')"
    )
    by = literal(put.replace("\\", "\\\\")) if put is not None else f"replace({values[2]}, '\\', '\\\\')"
    found = f"regexp_replace({values[0]}, {pattern}, {by}, 'gi')"
    return (
        found
        if constant is not None
        else f"(CASE WHEN {values[1]} = '' AND {by} IS NOT NULL THEN {values[0]} ELSE {found} END)"
    )


@fixer("escaped_for_json")
def fix_escaped_for_json(place: Found, rewriter: Rewriter) -> str:
    """STRING_ESCAPE(text, 'json'), the one form that there is."""
    text = rewriter.node(call_of(place).arguments[0])
    return f"regexp_replace(to_json({text}::text)::text, '^\"|\"$', '', 'g')"


@fixer("bytes_as_stored")
def fix_bytes_as_stored(place: Found, rewriter: Rewriter) -> str:
    """Count bytes of a text: two for each character of a national one."""
    value = call_of(place).arguments[0]
    source = rewriter.types.source_type(value)
    is_national = rewriter.subject.source(value).startswith("N'") or (
        source is not None and source.name.startswith(("NCHAR", "NVARCHAR", "NTEXT", "UNI"))
    )
    text = rewriter.node(value)
    return f"(2 * char_length({text}))" if is_national else f"octet_length({text})"
