"""Fixers for MySQL and MariaDB as targets: masks of dates and numbers, cut dates, joined rows, parts of moments.

Source: MySQL 8.4 Reference Manual, "Date and Time Functions" (DATE_FORMAT) and "Aggregate Functions" (GROUP_CONCAT); MariaDB's own
pages of the same functions, of version 10.11.
"""

import re
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.moment_texts import STYLES
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import truncate_unit
from hullsound.sql.tree import Cast, Node

from . import call_of, fixer
from .dates import unit_of
from .functions import ENGLISH, closing_of
from .styles import style_node

_ELEMENTS: Final = {
    "YYYY": "%Y", "RRRR": "%Y", "YY": "%y", "RR": "%y", "MM": "%m", "MON": "%b", "MONTH": "%M", "DD": "%d", "DDD": "%j", "DY": "%a",
    "DAY": "%W", "HH24": "%H", "HH12": "%h", "HH": "%h", "MI": "%i", "SS": "%s", "FF6": "%f", "AM": "%p", "PM": "%p", "IW": "%v",
    "IYYY": "%x", "US": "%f",
}  # fmt: skip
"""Elements of masks and what DATE_FORMAT and STR_TO_DATE call them."""
_PIECES: Final = re.compile(
    r'"[^"]*"|FM|' + "|".join(sorted(_ELEMENTS, key=len, reverse=True)) + r"|[^A-Za-z0-9]", re.IGNORECASE
)
_BARE: Final = {"DD": "%e", "MM": "%c", "HH24": "%k", "HH12": "%l", "HH": "%l"}
"""Elements behind FM, which leaves zeros out."""
_ZERO_FILLED: Final = frozenset(("DDD", "MI", "SS", "IW", "YY", "RR"))
_NAMES: Final = frozenset(("MON", "MONTH", "DY", "DAY"))
_NUMBER_MASK: Final = re.compile(r"FM[09,]*[09](?:\.(0+))?", re.IGNORECASE)
_CUTS: Final = {
    "YEAR": "MAKEDATE(YEAR({0}), 1)",
    "QUARTER": "(MAKEDATE(YEAR({0}), 1) + INTERVAL (QUARTER({0}) - 1) QUARTER)",
    "MONTH": "CAST(DATE_FORMAT({0}, '%Y-%m-01') AS DATE)",
    "WEEK": "(DATE({0}) - INTERVAL WEEKDAY({0}) DAY)",
    "DAY": "DATE({0})",
    "HOUR": "CAST(DATE_FORMAT({0}, '%Y-%m-%d %H:00:00') AS DATETIME)",
    "MINUTE": "CAST(DATE_FORMAT({0}, '%Y-%m-%d %H:%i:00') AS DATETIME)",
}
_UNITS: Final = {
    **dict.fromkeys(("YYYY", "YEAR", "YY", "Y"), "YEAR"), "Q": "QUARTER", **dict.fromkeys(("MM", "MONTH", "MON"), "MONTH"),
    "IW": "WEEK", **dict.fromkeys(("DD", "DDD", "J"), "DAY"), **dict.fromkeys(("HH", "HH24", "HH12"), "HOUR"), "MI": "MINUTE",
}  # fmt: skip
_PARTS: Final = {
    "year": "YEAR({0})", "quarter": "QUARTER({0})", "month": "MONTH({0})", "day": "DAYOFMONTH({0})", "dayofyear": "DAYOFYEAR({0})",
    "hour": "HOUR({0})", "minute": "MINUTE({0})", "second": "SECOND({0})", "weekday": "DAYOFWEEK({0})",
}  # fmt: skip


def percent_mask_of(mask: str) -> tuple[str, str]:
    """Return a mask with percent signs, and UPPER, LOWER or '' for the case of the names in it.

    Raises CannotDraft for an element without a like, and for names that are padded or of several cases.
    """
    text, at, cases, is_bare = "", 0, set(), False
    for piece in _PIECES.finditer(mask):
        if piece.start() != at:
            break
        at = piece.end()
        word = piece[0]
        name = word.upper()
        if name == "FM":
            is_bare = not is_bare
        elif word in ("am", "pm"):
            raise CannotDraft("AM and PM in small letters")
        elif is_bare and name in _ZERO_FILLED:
            raise CannotDraft(f"{name} without a zero before it")
        elif is_bare and name in _BARE:
            text += _BARE[name]
        elif name in _ELEMENTS:
            if name in ("MONTH", "DAY") and not is_bare:
                raise CannotDraft("a name that is padded with blanks")
            if name in _NAMES:
                cases.add("UPPER" if word.isupper() else "LOWER" if word.islower() else "")
            text += _ELEMENTS[name]
        else:
            text += word.strip('"').replace("%", "%%")
    if at != len(mask) or len(cases) > 1:
        raise CannotDraft(f"the mask {mask}")
    return text, cases.pop() if cases else ""


