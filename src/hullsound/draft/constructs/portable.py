"""Fixers for MySQL, MariaDB, SQL Server and Oracle as targets: dates that are moved and compared, texts, counts, sequences."""

import re
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.casts import cast_in_words, check_texts, text_operand
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.pieces import NumberForm
from hullsound.draft.masks.writing import moment_operand, write_number
from hullsound.sight.detector import Found
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Call, Cast, Literal, NamedArgument, Node, Operation, TypedLiteral

from . import call_of, fixer
from .dates import interval_parts, unit_of

_MYSQL: Final = ("mysql", "mariadb")
_CUT: Final = {
    "hour": "HOUR({0}), 0, 0",
    "minute": "HOUR({0}), MINUTE({0}), 0",
    "second": "HOUR({0}), MINUTE({0}), SECOND({0})",
}
"""What is kept of a moment's time in MySQL, so that whole borders are counted as SQL Server counts them."""
_INTERVALS: Final = {"day": "DAY", "hour": "HOUR", "minute": "MINUTE", "second": "SECOND"}
_JSON_SINCE: Final = 2022
"""Version of SQL Server that builds JSON by functions."""
_PLACES: Final = re.compile(r"(%.?)", re.DOTALL)
"""A percent sign of a pattern that is filled, with the character behind it."""
_MOST_DIGITS: Final = 20
_POINT_AND_COMMA: Final = "'NLS_NUMERIC_CHARACTERS=''.,'''"
_MONTHS: Final = {"month": 1, "quarter": 3, "year": 12}
_SPAN_UNITS: Final = {
    "YEARS": "year", "MONTHS": "month", "WEEKS": "week", "DAYS": "day", "HOURS": "hour", "MINS": "minute", "SECS": "second",
}  # fmt: skip
"""Names of the parts of MAKE_INTERVAL, in the order in which they move a moment."""


def shifted(date: str, amount: str, unit: str, rewriter: Rewriter) -> str:
    """Write a date moved by so many units. Raises CannotDraft for a unit that the target does not move by."""
    engine = rewriter.target.engine
    if engine in _MYSQL and unit == "millisecond":
        return f"TIMESTAMPADD(MICROSECOND, ({amount}) * 1000, {date})"
    if engine in _MYSQL:
        return f"TIMESTAMPADD({unit.upper()}, {amount}, {date})"
    if engine == "sqlserver":
        return f"DATEADD({unit}, {amount}, {date})"
    if unit in _MONTHS:
        return _months_of_oracle(date, f"({amount}) * {_MONTHS[unit]}" if unit != "month" else amount)
    if unit in _INTERVALS or unit == "week":
        number = f"({amount}) * 7" if unit == "week" else amount
        return f"({date} + NUMTODSINTERVAL({number}, '{_INTERVALS.get(unit, 'DAY')}'))"
    raise CannotDraft(f"a date moved by {unit}s")


def _months_of_oracle(date: str, months: str) -> str:
    """Move a date by months and keep its day, or take the last day of a shorter month.

    ADD_MONTHS alone makes the last day of a month that of another ("SQL Language Reference", ADD_MONTHS).
    """
    first = f"ADD_MONTHS(TRUNC({date}, 'MM'), {months})"
    day = f"LEAST(EXTRACT(DAY FROM {date}), EXTRACT(DAY FROM LAST_DAY({first})))"
    return f"({date} + NUMTODSINTERVAL({first} + {day} - 1 - TRUNC({date}), 'DAY'))"


@fixer("date_shifted")
def fix_date_shifted(place: Found, rewriter: Rewriter) -> str:
    """DATEADD(unit, n, date) and TIMESTAMPADD(unit, n, date)."""
    unit, amount, date = call_of(place).arguments
    count = rewriter.node(amount)
    if rewriter.target.engine in _MYSQL and rewriter.types.family(amount) is Family.NUMBER:
        count = f"TRUNCATE({count}, 0)"
    return shifted(_moment(date, rewriter), count, unit_of(unit, rewriter), rewriter)


