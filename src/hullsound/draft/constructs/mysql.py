"""Small functions of MySQL and MariaDB that PostgreSQL writes otherwise.

Source: MySQL 8.4 Reference Manual, "Functions and Operators".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Literal, Node, Operation

from . import call_of, fixer
from .date_masks import percent_mask
from .dates import timestamp_of
from .json_paths import document
from .loose import number_at_beginning

_OFFSET: Final = re.compile(r"[+-]\d{1,2}:\d{2}")


@fixer("week_by_mode")
def fix_week_by_mode(place: Found, rewriter: Rewriter) -> str:
    """WEEK(date, mode): 0 begins with the first Sunday, 1 and 3 count as ISO 8601 does, 1 within the year."""
    call = call_of(place)
    mode = rewriter.subject.source(call.arguments[1]) if len(call.arguments) > 1 else "0"
    value = timestamp_of(call.arguments[0], rewriter)
    if mode == "0":
        return f"CAST((EXTRACT(DOY FROM {value})::integer + 6 - EXTRACT(DOW FROM {value})::integer) / 7 AS integer)"
    week, year = f"EXTRACT(WEEK FROM {value})", f"EXTRACT(YEAR FROM {value})"
    if mode == "3":
        return f"CAST({week} AS integer)"
    if mode == "1":
        iso = f"EXTRACT(ISOYEAR FROM {value})"
        return f"CAST(CASE WHEN {iso} < {year} THEN 0 WHEN {iso} > {year} THEN 53 ELSE {week} END AS integer)"
    raise CannotDraft("a week counted in another mode than 0, 1 and 3")


@fixer("microsecond")
def fix_microsecond(place: Found, rewriter: Rewriter) -> str:
    argument = call_of(place).arguments[0]
    value = (
        rewriter.node(argument) if rewriter.types.family(argument) is Family.TIME else timestamp_of(argument, rewriter)
    )
    return f"CAST(EXTRACT(MICROSECONDS FROM {value}) AS integer) % 1000000"


@fixer("convert_tz")
def fix_convert_tz(place: Found, rewriter: Rewriter) -> str:
    moment, *zones = call_of(place).arguments
    first, second = (_zone(zone, rewriter) for zone in zones)
    return f"(({timestamp_of(moment, rewriter)} AT TIME ZONE {first}) AT TIME ZONE {second})"


def _zone(node: Node, rewriter: Rewriter) -> str:
    """Write a zone: an offset must be an interval, since zones of that form count the other way round."""
    name = text_value(node, rewriter)
    if name is None or name.upper() == "SYSTEM":
        raise CannotDraft("a time zone that is no constant")
    return f"INTERVAL {literal(name)}" if _OFFSET.fullmatch(name) else literal(name)


@fixer("same_text")
def fix_same_text(place: Found, rewriter: Rewriter) -> str:
    return rewriter.node(call_of(place).arguments[0])


@fixer("characters")
def fix_characters(place: Found, rewriter: Rewriter) -> str:
    return " || ".join(f"chr(CAST({rewriter.node(each)} AS integer))" for each in call_of(place).arguments)


@fixer("place_among")
def fix_place_among(place: Found, rewriter: Rewriter) -> str:
    """INTERVAL(n, a, b, ...) tells how many of the bounds lie at or below n."""
    value, *bounds = (rewriter.node(each) for each in call_of(place).arguments)
    tests = " ".join(f"WHEN {value} < {bound} THEN {number}" for number, bound in enumerate(bounds))
    return f"(CASE WHEN {value} IS NULL THEN -1 {tests} ELSE {len(bounds)} END)"


@fixer("to_base64")
def fix_to_base64(place: Found, rewriter: Rewriter) -> str:
    argument = call_of(place).arguments[0]
    text = rewriter.node(argument)
    value = text if rewriter.types.family(argument) is Family.BYTES else f"convert_to({text}, 'UTF8')"
    return f"encode({value}, 'base64')"


@fixer("json_type")
def fix_json_type(place: Found, rewriter: Rewriter) -> str:
    value = document(call_of(place).arguments[0], rewriter)
    number = f"CASE WHEN {value} #>> '{{}}' ~ '^-?[0-9]+$' THEN 'INTEGER' ELSE 'DOUBLE' END"
    return f"(CASE jsonb_typeof({value}) WHEN 'number' THEN {number} ELSE upper(jsonb_typeof({value})) END)"


@fixer("regexp_like")
def fix_regexp_like(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    flags = text_value(arguments[2], rewriter) if len(arguments) > 2 else "i"
    if flags not in ("i", "c"):
        raise CannotDraft("REGEXP_LIKE with flags other than i or c")
    return f"({rewriter.node(arguments[0])} {'~*' if flags == 'i' else '~'} {rewriter.node(arguments[1])})"


@fixer("number_in_text")
def fix_number_in_text(place: Found, rewriter: Rewriter) -> str:
    """Compare the number at the beginning of a text, or 0, with a number."""
    node = place.node
    if not isinstance(node, Operation) or len(node.operands) != 2:
        raise CannotDraft("a text beside a number in a form that is not known")
    one, other = (_as_number(operand, rewriter) for operand in node.operands)
    return f"{one} {node.operators[0]} {other}"


def _as_number(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    if isinstance(node, Literal):
        return text
    return number_at_beginning(text)


@fixer("time_of_seconds")
def fix_time_of_seconds(place: Found, rewriter: Rewriter) -> str:
    """FROM_UNIXTIME(seconds) is a moment of the session's zone; with a mask it is a text."""
    seconds, *mask = call_of(place).arguments
    moment = f"CAST(to_timestamp({rewriter.node(seconds)}) AS timestamp)"
    if not mask:
        return moment
    pattern = text_value(mask[0], rewriter)
    if pattern is None:
        raise CannotDraft("a mask that is not a constant")
    return f"to_char({moment}, {literal(percent_mask(pattern))})"