def _quoted(text: str) -> str:
    doubled = text.replace("\\", "\\\\").replace("'", "''")
    return f"'{doubled}'"


def _formatted(value: str, mask: str) -> str:
    if mask.upper() == "D":
        return f"CAST(DAYOFWEEK({value}) AS CHAR)"
    percent, case = percent_mask_of(mask)
    text = f"DATE_FORMAT({value}, {_quoted(percent)})"
    return f"{case}({text})" if case else text


@fixer("text_by_mask")
def fix_text_by_mask(place: Found, rewriter: Rewriter) -> str:
    """TO_CHAR, TO_DATE, TO_TIMESTAMP and TO_NUMBER, with a mask or without one."""
    call = call_of(place)
    name, value = call.parts[-1], rewriter.node(call.arguments[0])
    mask = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else ""
    language = text_value(call.arguments[2], rewriter) if len(call.arguments) > 2 else ""
    if mask is None or language is None or (language and not ENGLISH.fullmatch(language)):
        raise CannotDraft("a mask that is not a constant, or of a language")
    if name == "TO_NUMBER" and not mask:
        return f"CAST({value} AS DECIMAL(38,10))"
    if name in ("TO_DATE", "TO_TIMESTAMP") and mask:
        return f"STR_TO_DATE({value}, {_quoted(percent_mask_of(mask)[0])})"
    kind = rewriter.types.family(call.arguments[0])
    if name in ("TO_CHAR", "VARCHAR_FORMAT") and kind in NUMBERS:
        return _number_text(value, mask)
    if name in ("TO_CHAR", "VARCHAR_FORMAT") and mask and kind in MOMENTS:
        return _formatted(value, mask)
    raise CannotDraft(f"{name.lower()} of a value whose kind is not known, or in the session's format")


def _number_text(value: str, mask: str) -> str:
    if not mask:
        return f"CAST({value} AS CHAR)"
    form = _NUMBER_MASK.fullmatch(mask)
    if form is None:
        raise CannotDraft(f"the mask {mask}")
    digits = len(form[1] or "")
    if "," in mask:
        return f"FORMAT({value}, {digits})"
    text = f"CAST(CAST({value} AS DECIMAL(38,{digits})) AS CHAR)"
    zeros = len(mask.partition(".")[0].partition("0")[2]) + 1  # from the first 0 on, digits are written
    if zeros < 2:
        return text
    bare = text.replace(f"CAST({value} AS", f"CAST(ABS({value}) AS", 1)
    width = zeros + (digits + 1 if digits else 0)
    return f"CONCAT(IF({value} < 0, '-', ''), LPAD({bare}, GREATEST({width}, CHAR_LENGTH({bare})), '0'))"


@fixer("cut_moment")
def fix_cut_moment(place: Found, rewriter: Rewriter) -> str:
    """TRUNC(date, unit)."""
    call = call_of(place)
    unit = _UNITS.get(truncate_unit(call, rewriter.subject) or "")
    if unit is None:
        raise CannotDraft("a unit that is not known")
    return _CUTS[unit].format(rewriter.node(call.arguments[0]))


@fixer("months_added")
def fix_months_added(place: Found, rewriter: Rewriter) -> str:
    """ADD_MONTHS: the last day of a month stays one."""
    call = call_of(place)
    if call.parts[-1] != "ADD_MONTHS":
        raise CannotDraft("months between two dates, with fractions")
    date, months = (rewriter.node(each) for each in call.arguments)
    if rewriter.types.family(call.arguments[1]) is Family.NUMBER:  # fractions are cut off
        months = f"TRUNCATE({months}, 0)"
    moved = f"{date} + INTERVAL ({months}) MONTH"
    if rewriter.types.family(call.arguments[0]) is Family.DATE and rewriter.catalog.engine != "oracle":
        return f"(CASE WHEN {date} = LAST_DAY({date}) THEN LAST_DAY({moved}) ELSE {moved} END)"
    return (
        f"(CASE WHEN DATE({date}) = LAST_DAY({date}) THEN TIMESTAMP(LAST_DAY({moved}), TIME({date})) ELSE {moved} END)"
    )