def _moment(node: Node, rewriter: Rewriter) -> str:
    """Write a moment; the T-SQL family takes a number for so many days after 1 January 1900."""
    text = rewriter.node(node)
    if rewriter.target.engine == "oracle":
        return moment_operand(node, rewriter)
    if rewriter.target.engine not in _MYSQL or rewriter.types.family(node) not in NUMBERS:
        return text
    return "CAST('1900-01-01' AS DATETIME)" if text == "0" else f"TIMESTAMPADD(DAY, {text}, '1900-01-01')"


@fixer("interval_and_date")
def fix_interval_and_date(place: Found, rewriter: Rewriter) -> str:
    """A date plus or minus INTERVAL n UNIT."""
    node = place.node
    around = next(
        (o for o in rewriter.subject.all(Operation) if node in o.operands and o.operators in (["+"], ["-"])), None
    )
    if around is not None or not isinstance(node, Operation) or node.operators[:1] not in (["+"], ["-"]):
        raise CannotDraft("an interval that stands by itself")
    date, span = node.operands
    if not isinstance(span, Operation) or span.operators != ["INTERVAL"]:
        raise CannotDraft("an interval that stands by itself")
    amount, unit = interval_parts(span, rewriter)
    text = rewriter.node(amount)
    return shifted(rewriter.node(date), f"-({text})" if node.operators == ["-"] else text, unit, rewriter)


@fixer("moved_by_numbers")
def fix_moved_by_numbers(place: Found, rewriter: Rewriter) -> str:
    """A timestamp plus or minus MAKE_INTERVAL(days => n) of PostgreSQL."""
    node = place.node
    if not isinstance(node, Operation) or rewriter.types.family(node.operands[0]) is not Family.TIMESTAMP:
        raise CannotDraft("a span by itself, or one that moves something else than a timestamp")
    span, text = node.operands[1], rewriter.node(node.operands[0])
    assert isinstance(span, Call)
    amounts: dict[str, str] = {}
    for part in span.arguments:
        if not isinstance(part, NamedArgument) or part.name not in _SPAN_UNITS:
            raise CannotDraft("a span of numbers without names")
        if rewriter.types.family(part.value) is not Family.INTEGER:
            raise CannotDraft("a span of fractions")
        amounts[part.name] = rewriter.node(part.value)
    if {"YEARS", "MONTHS"} <= set(amounts):
        raise CannotDraft("a span of years and months, which count together")
    for name, unit in _SPAN_UNITS.items():
        if name in amounts:
            amount = amounts[name]
            text = shifted(text, f"-({amount})" if node.operators == ["-"] else amount, unit, rewriter)
    return text


@fixer("borders_between")
def fix_borders_between(place: Found, rewriter: Rewriter) -> str:
    """DATEDIFF(unit, a, b) of SQL Server, which counts the borders of units that are crossed."""
    unit_node, first, last = call_of(place).arguments
    unit = unit_of(unit_node, rewriter)
    a, b = _moment(first, rewriter), _moment(last, rewriter)
    if rewriter.target.engine not in _MYSQL:
        raise CannotDraft("a count of borders between dates")
    if unit == "day":
        return f"DATEDIFF({b}, {a})"
    if unit == "year":
        return f"(YEAR({b}) - YEAR({a}))"
    if unit == "quarter":
        return f"((YEAR({b}) - YEAR({a})) * 4 + QUARTER({b}) - QUARTER({a}))"
    if unit == "week":  # which begins on Sunday, whatever DATEFIRST says
        return f"((TO_DAYS({b}) - 1) DIV 7 - (TO_DAYS({a}) - 1) DIV 7)"
    if unit == "month":
        return f"((YEAR({b}) - YEAR({a})) * 12 + MONTH({b}) - MONTH({a}))"
    if unit in _CUT:
        cut = [f"TIMESTAMP(DATE({each}), MAKETIME({_CUT[unit].format(each)}))" for each in (a, b)]
        return f"TIMESTAMPDIFF({unit.upper()}, {', '.join(cut)})"
    raise CannotDraft(f"the {unit}s between dates")


@fixer("texts_joined")
def fix_texts_joined(place: Found, rewriter: Rewriter) -> str:
    """CONCAT(a, b): with + and || NULL counts as the target has it."""
    check_texts(call_of(place).arguments, rewriter)
    values = [text_operand(each, rewriter) for each in call_of(place).arguments]
    if rewriter.target.engine == "oracle":
        return f"({' || '.join(values)})"
    return "(" + " + ".join(f"CAST({value} AS nvarchar(max))" for value in values) + ")"