def add_number_points(rewriter: Rewriter) -> None:
    """Add the points of what gives numbers in a way of its own, whatever construct it belongs to."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("EXTRACT",) and rewriter.words[call.opening + 1] in FIELDS_OF_UNIT:
            rewriter.add(Point(call.first, call.last, partial(_fields_as_number, call), rank=1))
    for node in rewriter.subject.all(Operation):
        if node.operators == ["~"]:
            rewriter.add(Point(node.first, node.last, partial(_inverted, node), rank=1))


def _fields_as_number(call: Call, rewriter: Rewriter) -> str:
    """EXTRACT(YEAR_MONTH FROM date) and its like put several fields into one number."""
    value = timestamp_of(call.arguments[-1], rewriter)
    total = ""
    for field in FIELDS_OF_UNIT[rewriter.words[call.opening + 1]]:
        part = f"trunc(EXTRACT({field} FROM {value}))"
        total = f"({total}) * 100 + {part}" if total else part
    return f"CAST({total} AS bigint)"


@fixer("aggregate_of_bits")
def fix_aggregate_of_bits(place: Found, rewriter: Rewriter) -> str:
    """BIT_OR and BIT_XOR of no rows are 0."""
    call = call_of(place)
    over = rewriter.text(call.closing + 1, call.last)
    return f"COALESCE({call.parts[-1].lower()}({rewriter.nodes(call.arguments)}){f' {over}' if over else ''}, 0)"


def _inverted(node: Operation, rewriter: Rewriter) -> str:
    """Write ~ as MySQL has it: over 64 bits without a sign."""
    text = rewriter.node(node.operands[0])
    return f"(CASE WHEN {text} >= 0 THEN 18446744073709551615 - {text} ELSE -({text}) - 1 END)"


FIELDS_OF_UNIT: Final = {
    "YEAR_MONTH": ("YEAR", "MONTH"), "DAY_HOUR": ("DAY", "HOUR"), "DAY_MINUTE": ("DAY", "HOUR", "MINUTE"),
    "DAY_SECOND": ("DAY", "HOUR", "MINUTE", "SECOND"), "HOUR_MINUTE": ("HOUR", "MINUTE"),
    "HOUR_SECOND": ("HOUR", "MINUTE", "SECOND"), "MINUTE_SECOND": ("MINUTE", "SECOND"),
}  # fmt: skip