@fixer("rows_joined")
def fix_rows_joined(place: Found, rewriter: Rewriter) -> str:
    """LISTAGG and STRING_AGG, whose order moves inside."""
    call = call_of(place)
    separator = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else ""
    if separator is None or call.over is not None:
        raise CannotDraft("rows joined over a window, or by a separator that is not a constant")
    order, at = "", call.closing + 1
    if rewriter.words[at] == "WITHIN":
        close = closing_of(rewriter, at + 2)
        order, at = f" {rewriter.text(at + 3, close)}", close + 1
    if at < call.last:
        raise CannotDraft("rows joined over a window or by a filter")
    quantifier = "DISTINCT " if call.quantifier == "DISTINCT" else ""
    return f"GROUP_CONCAT({quantifier}{rewriter.node(call.arguments[0])}{order} SEPARATOR {_quoted(separator)})"


@fixer("part_of_moment")
def fix_part_of_moment(place: Found, rewriter: Rewriter) -> str:
    """DATEPART(unit, date) and DATENAME(unit, date); weeks begin on Sunday."""
    call = call_of(place)
    unit, date = unit_of(call.arguments[0], rewriter), rewriter.node(call.arguments[1])
    if call.parts[-1] == "DATENAME" and unit in ("month", "weekday"):
        return f"{'MONTHNAME' if unit == 'month' else 'DAYNAME'}({date})"
    if unit not in _PARTS:
        raise CannotDraft(f"the {unit} of a moment")
    part = _PARTS[unit].format(date)
    return f"CAST({part} AS CHAR)" if call.parts[-1] == "DATENAME" else part


@fixer("cast_by_style")
def fix_cast_by_style(place: Found, rewriter: Rewriter) -> str:
    """CONVERT(type, value), and with the number of a style for texts of moments."""
    node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("CONVERT in a form that is not known")
    value, kind = rewriter.node(node.value), rewriter.node(node.type)
    source, target = rewriter.types.family(node.value), rewriter.types.family(node)
    style = style_node(node, rewriter) if rewriter.words[node.value.last] == "," else None
    if source in MOMENTS and target is Family.TEXT:
        if style is None:
            raise CannotDraft("a moment as text in the session's language")
        text = _formatted(value, _mask_of(style, rewriter))
        length = re.fullmatch(r"CHAR\((\d+)\)", kind)
        return f"LEFT({text}, {length[1]})" if length else text
    if source is Family.TEXT and target in MOMENTS and style is not None:
        text = f"STR_TO_DATE({value}, {_quoted(percent_mask_of(_mask_of(style, rewriter))[0])})"
        return f"DATE({text})" if target is Family.DATE else text
    if style is not None or not source or (source is Family.TEXT and target in MOMENTS):
        raise CannotDraft("a style for a value of another kind")
    return f"CAST({value} AS {kind})"


def _mask_of(style: Node, rewriter: Rewriter) -> str:
    mask = STYLES.get(rewriter.subject.source(style))
    if mask is None:
        raise CannotDraft("a style of CONVERT that is not known")
    return mask


@fixer("greatest_word")
def fix_greatest_word(place: Found, rewriter: Rewriter) -> str:
    """MAX and MIN of several values."""
    call = call_of(place)
    return f"{'GREATEST' if call.parts[-1] == 'MAX' else 'LEAST'}({rewriter.nodes(call.arguments)})"


@fixer("regex_test")
def fix_regex_test(place: Found, rewriter: Rewriter) -> str:
    """REGEXP_LIKE, which minds case unless told otherwise."""
    call = call_of(place)
    value, pattern, *flags = call.arguments
    flag = text_value(flags[0], rewriter) if flags else "c"
    if flag not in ("c", "i"):
        raise CannotDraft("flags of a pattern other than i and c")
    if rewriter.target.engine == "mysql":
        return f"REGEXP_LIKE({rewriter.node(value)}, {rewriter.node(pattern)}, '{flag}')"
    option = "(?i)" if flag == "i" else "(?-i)"
    known = text_value(pattern, rewriter)
    if known is not None and re.search(r"(?<!\\)\$$", known):
        known = known[:-1] + r"\z"  # where $ would also fit before a line's end
    written = _quoted(option + known) if known is not None else f"CONCAT('{option}', {rewriter.node(pattern)})"
    return f"({rewriter.node(value)} REGEXP {written})"


@fixer("neighbour_or_default")
def fix_neighbour_or_default(place: Found, rewriter: Rewriter) -> str:
    """LAG(value, n, default) and LEAD, of which MariaDB takes no default."""
    call = call_of(place)
    value, count, default = (rewriter.node(each) for each in call.arguments)
    window = rewriter.text(call.closing + 1, call.last)
    near = f"{call.parts[-1]}({value}, {count}) {window}"
    if call.parts[-1] == "LAG":
        return f"(CASE WHEN ROW_NUMBER() {window} <= {count} THEN {default} ELSE {near} END)"
    if not rewriter.types.is_never_null(call.arguments[0]):
        raise CannotDraft("LEAD with a default, of values that may be NULL")
    return f"COALESCE({near}, {default})"