@fixer("filled_places")
def fix_filled_places(place: Found, rewriter: Rewriter) -> str:
    """FORMAT('a %s b', value) of PostgreSQL, in which NULL counts as empty (PostgreSQL 18, "format")."""
    pattern, *values = call_of(place).arguments
    if not isinstance(pattern, Literal) or pattern.form != "string":
        raise CannotDraft("a pattern that is known only as it runs")
    parts = [""]
    rest = iter(values)
    for piece in _PLACES.split(string_content(rewriter.subject.source(pattern), rewriter.catalog.engine)):
        if piece == "%s" and (value := next(rest, None)) is not None:
            parts += [_filling(value, rewriter), ""]
        elif piece[:1] == "%" and piece != "%%":
            raise CannotDraft("a pattern with other places than %s, or more of them than values")
        else:
            parts[-1] += "%" if piece == "%%" else piece
    if rewriter.target.engine == "oracle" and not any(parts[::2]):
        raise CannotDraft("a text that may be empty, which is NULL there")
    written = [rewriter.names.text(part) if place % 2 == 0 else part for place, part in enumerate(parts) if part]
    if rewriter.target.engine == "oracle":
        return f"({' || '.join(written)})"
    return f"CONCAT({', '.join(written if len(written) > 1 else [*written, rewriter.names.text('')])})"


_PRINTED: Final = re.compile(r"%(0?)(\d*)(?:\.(\d+))?([dsfi%])|([^%]+)")


@fixer("printed_text")
def fix_printed_text(place: Found, rewriter: Rewriter) -> str:
    """PRINTF of SQLite with places for whole numbers, texts and fractions; NULL counts as empty, or as 0."""
    pattern, *values = call_of(place).arguments
    text, rest = text_value(pattern, rewriter), iter(values)
    if text is None or "".join(match[0] for match in _PRINTED.finditer(text)) != text:
        raise CannotDraft("PRINTF by a pattern that is not a constant, or in a form that is not known")
    if rewriter.target.engine == "oracle":
        raise CannotDraft("a text that may be empty, which is NULL there")
    pieces = []
    for zero, width, digits, letter, plain in _PRINTED.findall(text):
        if plain or letter == "%":
            pieces.append(rewriter.names.text(plain or "%"))
            continue
        value = next(rest, None)
        if value is None or (width and not zero):
            raise CannotDraft("PRINTF with fewer values than places, or a width without zeros")
        pieces.append(_printed(value, letter, width, digits, rewriter))
    return f"CONCAT({', '.join(pieces if len(pieces) > 1 else [*pieces, rewriter.names.text('')])})"


def _printed(value: Node, letter: str, width: str, digits: str, rewriter: Rewriter) -> str:
    family = rewriter.types.family(value)
    if letter == "s" and not width:
        return _filling(value, rewriter)
    if letter == "f" and family in NUMBERS and not width:
        count = int(digits or 6)
        nothing = f"0.{'0' * count}" if count else "0"
        return f"COALESCE({write_number(value, NumberForm(0, 1, count, count), rewriter)}, '{nothing}')"
    if letter in "di" and family is Family.INTEGER:
        least = int(width or 1)
        return f"COALESCE({write_number(value, NumberForm(0, least, 0, 0), rewriter)}, '{'0' * least}')"
    raise CannotDraft("PRINTF of a value of another kind than its place")


def _filling(value: Node, rewriter: Rewriter) -> str:
    if rewriter.types.family(value) not in (Family.TEXT, Family.INTEGER):
        raise CannotDraft("a value that is neither a text nor a whole number, in a text that is filled")
    kind = rewriter.types.source_type(value)
    if rewriter.target.engine not in _MYSQL:
        return rewriter.node(value)
    if kind is not None and kind.name in ("CHAR", "CHARACTER", "BPCHAR"):
        raise CannotDraft("a text of fixed length, whose blanks the target drops")
    return rewriter.node(value) if isinstance(value, Literal) else f"COALESCE({rewriter.node(value)}, '')"


