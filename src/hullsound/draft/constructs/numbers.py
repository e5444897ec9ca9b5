"""Fixers for numbers in other bases, network addresses as numbers, and counts."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found

from . import call_of, fixer

_BITS: Final = {"2": 1, "8": 3, "16": 4}
"""Bits of a digit in the bases that PostgreSQL reads and writes."""


@fixer("number_base")
def fix_number_base(place: Found, rewriter: Rewriter) -> str:
    """Write CONV, BIN and OCT between base ten and the bases 2, 8 and 16, for numbers that are not negative."""
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    if call.parts[-1] in ("BIN", "OCT"):
        values += ["10", "2" if call.parts[-1] == "BIN" else "8"]
    if len(values) != 3:
        raise CannotDraft("a number in another base")
    value, before, after = values
    if before == "10" and after in _BITS:
        if rewriter.types.family(call.arguments[0]) is not Family.INTEGER:
            value = f"trunc(CAST({value} AS numeric))"  # the digits of a whole number are read
        return _digits(value, after, rewriter)
    if after == "10" and before == "16":
        return f"CAST(CAST(CAST('x' || lpad({value}, 16, '0') AS bit(64)) AS bigint) AS text)"
    if after == "10" and before == "2":
        return f"CAST(CAST(CAST(lpad({value}, 64, '0') AS bit(64)) AS bigint) AS text)"
    raise CannotDraft(f"a number from base {before} to base {after}")


def _digits(value: str, base: str, rewriter: Rewriter) -> str:
    number = f"CAST({value} AS bigint)"
    if base == "16":
        return f"upper(to_hex({number}))"
    if base == "2":
        return f"regexp_replace(CAST(CAST({number} AS bit(64)) AS text), '^0{{1,63}}', '')"
    if rewriter.target.version >= 18:
        return f"to_oct({number})"
    raise CannotDraft("a number in base 8")


@fixer("network_number")
def fix_network_number(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value = rewriter.nodes(call.arguments)
    if call.parts[-1] == "INET_ATON":
        return f"(CAST({value} AS inet) - inet '0.0.0.0')"
    if call.parts[-1] == "INET_NTOA":
        return f"host(inet '0.0.0.0' + CAST({value} AS bigint))"
    raise CannotDraft(f"{call.parts[-1]} of an address as bytes")


@fixer("whole_average")
def fix_whole_average(place: Found, rewriter: Rewriter) -> str:
    """Cut an average of whole numbers off."""
    average = rewriter.text(place.first, place.last)
    match rewriter.target.engine:
        case "postgresql":
            return f"CAST(trunc({average}) AS bigint)"
        case "oracle":
            return f"TRUNC({average})"
        case _:
            return f"TRUNCATE({average}, 0)"


@fixer("number_by_mask")
def fix_number_by_mask(place: Found, rewriter: Rewriter) -> str:
    """TO_NUMBER(text, mask) of Oracle; a mask of X reads hexadecimal digits, which to_number does not."""
    text, mask, *_ = call_of(place).arguments
    written = text_value(mask, rewriter)
    if written is not None and set(written.upper().removeprefix("FM")) == {"X"}:
        return f"CAST(CAST('x' || lpad({rewriter.node(text)}, 16, '0') AS bit(64)) AS bigint)"
    return rewriter.text(place.first, place.last)
