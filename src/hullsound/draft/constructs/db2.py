"""Functions of Db2 that PostgreSQL writes otherwise: digits, forms of moments as text, durations, masks.

Source: Db2 11.5 for LUW, SQL Reference, "Built-in functions" and "String representations of datetime values".
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.db2_values import add_db2_values
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.letters import by_letters
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import is_date_mask
from hullsound.sql.tree import Call, DerivedTable, Node, Operation, TableFunction, TableRef

from . import call_of, fixer
from .dates import timestamp_of
from .spans import whole_units

_FORMS: Final = {
    "date": {"ISO": "YYYY-MM-DD", "JIS": "YYYY-MM-DD", "EUR": "DD.MM.YYYY", "USA": "MM/DD/YYYY"},
    "time": {"ISO": "HH24.MI.SS", "JIS": "HH24:MI:SS", "EUR": "HH24.MI.SS", "USA": "HH12:MI AM"},
}
_DIGITS: Final = {"SMALLINT": 5, "INTEGER": 10, "INT": 10, "BIGINT": 19}
_SECONDS: Final = {"1": 0.000001, "2": 1, "4": 60, "8": 3600, "16": 86400, "32": 604800}
"""Seconds of the units that TIMESTAMPDIFF numbers."""
_UNITS: Final = {"2": "second", "4": "minute", "8": "hour", "16": "day", "32": "week"}
_NUMBER_MASK: Final = re.compile(r"(?:FM)?[S$]?[09,.]+(?:MI|PR|S)?", re.IGNORECASE)


def form_of_moment(value: Node, form: str, rewriter: Rewriter) -> str:
    """Write a date or time as text in a named form: ISO, USA, EUR or JIS. Raises CannotDraft for others."""
    kind = {Family.TIME: "time", Family.DATE: "date"}.get(rewriter.types.family(value), "")
    mask = _FORMS.get(kind, {}).get(form, "")
    if not mask:
        raise CannotDraft("a moment as text in a form that is not known")
    return by_letters(value, mask, rewriter)


def digits(value: Node, rewriter: Rewriter) -> str:
    """Write DIGITS: the digits of a number as its type holds them, with zeros in front and without a sign or point."""
    precision, scale = digits_of(value, rewriter)
    text = f"abs({rewriter.node(value)})"
    shifted = f"trunc({text} * {10**scale})" if scale else text
    return f"lpad(CAST({shifted} AS text), {precision}, '0')"


def digits_of(value: Node, rewriter: Rewriter) -> tuple[int, int]:
    """Return precision and scale of a number in Db2 by its type. Raises CannotDraft for another type."""
    kind = rewriter.types.source_type(value)
    if kind is not None and kind.name in _DIGITS:
        return _DIGITS[kind.name], 0
    if kind is None and rewriter.catalog.engine == "db2" and rewriter.types.family(value) is Family.INTEGER:
        kinds = [
            rewriter.types.source_type(each) for each in rewriter.subject.read.inside(Node, value.first, value.last)
        ]
        return _DIGITS["BIGINT" if any(each is not None and each.name == "BIGINT" for each in kinds) else "INTEGER"], 0
    if kind is None or kind.name not in ("DECIMAL", "DEC", "NUMERIC"):
        raise CannotDraft("a number as text whose type is not known")
    precision, scale = (*map(int, kind.arguments), *(5, 0)[len(kind.arguments) :])[:2]
    return precision, scale


def width_as_char(value: Node, rewriter: Rewriter) -> int:
    """Return how many characters CHAR of a number has in Db2: sign and point included. Raises CannotDraft for a type not known."""
    precision, _ = digits_of(value, rewriter)
    kind = rewriter.types.source_type(value)
    return precision + (1 if kind is None or kind.name in _DIGITS else 2)


@fixer("units_of_duration")
def fix_units_of_duration(place: Found, rewriter: Rewriter) -> str:
    """Write TIMESTAMPDIFF (unit, CHAR (later - earlier)) as whole units of the time between."""
    call = call_of(place)
    number = rewriter.subject.source(call.arguments[0])
    seconds = _SECONDS.get(number)
    duration = call.arguments[1] if len(call.arguments) == 2 else None
    between = duration.arguments[0] if isinstance(duration, Call) and duration.arguments else None
    if not isinstance(between, Operation) or between.operators != ["-"] or seconds is None:
        raise CannotDraft("TIMESTAMPDIFF in months, or of something that is no difference")
    if rewriter.target.engine != "postgresql":
        return _units_elsewhere(between.operands[0], between.operands[1], _UNITS.get(number, ""), rewriter)
    later, earlier = (f"CAST({rewriter.node(each)} AS timestamp)" for each in between.operands)
    unit = f" / {seconds}" if seconds >= 1 else " * 1000000"
    return f"CAST(trunc(EXTRACT(EPOCH FROM {later} - {earlier}){'' if seconds == 1 else unit}) AS integer)"


def _units_elsewhere(later: Node, earlier: Node, unit: str, rewriter: Rewriter) -> str:
    if not unit or any(rewriter.types.family(each) not in MOMENTS for each in (later, earlier)):
        raise CannotDraft("TIMESTAMPDIFF in millionths of a second, or of what may be no moments")
    if rewriter.target.engine in ("mysql", "mariadb"):
        return f"TIMESTAMPDIFF({unit.upper()}, {rewriter.node(earlier)}, {rewriter.node(later)})"
    return whole_units(earlier, later, unit, rewriter)


@fixer("moment_or_number_by_mask")
def fix_moment_or_number_by_mask(place: Found, rewriter: Rewriter) -> str:
    """Write VARCHAR_FORMAT and TO_CHAR with a mask of elements that PostgreSQL has too."""
    call = call_of(place)
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) == 2 else None
    value = call.arguments[0]
    is_moment = rewriter.types.family(value) in (Family.DATE, Family.TIMESTAMP, Family.UNKNOWN)
    if mask is not None and is_moment and is_date_mask(mask):
        return f"to_char({timestamp_of(value, rewriter)}, {literal(mask)})"
    if mask is not None and rewriter.types.family(value) in NUMBERS and _NUMBER_MASK.fullmatch(mask):
        return f"to_char({rewriter.node(value)}, {literal(mask)})"
    raise CannotDraft("a mask that is not known")


@fixer("moment_read_by_mask")
def fix_moment_read_by_mask(place: Found, rewriter: Rewriter) -> str:
    """Write TIMESTAMP_FORMAT, TO_DATE and TO_TIMESTAMP with a mask of elements that PostgreSQL has too."""
    call = call_of(place)
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) == 2 else None
    if mask is None or not is_date_mask(mask):
        raise CannotDraft("a mask that is not known")
    kind = "date" if call.parts[-1] == "TO_DATE" and rewriter.catalog.engine == "teradata" else "timestamp"
    return f"CAST(to_timestamp({rewriter.node(call.arguments[0])}, {literal(mask)}) AS {kind})"


@fixer("last_day_kept")
def fix_last_day_kept(place: Found, rewriter: Rewriter) -> str:
    """Write LAST_DAY, which gives a date for a date and keeps the time of day of a timestamp."""
    value = call_of(place).arguments[0]
    text = rewriter.node(value)
    month = f"date_trunc('month', {text}) + interval '1 month' - interval '1 day'"
    if rewriter.types.family(value) is Family.DATE:
        return f"CAST({month} AS date)"
    if rewriter.types.family(value) is not Family.TIMESTAMP:
        raise CannotDraft("the last day of the month of something that is no date")
    return f"({month} + ({text} - date_trunc('day', {text})))"


@fixer("translated_letters")
def fix_translated_letters(place: Found, rewriter: Rewriter) -> str:
    """Write TRANSLATE (text), which gives capitals, and TRANSLATE (text, to, from), where blanks stand for what lacks."""
    arguments = call_of(place).arguments
    if len(arguments) == 1:
        return f"upper({rewriter.node(arguments[0])})"
    texts = [text_value(each, rewriter) for each in arguments[1:]]
    new, old = texts[:2] if len(texts) > 1 else (None, None)
    fill = texts[2] if len(texts) > 2 else " "
    if new is None or old is None or fill is None or len(fill) != 1:
        raise CannotDraft("TRANSLATE with letters that are not constants")
    return f"translate({rewriter.node(arguments[0])}, {literal(old)}, {literal(new.ljust(len(old), fill)[: len(old)])})"


@fixer("seconds_of_day")
def fix_seconds_of_day(place: Found, rewriter: Rewriter) -> str:
    value = call_of(place).arguments[0]
    text = rewriter.node(value)
    time = text if rewriter.types.family(value) is Family.TIME else f"CAST({text} AS time)"
    return f"CAST(trunc(EXTRACT(EPOCH FROM {time})) AS integer)"


@fixer("duration_of_dates")
def fix_duration_of_dates(place: Found, rewriter: Rewriter) -> str:
    """Write the difference of two dates as a date duration: age() borrows days from the same month as Db2 does.

    Source: Db2 11.5 for LUW, SQL Reference, "Date subtraction"; PostgreSQL 18, "Date/Time Functions and Operators".
    """
    node = place.node
    assert isinstance(node, Operation)
    if any(rewriter.types.family(each) is not Family.DATE for each in node.operands):
        raise CannotDraft("a duration of timestamps or times")
    age = f"age({', '.join(rewriter.node(each) for each in node.operands)})"
    parts = f"EXTRACT(YEAR FROM {age}) * 10000 + EXTRACT(MONTH FROM {age}) * 100 + EXTRACT(DAY FROM {age})"
    return f"CAST({parts} AS numeric(8))"


_REGISTERS: Final = {
    "postgresql": {"SCHEMA": "current_schema", "SERVER": "current_database()", "USER": "current_user"},
    "mysql": {"SCHEMA": "DATABASE()", "SERVER": "DATABASE()", "USER": "SUBSTRING_INDEX(USER(), '@', 1)"},
    "sqlserver": {"SCHEMA": "SCHEMA_NAME()", "SERVER": "DB_NAME()", "USER": "USER_NAME()"},
    "oracle": {
        "SCHEMA": "SYS_CONTEXT('USERENV', 'CURRENT_SCHEMA')", "SERVER": "SYS_CONTEXT('USERENV', 'DB_NAME')", "USER": "USER",
    },
}  # fmt: skip


@fixer("register_of_database")
def fix_register_of_database(place: Found, rewriter: Rewriter) -> str:
    """CURRENT SCHEMA, CURRENT SERVER and CURRENT USER."""
    engine = "mysql" if rewriter.target.engine == "mariadb" else rewriter.target.engine
    return _REGISTERS[engine][rewriter.words[place.first + 1]]


def add_db2_points(rewriter: Rewriter) -> None:
    """Write TABLE (query) and TABLE (function) among sources, and names of tables of the session."""
    add_db2_values(rewriter)
    subject = rewriter.subject
    for query in subject.all(DerivedTable):
        if rewriter.words[query.first] == "TABLE":
            rewriter.replace(query.first, query.first + 1, "LATERAL")
    for function in subject.all(TableFunction):
        if rewriter.words[function.first] == "TABLE" and isinstance(function.call, Call):
            rewriter.replace(function.first, function.call.first, "")
            rewriter.replace(function.call.last, function.call.last + 1, "")
    for table in subject.all(TableRef):
        if table.parts[0] == "SESSION" and len(table.parts) == 2:
            rewriter.replace(table.first, table.first + 2, "")