@fixer("rows_changed")
def fix_rows_changed(place: Found, rewriter: Rewriter) -> str:
    """The number of rows that the statement right before has changed."""
    if rewriter.catalog.engine in _MYSQL and rewriter.target.engine not in _MYSQL:
        rewriter.rendered.append(("convert.found-rows", place.first))
    if rewriter.target.engine in _MYSQL:
        return "ROW_COUNT()"
    return "@@ROWCOUNT" if rewriter.target.engine == "sqlserver" else "SQL%ROWCOUNT"


@fixer("cast_by_word")
def fix_cast_by_word(place: Found, rewriter: Rewriter) -> str:
    """value::type of PostgreSQL."""
    node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("a cast in a form that is not known")
    return cast_in_words(node, rewriter) or f"CAST({rewriter.node(node.value)} AS {rewriter.node(node.type)})"


@fixer("number_cut")
def fix_number_cut(place: Found, rewriter: Rewriter) -> str:
    """TRUNC(number, digits) of Oracle."""
    call = call_of(place)
    if rewriter.types.family(call.arguments[0]) not in NUMBERS:
        raise CannotDraft("TRUNC of a value whose kind is not known")
    digits = rewriter.node(call.arguments[1]) if len(call.arguments) > 1 else "0"
    number = rewriter.node(call.arguments[0])
    return f"ROUND({number}, {digits}, 1)" if rewriter.target.engine == "sqlserver" else f"TRUNCATE({number}, {digits})"


@fixer("grouped_number")
def fix_grouped_number(place: Found, rewriter: Rewriter) -> str:
    """FORMAT(number, digits) of MySQL: groups of three with commas, and a point."""
    number, digits = call_of(place).arguments
    count = rewriter.subject.source(digits)
    if not count.isdecimal() or int(count) > _MOST_DIGITS or rewriter.types.family(number) not in NUMBERS:
        raise CannotDraft("digits behind the point that are no constant, or of something that is no number")
    if rewriter.target.engine == "sqlserver":
        return f"FORMAT({rewriter.node(number)}, 'N{count}', 'en-US')"
    mask = "FM" + "999G" * 6 + "990" + ("D" + "0" * int(count) if int(count) else "")
    return f"TO_CHAR({rewriter.node(number)}, '{mask}', {_POINT_AND_COMMA})"


@fixer("months_kept")
def fix_months_kept(place: Found, rewriter: Rewriter) -> str:
    """ADD_MONTHS of Teradata, which keeps the day of the month; for Oracle."""
    date, months = (rewriter.node(each) for each in call_of(place).arguments)
    return shifted(date, months, "month", rewriter)


@fixer("json_pairs")
def fix_json_pairs(place: Found, rewriter: Rewriter) -> str:
    """A JSON object of keys and values in turn, or an array, as Oracle and SQL Server write them."""
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    engine, version = rewriter.target.engine, rewriter.target.version
    if engine == "sqlserver" and version < _JSON_SINCE:
        raise CannotDraft("JSON that is built, before version 2022")
    if call.parts[-1].endswith("ARRAY"):
        return f"JSON_ARRAY({', '.join(values)} NULL ON NULL)" if values else "JSON_ARRAY()"
    if not call.parts[-1].endswith("OBJECT") or len(values) % 2:
        raise CannotDraft("JSON that is built in another form")
    sign = ":" if engine == "sqlserver" else " VALUE"
    pairs = [f"{key}{sign} {value}" for key, value in zip(values[::2], values[1::2], strict=True)]
    return f"JSON_OBJECT({', '.join(pairs)})"


_LITERALS: Final = {"DATE": "date", "TIME": "time", "TIMESTAMP": "datetime2"}


@fixer("typed_literal")
def fix_typed_literal(place: Found, rewriter: Rewriter) -> str:
    """A date or time as a constant, which SQL Server casts. An offset in the text asks for datetimeoffset.

    Raises CannotDraft for a zone by its name.
    """
    literal = place.node
    assert isinstance(literal, TypedLiteral)
    text = rewriter.tokens.source(literal.last - 1, literal.last)
    kind = _LITERALS[literal.form]
    if re.search(r"[A-Za-z]'$", text):
        raise CannotDraft("a moment in a zone that is given by its name")
    if kind == "datetime2" and re.search(r"[+-]\d\d?:\d\d'$", text):
        kind = "datetimeoffset"
    return f"CAST({text} AS {kind})"
