"""The common text of a column on both sides: which form its values take to be compared, and what that leaves out."""

from typing import Final

import msgspec

from hullsound.knowledge.types import LogicalType

_TEXTS: Final = frozenset(("text", "large-text", "enum", "set"))
_INTEGERS: Final = frozenset(("integer", "unsigned", "serial", "year", "bit", "bit-string", "decimal-whole"))
_DECIMALS: Final = frozenset(("decimal", "decimal-free", "money", "small-money"))
_FLOATS: Final = frozenset(("float", "decimal-float"))
_DATES: Final = frozenset(("date", "date-zero"))
_ZONED: Final = frozenset(("timestamp-local", "timestamp-zone"))
_TIMESTAMPS: Final = frozenset(("date-time", "date-time-thirds", "date-time-minutes", "timestamp")) | _ZONED
_BINARIES: Final = frozenset(("binary", "fixed-binary", "large-binary", "row-version"))
_FREE_SCALE: Final = 10
"""Decimals that numbers of any scale are compared to."""
_SCALES: Final = {"money": 4, "small-money": 4, "decimal-free": _FREE_SCALE}
_FRACTION: Final = 6
_MOST_BITS: Final = 63
"""Bits that an integer of both sides holds."""


class Form(msgspec.Struct, frozen=True):
    """How the values of a column are written to be compared."""

    name: str
    """integer, decimal, boolean, text, fixed (trimmed text), length (of a text alone), date, timestamp, time, binary, uuid or
    none (only how many are not null)."""
    digits: int = 0
    """Decimals of numbers, digits of the fraction of seconds."""
    remark: str = ""
    """What this leaves out, as an expected difference; '' for nothing."""

    @property
    def is_whole(self) -> bool:
        """Whether values that differ have different texts, so that a digest of them tells."""
        return self.name not in ("none", "length")


def form_of(source: LogicalType | None, target: LogicalType | None, float_decimals: int) -> Form:
    """Return the form in which both sides write a value of a column."""
    if source is None or target is None:
        return Form("none", remark="a type of the engine's own: only how many values are not NULL is compared")
    one, other = source.kind, target.kind
    kinds = {one, other}
    numbers = _INTEGERS | _DECIMALS | _FLOATS
    if "boolean" in kinds and kinds <= numbers | {"boolean"}:
        return Form("boolean")
    if "bit-string" in kinds and max(source.length, target.length) > _MOST_BITS:
        return Form("none", remark="bit strings longer than an integer: only how many values are not NULL is compared")
    if kinds <= numbers:
        return _number_form(source, target, float_decimals)
    if kinds <= _TEXTS | {"fixed-text"}:
        if "fixed-text" in kinds:
            return Form("fixed", remark="" if one == other else "trailing spaces of fixed text are not compared")
        return Form("text")
    if kinds <= _DATES | _TIMESTAMPS:
        return _time_form(source, target)
    if kinds <= {"time", "time-span"}:
        remark = "" if kinds == {"time"} else "spans of time beyond a day have no place in a time of day"
        return Form("time", remark=remark)
    if kinds <= _BINARIES:
        return Form("binary")
    if "uuid" in kinds and kinds <= _TEXTS | {"uuid", "fixed-text"}:
        return Form("uuid")
    return Form("none", remark=f"{one} has no common text on both sides: only how many values are not NULL is compared")


def _number_form(source: LogicalType, target: LogicalType, float_decimals: int) -> Form:
    if source.kind in _FLOATS or target.kind in _FLOATS:
        return Form("decimal", float_decimals, f"floating-point numbers are compared to {float_decimals} decimals")
    one, other = _scale(source), _scale(target)
    if not one and not other:
        return Form("integer")
    is_cut = other < one and target.kind != "decimal-free" and source.kind != "decimal-free"
    remark = f"numbers are compared to {other} of {one} decimals, which is what the target keeps" if is_cut else ""
    return Form("decimal", min(one, other) or max(one, other), remark)


def _scale(logical: LogicalType) -> int:
    if logical.kind in _INTEGERS:
        return 0
    return _SCALES.get(logical.kind, logical.scale)


def _time_form(source: LogicalType, target: LogicalType) -> Form:
    kinds = {source.kind, target.kind}
    if kinds & _DATES:
        is_cut = not kinds <= _DATES
        return Form("date", remark="only the days are compared: one side keeps no time of day" if is_cut else "")
    digits = min(_fraction(source), _fraction(target))
    remark = ""
    if _fraction(target) < _fraction(source):
        remark = f"fractions of seconds are compared to {digits} digits, which is what the target keeps"
    elif bool(_ZONED & {source.kind}) != bool(_ZONED & {target.kind}):
        remark = "one side knows a time zone, the other does not: points in time are compared in UTC"
    return Form("timestamp", digits, remark)


def _fraction(logical: LogicalType) -> int:
    if logical.kind in ("date-time", "date-time-minutes"):
        return 0 if logical.precision <= 0 else min(logical.precision, _FRACTION)
    if logical.kind == "date-time-thirds":
        return 3
    return min(logical.precision, _FRACTION) if logical.precision >= 0 else _FRACTION
