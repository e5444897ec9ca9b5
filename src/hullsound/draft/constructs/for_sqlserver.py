"""Fixers for SQL Server as target: extremes, cut dates and numbers, months of Oracle, masks of dates.

Source: Transact-SQL reference of SQL Server 2016 to 2025.
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import truncate_unit
from hullsound.sql.tree import Literal, Node, Operation

from . import call_of, fixer
from .text_places import fix_place_found

_EXTREMES_SINCE: Final = 2022
"""Version of SQL Server that has GREATEST and LEAST, which leave NULL out."""
_UNITS: Final = {
    **dict.fromkeys(("YYYY", "YEAR", "YY", "Y"), "year"), "Q": "quarter", **dict.fromkeys(("MM", "MONTH", "MON"), "month"),
    "IW": "week", **dict.fromkeys(("D", "DY", "DAY"), "sunday"), **dict.fromkeys(("DD", "DDD", "J"), "day"),
    **dict.fromkeys(("HH", "HH24", "HH12"), "hour"), "MI": "minute",
}  # fmt: skip
"""Units of TRUNC by their masks."""
_CUTS: Final = {
    "year": "DATEFROMPARTS(YEAR({0}), 1, 1)",
    "quarter": "DATEFROMPARTS(YEAR({0}), (MONTH({0}) - 1) / 3 * 3 + 1, 1)",
    "month": "DATEFROMPARTS(YEAR({0}), MONTH({0}), 1)",
    "week": "DATEADD(day, -((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7), CAST({0} AS date))",
    "sunday": "DATEADD(day, -((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7), CAST({0} AS date))",
    "day": "CAST({0} AS date)",
}
_CLOCK_CUTS: Final = {
    "hour": "DATEADD(hour, DATEPART(hour, {0}), CAST(CAST({0} AS date) AS datetime2(0)))",
    "minute": "DATEADD(minute, DATEPART(hour, {0}) * 60 + DATEPART(minute, {0}), CAST(CAST({0} AS date) AS datetime2(0)))",
}
_PART_FIRST: Final = ("LOCATE", "POSITION", "CHARINDEX")
"""Functions that take the part before the text."""


@fixer("extreme_of_all")
def fix_extreme_of_all(place: Found, rewriter: Rewriter) -> str:
    """GREATEST and LEAST, or MAX and MIN of several values, which are NULL where one value is; for SQL Server."""
    call = call_of(place)
    is_greatest = call.parts[-1] in ("GREATEST", "MAX")
    families = {rewriter.types.family(each) for each in call.arguments}
    if not (families <= NUMBERS or families <= MOMENTS):
        raise CannotDraft("the greatest or least of texts, or of values of several kinds")
    values = [rewriter.node(each) for each in call.arguments]
    tested = [
        f"{value} IS NOT NULL"
        for each, value in zip(call.arguments, values, strict=True)
        if not rewriter.types.is_never_null(each)
    ]
    if rewriter.target.version >= _EXTREMES_SINCE:
        text = f"{'GREATEST' if is_greatest else 'LEAST'}({', '.join(values)})"
    else:
        text = _chosen(values, ">=" if is_greatest else "<=")
    return f"(CASE WHEN {' AND '.join(tested)} THEN {text} END)" if tested else text


def _chosen(values: list[str], sign: str) -> str:
    """Choose the greatest or least of values that are not NULL."""
    text = "CASE"
    for place, value in enumerate(values[:-1]):
        text += f" WHEN {' AND '.join(f'{value} {sign} {other}' for other in values[place + 1 :])} THEN {value}"
    return f"{text} ELSE {values[-1]} END"


@fixer("date_cut")
def fix_date_cut(place: Found, rewriter: Rewriter) -> str:
    """TRUNC(date, unit) of Oracle, for SQL Server; what is left stays a date with a time, of midnight."""
    call = call_of(place)
    unit = _UNITS.get(truncate_unit(call, rewriter.subject) or "", "")
    value = rewriter.node(call.arguments[0])
    if unit in _CLOCK_CUTS:
        return _CLOCK_CUTS[unit].format(value)
    if unit not in _CUTS:
        raise CannotDraft("a unit that is not known")
    is_date = rewriter.catalog.engine != "oracle" and rewriter.types.family(call.arguments[0]) is Family.DATE
    return _CUTS[unit].format(value) if is_date else f"CAST({_CUTS[unit].format(value)} AS datetime2(0))"


@fixer("replicated_text")
def fix_replicated_text(place: Found, rewriter: Rewriter) -> str:
    """A text so many times: fewer than none gives an empty text, for which REPLICATE gives NULL."""
    text, count = _two(place)
    times = rewriter.node(count)
    if not times.isdigit():
        times = f"CASE WHEN {times} < 0 THEN 0 ELSE {times} END"
    return f"REPLICATE({rewriter.node(text)}, {times})"


@fixer("place_of_part")
def fix_place_of_part(place: Found, rewriter: Rewriter) -> str:
    """The place of a part in a text: an empty part stands at the first place, where CHARINDEX finds none."""
    if len(call_of(place).arguments) > 2:
        return fix_place_found(place, rewriter)
    first, second = _two(place)
    part, text = (first, second) if call_of(place).parts[-1] in _PART_FIRST else (second, first)
    found = f"CHARINDEX({rewriter.nodes([part, text])})"
    is_filled = isinstance(part, Literal) and rewriter.subject.source(part) not in ("''", "N''")
    if is_filled or rewriter.catalog.engine == "oracle":  # which has no empty texts
        return found
    return (
        f"CASE WHEN DATALENGTH({rewriter.node(part)}) = 0 AND {rewriter.node(text)} IS NOT NULL THEN 1 ELSE {found} END"
    )


def _two(place: Found) -> tuple[Node, Node]:
    arguments = call_of(place).arguments
    if len(arguments) != 2:
        raise CannotDraft("a call with more or fewer arguments than two")
    return arguments[0], arguments[1]


@fixer("padded_text")
def fix_padded_text(place: Found, rewriter: Rewriter) -> str:
    """LPAD and RPAD: a text filled up to a length by another one, or cut to it.

    Raises CannotDraft for a length or a filling that is no constant, and for numbers with a fraction.
    """
    call = call_of(place)
    text, size, *fill = call.arguments
    length = rewriter.words[size.first] if size.last == size.first + 1 else ""
    filling = rewriter.node(fill[0]) if fill else "' '"
    is_constant = not fill or (isinstance(fill[0], Literal) and filling not in ("''", "N''"))
    family = rewriter.types.family(text)
    if not length.isdigit() or length == "0" or not is_constant or family not in (Family.TEXT, Family.INTEGER):
        raise CannotDraft(f"{call.parts[-1]} of a length or a filling that is no constant, or of such a number")
    value = rewriter.node(text) if family is Family.TEXT else f"CAST({rewriter.node(text)} AS nvarchar(40))"
    signs = f"(LEN({value} + 'x') - 1)"
    added = f"LEFT(REPLICATE({filling}, {length}), {length} - {signs})"
    filled = f"{added} + {value}" if call.parts[-1] == "LPAD" else f"{value} + {added}"
    return f"CASE WHEN {signs} >= {length} THEN LEFT({value}, {length}) ELSE {filled} END"


@fixer("bits_of_sqlserver")
def fix_bits_of_sqlserver(place: Found, rewriter: Rewriter) -> str:
    """Bitwise signs of MySQL, whose shifts come with version 2022. Raises CannotDraft for ~, whose 64 bits have no sign."""
    node = place.node
    if (
        not isinstance(node, Operation)
        or len(node.operands) != 2
        or node.operators[0] not in ("&", "|", "^", "<<", ">>")
    ):
        raise CannotDraft("several bitwise signs in a row, or ~")
    if node.operators[0] in ("<<", ">>") and rewriter.target.version < _EXTREMES_SINCE:
        raise CannotDraft("shifts, before version 2022")
    a, b = (rewriter.node(each) for each in node.operands)
    return f"({a} {node.operators[0]} {b})"
