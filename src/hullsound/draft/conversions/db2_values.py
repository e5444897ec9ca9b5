"""Values that Db2 writes in forms of its own: constants of moments, units in which texts are counted, moments as texts and numbers.

Source: Db2 11.5 for LUW, SQL Reference, "String representations of datetime values", "Character string units", "CAST specification".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.masks.reading import read_letters
from hullsound.draft.masks.writing import write_moment
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
_AS_NUMBER: Final = {
    Family.DATE: "YYYYMMDD", Family.TIME: "HH24MISS", Family.TIMESTAMP: "YYYYMMDDHH24MISS",
}  # fmt: skip
"""A moment as a number."""
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
    for constant in subject.all(Literal):
        moment = _MOMENT.fullmatch(subject.source(constant)) if constant.form == "string" else None
        if moment is not None:
            rewriter.replace(constant.first, constant.last, f"'{moment[1]} {moment[2].replace('.', ':')}{moment[3]}'")
    for other, value in compared(rewriter):
        day = _day(value, rewriter) if rewriter.types.family(other) in MOMENTS else ""
        if day:
            rewriter.replace(value.first, value.last, f"'{day}'")


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


def by_letters(value: Node, mask: str, rewriter: Rewriter) -> str:
    """Write a moment as text by a mask of letters, on any target. Raises CannotDraft where the target cannot."""
    if rewriter.target.engine != "postgresql":
        return write_moment(value, read_letters(mask, "oracle"), rewriter)
    text = rewriter.node(value)
    if rewriter.types.family(value) is Family.TIME:
        text = f"CAST('2000-01-01' AS date) + {text}"
    return f"to_char({text}, {literal(mask.replace('FF6', 'US'))})"


def moment_as_number(value: Node, *, has_fraction: bool, rewriter: Rewriter) -> str:
    """Write a date, time or timestamp as the number of its digits. Raises CannotDraft for another value."""
    family = rewriter.types.family(value)
    mask = _AS_NUMBER.get(family)
    if mask is None:
        raise CannotDraft("a value as number that is no moment")
    if has_fraction and family is Family.TIMESTAMP:
        kind = {"postgresql": "numeric", "oracle": "number"}.get(rewriter.target.engine, "decimal")
        return f"CAST({by_letters(value, f'{mask}.FF6', rewriter)} AS {kind}(20, 6))"
    kind = {"postgresql": "bigint", "sqlserver": "bigint", "oracle": "number(14)"}.get(rewriter.target.engine, "SIGNED")
    return f"CAST({by_letters(value, mask, rewriter)} AS {kind})"


def _text_of_moment(cast: Cast, rewriter: Rewriter) -> str:
    length = cast.type.arguments[0] if cast.type.arguments else ""
    if rewriter.types.family(cast.value) is not Family.TIMESTAMP or not length.isdecimal() or int(length) < _LENGTH:
        raise CannotDraft("a date as text, whose form the database sets")
    return by_letters(cast.value, AS_TEXT, rewriter)
