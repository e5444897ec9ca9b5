"""Values that Db2 writes in forms of its own: constants of moments, units in which texts are counted, moments as texts and numbers.

Source: Db2 11.5 for LUW, SQL Reference, "String representations of datetime values", "Character string units", "CAST".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.masks.letters import by_letters
from hullsound.sql.tree import Call, Cast, Literal, Name, Node

from .implicit import compared

_MOMENT: Final = re.compile(r"'(\d{4}-\d\d-\d\d)-(\d\d\.\d\d\.\d\d)((?:\.\d+)?)'")
"""The form in which Db2 shows a timestamp, which other engines do not read."""
_DAY: Final = re.compile(r"'(?:(\d\d?)/(\d\d?)/(\d{4})|(\d\d?)\.(\d\d?)\.(\d{4}))'")
"""Dates as the USA and Europe write them, which Db2 reads as well."""
_TEXT_UNITS: Final = frozenset(("CODEUNITS16", "CODEUNITS32", "OCTETS"))
AS_TEXT: Final = "YYYY-MM-DD-HH24.MI.SS.FF6"
"""A timestamp as text."""
_LENGTH: Final = 26
"""Characters of a timestamp as text."""
_RANK: Final = 4


def add_db2_values(rewriter: Rewriter) -> None:
    """Write constants of moments in the form that every target reads, and leave out units in which texts are counted anyway."""
    subject = rewriter.subject
    for cast in subject.all(Cast):
        if cast.type.name == "VARCHAR" and rewriter.types.family(cast.value) in (*MOMENTS, Family.TIME):
            rewriter.add(Point(cast.first, cast.last, partial(_text_of_moment, cast), rank=_RANK))
    for call in subject.all(Call):
        _add_units(call, rewriter)
        day = _day(call.arguments[0], rewriter) if call.parts == ("DATE",) and len(call.arguments) == 1 else ""
        if day:
            rewriter.replace(call.arguments[0].first, call.arguments[0].last, f"'{day}'")
    tested = {id(value): other for other, value in compared(rewriter)}
    words = rewriter.target.engine == "oracle"  # which reads texts by the format of the session
    for constant in subject.all(Literal):
        other = tested.get(id(constant))
        moment = _MOMENT.fullmatch(subject.source(constant)) if constant.form == "string" else None
        day = _day(constant, rewriter) if other is not None and rewriter.types.family(other) in MOMENTS else ""
        if moment is not None:
            text = f"'{moment[1]} {moment[2].replace('.', ':')}{moment[3]}'"
            rewriter.replace(
                constant.first, constant.last, f"TIMESTAMP {text}" if other is not None and words else text
            )
        elif day:
            rewriter.replace(constant.first, constant.last, f"DATE '{day}'" if words else f"'{day}'")


def _add_units(call: Call, rewriter: Rewriter) -> None:
    unit = call.arguments[-1] if len(call.arguments) > 1 else None
    if not isinstance(unit, Name) or unit.parts[-1] not in _TEXT_UNITS:
        return
    if unit.parts[-1] != "CODEUNITS32":
        rewriter.add(Point(call.first, call.last, _refuse_units))
        return
    rewriter.replace(unit.first - 1, unit.last, "")
    if call.parts == ("POSITION",) and len(call.arguments) == 3:
        rewriter.replace(call.arguments[0].last, call.arguments[1].first, " IN ")


def _refuse_units(rewriter: Rewriter) -> str:
    raise CannotDraft("a text that is counted in bytes or units of UTF-16")


def _day(value: Node, rewriter: Rewriter) -> str:
    """Return a constant date in the form of the USA or Europe as year, month and day; '' for another value."""
    source = rewriter.subject.source(value) if isinstance(value, Literal) and value.form == "string" else ""
    found = _DAY.fullmatch(source)
    if found is None:
        return ""
    month, day, year = (found[1], found[2], found[3]) if found[1] else (found[5], found[4], found[6])
    return f"{year}-{month:0>2}-{day:0>2}"


def _text_of_moment(cast: Cast, rewriter: Rewriter) -> str:
    length = cast.type.arguments[0] if cast.type.arguments else ""
    if rewriter.types.family(cast.value) is not Family.TIMESTAMP or not length.isdecimal() or int(length) < _LENGTH:
        raise CannotDraft("a date as text, whose form the database sets")
    return by_letters(cast.value, AS_TEXT, rewriter)
