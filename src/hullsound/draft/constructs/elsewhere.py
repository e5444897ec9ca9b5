"""Fixers for SQL Server and Oracle as targets: predicates as values, casts of MySQL, extremes, whole units between moments.

Sources: Transact-SQL reference of SQL Server 2016 to 2025; Oracle Database 19c, "SQL Language Reference"; MySQL 8.4 Reference
Manual, "Date and Time Functions", "Comparison Functions and Operators" and "Cast Functions and Operators".
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.conditions import predicate_as_number
from hullsound.draft.conversions.moment_texts import STYLES
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import truncate_unit
from hullsound.sql.tree import Cast, Node, Operation

from . import call_of, fixer
from .dates import interval_parts, unit_of
from .portable import shifted
from .texts import style_node

_SECONDS: Final = {"second": 1, "minute": 60, "hour": 3600, "day": 86400, "week": 604800}
_MONTHS: Final = {"month": 1, "quarter": 3, "year": 12}
_ELEMENT: Final = re.compile(r"YYYY|MM|DD|HH24|MI|SS|\w+|\W")
_FORMATS: Final = {"YYYY": "yyyy", "MM": "MM", "DD": "dd", "HH24": "HH", "MI": "mm", "SS": "ss"}
_STYLES: Final = {
    "YYYY-MM-DD": 23, "YYYY-MM-DD HH24:MI:SS": 120, "YYYYMMDD": 112, "DD/MM/YYYY": 103, "DD.MM.YYYY": 104, "DD-MM-YYYY": 105,
    "MM/DD/YYYY": 101, "YYYY/MM/DD": 111,
}  # fmt: skip
"""Styles of CONVERT that read what a mask reads (Transact-SQL reference, "CAST and CONVERT")."""
_DAY: Final = re.compile(r"N?'(\d{4})(?:-?)(\d{2})(?:-?)(\d{2})'")
_DEFAULT_SIZE: Final = "30"
"""Length of a text type without one in CONVERT (Transact-SQL reference, "char and varchar")."""
_EXTREMES_SINCE: Final = 2022
"""Version of SQL Server that has GREATEST and LEAST, which leave NULL out."""
_UNITS: Final = {
    **dict.fromkeys(("YYYY", "YEAR", "YY", "Y"), "year"), "Q": "quarter", **dict.fromkeys(("MM", "MONTH", "MON"), "month"),
    "IW": "week", **dict.fromkeys(("DD", "DDD", "J"), "day"), **dict.fromkeys(("HH", "HH24", "HH12"), "hour"), "MI": "minute",
}  # fmt: skip
"""Units of TRUNC by their masks."""
_CUTS: Final = {
    "year": "DATEFROMPARTS(YEAR({0}), 1, 1)",
    "quarter": "DATEFROMPARTS(YEAR({0}), (MONTH({0}) - 1) / 3 * 3 + 1, 1)",
    "month": "DATEFROMPARTS(YEAR({0}), MONTH({0}), 1)",
    "week": "DATEADD(day, -((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7), CAST({0} AS date))",
    "day": "CAST({0} AS date)",
}
_CLOCK_CUTS: Final = {
    "hour": "DATEADD(hour, DATEPART(hour, {0}), CAST(CAST({0} AS date) AS datetime2(0)))",
    "minute": "DATEADD(minute, DATEPART(hour, {0}) * 60 + DATEPART(minute, {0}), CAST(CAST({0} AS date) AS datetime2(0)))",
}


@fixer("predicate_as_number")
def fix_predicate_as_number(place: Found, rewriter: Rewriter) -> str:
    """A condition that is shown, kept or sorted by: 1, 0 or NULL."""
    return predicate_as_number(place.node, rewriter)


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
    return f"CAST({_CUTS[unit].format(value)} AS datetime2(0))"


@fixer("number_cut")
def fix_number_cut(place: Found, rewriter: Rewriter) -> str:
    """TRUNC(number, digits) of Oracle, for SQL Server."""
    call = call_of(place)
    if rewriter.types.family(call.arguments[0]) not in NUMBERS:
        raise CannotDraft("TRUNC of a value whose kind is not known")
    digits = rewriter.node(call.arguments[1]) if len(call.arguments) > 1 else "0"
    return f"ROUND({rewriter.node(call.arguments[0])}, {digits}, 1)"


@fixer("months_with_last_day")
def fix_months_with_last_day(place: Found, rewriter: Rewriter) -> str:
    """ADD_MONTHS of Oracle, for SQL Server: the last day of a month stays one."""
    call = call_of(place)
    if call.parts[-1] != "ADD_MONTHS":
        raise CannotDraft("months between two dates, with fractions")
    date, months = (rewriter.node(each) for each in call.arguments)
    moved = f"DATEADD(month, {months}, {date})"
    last = f"DATEADD(day, DAY(EOMONTH({moved})) - DAY({moved}), {moved})"
    return f"(CASE WHEN CAST({date} AS date) = EOMONTH({date}) THEN {last} ELSE {moved} END)"


@fixer("interval_added")
def fix_interval_added(place: Found, rewriter: Rewriter) -> str:
    """DATE_ADD(date, INTERVAL n unit) of MySQL and its kin."""
    call = call_of(place)
    date, span = call.arguments[:2]
    is_back = call.parts[-1] in ("DATE_SUB", "SUBDATE")
    amount, unit = (span, "day")
    if rewriter.words[span.first] == "INTERVAL":
        amount, unit = interval_parts(span, rewriter)
    family = rewriter.types.family(date)
    if (
        family not in MOMENTS
        or unit not in (*_SECONDS, *_MONTHS)
        or rewriter.types.family(amount) is not Family.INTEGER
    ):
        raise CannotDraft("an interval of several units, or one that is added to a text")
    text = rewriter.node(date)
    if family is Family.DATE and unit in ("second", "minute", "hour"):
        text = f"CAST({text} AS datetime2(0))" if rewriter.target.engine == "sqlserver" else text
    count = rewriter.node(amount)
    return shifted(text, f"-({count})" if is_back else count, unit, rewriter)


@fixer("whole_units")
def fix_whole_units(place: Found, rewriter: Rewriter) -> str:
    """TIMESTAMPDIFF(unit, a, b) of MySQL: whole units, cut towards zero."""
    unit_node, first, last = call_of(place).arguments
    unit = unit_of(unit_node, rewriter)
    if any(rewriter.types.family(each) not in MOMENTS for each in (first, last)):
        raise CannotDraft("units between values that are no moments")
    a, b = rewriter.node(first), rewriter.node(last)
    if unit in _SECONDS:
        return _whole_seconds(a, b, _SECONDS[unit], rewriter)
    if unit in _MONTHS:
        return _whole_months(a, b, _MONTHS[unit], rewriter)
    raise CannotDraft(f"whole {unit}s between moments")


def _whole_seconds(a: str, b: str, size: int, rewriter: Rewriter) -> str:
    if rewriter.target.engine == "sqlserver":
        seconds = f"DATEDIFF_BIG(second, {a}, {b})"
        return f"({seconds} / {size})" if size > 1 else seconds
    seconds = f"ROUND((CAST({b} AS DATE) - CAST({a} AS DATE)) * 86400)"
    return f"TRUNC({seconds} / {size})" if size > 1 else seconds


def _whole_months(a: str, b: str, size: int, rewriter: Rewriter) -> str:
    """Count months by their numbers, less one where the rest of the last month is short."""
    if rewriter.target.engine == "sqlserver":
        borders = f"DATEDIFF(month, {a}, {b})"
        rests = [f"DATEDIFF(second, DATEFROMPARTS(YEAR({each}), MONTH({each}), 1), {each})" for each in (a, b)]
    else:
        years, months = (f"EXTRACT({part} FROM {b}) - EXTRACT({part} FROM {a})" for part in ("YEAR", "MONTH"))
        borders = f"({years}) * 12 + {months}"
        rests = [f"(CAST({each} AS DATE) - TRUNC({each}, 'MM'))" for each in (a, b)]
    short = f"CASE WHEN {a} <= {b} AND {rests[1]} < {rests[0]} THEN 1 WHEN {a} > {b} AND {rests[1]} > {rests[0]} THEN -1 ELSE 0 END"
    count = f"({borders} - {short})"
    if size == 1:
        return count
    return f"({count} / {size})" if rewriter.target.engine == "sqlserver" else f"TRUNC({count} / {size})"


def _moment(node: Node, rewriter: Rewriter) -> str:
    """Write a moment for Oracle; a constant text stands for a day in SQL Server."""
    day = _DAY.fullmatch(rewriter.subject.source(node))
    if day is not None:
        return f"DATE '{day[1]}-{day[2]}-{day[3]}'"
    if rewriter.types.family(node) not in MOMENTS:
        raise CannotDraft("borders between values that are no moments")
    return rewriter.node(node)


@fixer("borders_of_oracle")
def fix_borders_of_oracle(place: Found, rewriter: Rewriter) -> str:
    """DATEDIFF(unit, a, b) of SQL Server, which counts the borders of units that are crossed; for Oracle."""
    unit_node, first, last = call_of(place).arguments
    unit = unit_of(unit_node, rewriter)
    a, b = _moment(first, rewriter), _moment(last, rewriter)
    years = f"(EXTRACT(YEAR FROM {b}) - EXTRACT(YEAR FROM {a}))"
    months = f"({years} * 12 + EXTRACT(MONTH FROM {b}) - EXTRACT(MONTH FROM {a}))"
    quarters = [f"TRUNC((EXTRACT(MONTH FROM {each}) - 1) / 3)" for each in (b, a)]
    cut = {"hour": ("HH24", 24), "minute": ("MI", 1440)}
    if unit == "year":
        return years
    if unit == "quarter":
        return f"({years} * 4 + {quarters[0]} - {quarters[1]})"
    if unit == "month":
        return months
    if unit == "day":
        return f"(TRUNC({b}) - TRUNC({a}))"
    if unit in cut:
        mask, size = cut[unit]
        return f"ROUND((TRUNC({b}, '{mask}') - TRUNC({a}, '{mask}')) * {size})"
    if unit == "second":
        return f"ROUND((CAST({b} AS DATE) - CAST({a} AS DATE)) * 86400)"
    raise CannotDraft(f"the {unit}s between dates")


@fixer("cast_of_mysql")
def fix_cast_of_mysql(place: Found, rewriter: Rewriter) -> str:
    """CAST(value AS SIGNED), CHAR and their like of MySQL."""
    node: Node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("a cast in a form that is not known")
    name, value = node.type.name, node.value
    family, text = rewriter.types.family(value), rewriter.node(value)
    is_tsql = rewriter.target.engine == "sqlserver"
    if name in ("SIGNED", "UNSIGNED"):
        whole = "bigint" if is_tsql else "number(19)"
        if name == "UNSIGNED":
            whole = "decimal(20)" if is_tsql else "number(20)"
        if family not in NUMBERS:
            raise CannotDraft("a whole number of a text, of which the digits in front count")
        return f"CAST({text} AS {whole})"
    if name in ("CHAR", "NCHAR") and family in (Family.TEXT, Family.INTEGER):
        size = node.type.arguments[0] if node.type.arguments else ""
        if is_tsql:
            return f"CAST({text} AS nvarchar({size or 'max'}))"
        if family is Family.TEXT and size:
            return f"SUBSTR({text}, 1, {size})"
        return text if family is Family.TEXT else f"TO_CHAR({text})"
    if name == "DATETIME" and family in MOMENTS:
        return f"CAST({text} AS {'datetime2(0)' if is_tsql else 'TIMESTAMP(0)'})"
    raise CannotDraft(f"a cast to {name.lower()}")


@fixer("text_of_number")
def fix_text_of_number(place: Found, rewriter: Rewriter) -> str:
    """A whole number where Oracle expects a text; for SQL Server."""
    return _whole_as_text(place.node, rewriter)


def _whole_as_text(value: Node, rewriter: Rewriter) -> str:
    if rewriter.types.family(value) is not Family.INTEGER:
        raise CannotDraft("a number with digits behind the point, or a moment, as text")
    return f"CAST({rewriter.node(value)} AS nvarchar(40))"


@fixer("text_by_format")
def fix_text_by_format(place: Found, rewriter: Rewriter) -> str:
    """TO_CHAR, TO_DATE, TO_TIMESTAMP and TO_NUMBER, for SQL Server; of masks those of digits alone."""
    call = call_of(place)
    name, value = call.parts[-1], call.arguments[0]
    mask = (text_value(call.arguments[1], rewriter) or "?").upper() if len(call.arguments) > 1 else ""
    family = rewriter.types.family(value)
    if len(call.arguments) > 2:
        raise CannotDraft("a mask of a language")
    if name == "TO_NUMBER" and not mask:
        return f"CAST({rewriter.node(value)} AS decimal(38, 10))"
    if name in ("TO_CHAR", "VARCHAR_FORMAT") and not mask:
        return _whole_as_text(value, rewriter)
    if name in ("TO_CHAR", "VARCHAR_FORMAT") and family in MOMENTS:
        return f"FORMAT({rewriter.node(value)}, '{_format_of(mask)}', 'en-US')"
    if name in ("TO_DATE", "TO_TIMESTAMP", "TIMESTAMP_FORMAT") and mask in _STYLES and family is Family.TEXT:
        return f"CONVERT(datetime2(0), {rewriter.node(value)}, {_STYLES[mask]})"
    raise CannotDraft(
        f"{name.lower()} with the mask {mask[:30].lower()}" if mask else f"{name.lower()} in the session's format"
    )


def _format_of(mask: str) -> str:
    """Return the format of .NET for a mask of numbers and signs. Raises CannotDraft for another element."""
    text = ""
    for piece in _ELEMENT.findall(mask):
        known = _FORMATS.get(piece)
        if known is None and (piece.isalnum() or piece in ("'", '"')):
            raise CannotDraft(f"the mask {mask[:30].lower()}")
        # Both signs stand for what a culture writes, so they are escaped.
        text += known or (f"\\{piece}" if piece in "/:" else piece)
    return text


@fixer("divided_exactly")
def fix_divided_exactly(place: Found, rewriter: Rewriter) -> str:
    """The first of two whole numbers that Oracle divides; for SQL Server, which would cut the fraction."""
    return f"CAST({rewriter.node(place.node)} AS decimal(38, 12))"


@fixer("bits_of_oracle")
def fix_bits_of_oracle(place: Found, rewriter: Rewriter) -> str:
    """The bitwise signs of the T-SQL family: Oracle has BITAND alone."""
    node = place.node
    if not isinstance(node, Operation) or len(node.operands) != 2:
        raise CannotDraft("several bitwise signs in a row")
    a, b = (rewriter.node(each) for each in node.operands)
    both = f"BITAND({a}, {b})"
    return {"&": both, "|": f"({a} + {b} - {both})", "^": f"({a} + {b} - 2 * {both})"}[node.operators[0]]


@fixer("convert_for_oracle")
def fix_convert_for_oracle(place: Found, rewriter: Rewriter) -> str:
    """CONVERT(type, value) of SQL Server, and with the number of a style for texts of moments."""
    node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("CONVERT in a form that is not known")
    value = rewriter.node(node.value)
    source, target = rewriter.types.family(node.value), rewriter.types.family(node)
    style = style_node(node, rewriter) if rewriter.words[node.value.last] == "," else None
    size = node.type.arguments[0] if node.type.arguments else _DEFAULT_SIZE
    if target is Family.TEXT and source in (*MOMENTS, Family.TEXT, Family.INTEGER):
        if source in MOMENTS:
            text = f"TO_CHAR({value}, {_oracle_mask(style, source, rewriter)}, 'NLS_DATE_LANGUAGE=English')"
        else:
            text = value if source is Family.TEXT else f"TO_CHAR({value})"
        return text if size == "MAX" or source is Family.INTEGER else f"SUBSTR({text}, 1, {size})"
    if source is Family.TEXT and target in MOMENTS and style is not None:
        reads = "TO_DATE" if target is Family.DATE else "TO_TIMESTAMP"
        return f"{reads}({value}, {_oracle_mask(style, target, rewriter)})"
    if style is not None or not source or source is Family.TEXT or target is Family.TEXT:
        raise CannotDraft("a style for a value of another kind")
    if source in MOMENTS and target is Family.DATE:
        return f"TRUNC({value})"
    number = f"TRUNC({value})" if (source, target) == (Family.NUMBER, Family.INTEGER) else value
    return f"CAST({number} AS {rewriter.node(node.type)})"


def _oracle_mask(style: Node | None, family: Family, rewriter: Rewriter) -> str:
    mask = STYLES.get(rewriter.subject.source(style)) if style is not None else None
    if mask is None:
        raise CannotDraft("a moment as text in the session's language, or in a style that is not known")
    if "MS" in mask and family is Family.DATE:
        raise CannotDraft("thousandths of a date")
    return literal(mask.replace(":MS", ":FF3").replace(".MS", ".FF3"))
