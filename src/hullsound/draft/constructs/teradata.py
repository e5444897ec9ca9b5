"""What Teradata writes in a way of its own: QUALIFY, formats and types behind values, names of the select list, short words.

Source: Teradata Database, "SQL Data Manipulation Language" and "SQL Data Types and Literals", versions 16 and 17.
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sight.detector import Found
from hullsound.sql.literals import string_content
from hullsound.sql.tree import (
    Bind,
    Call,
    Cast,
    Clause,
    Comparison,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Row,
    Select,
    SelectItem,
)

from . import call_of, fixer
from .clocks import clock
from .dates import timestamp_of
from .teradata_names import _add_qualify

_SHORT: Final = {"SEL": "SELECT", "INS": "INSERT", "UPD": "UPDATE", "DEL": "DELETE"}
_COMPARED: Final = frozenset(
    ("=", "<>", "<", ">", "<=", ">=", "EQ", "NE", "LT", "LE", "GT", "GE", "^=", "IN", "BETWEEN")
)
_SESSION_WORDS: Final = {
    "DATE": "CURRENT_DATE", "TIME": "CURRENT_TIME", "SESSION": "pg_backend_pid()", "DATABASE": "current_schema()",
}  # fmt: skip
_UNITS: Final = ("DAY", "HOUR", "MINUTE", "SECOND")
_ELEMENT: Final = re.compile(
    r"(YYYY|Y4)|(YY|Y2)|(MMMM|M4)|(MMM|M3)|(MM)|(DDD|D3)|(DD)|(HH)|(MI)|(SS)|(T)|(B)|(E4|EEEE)|(E3|EEE)|([-/:., ])"
)
_WRITTEN: Final = (
    "YYYY", "YY", "FMMonth", "Mon", "MM", "DDD", "DD", "HH24", "MI", "SS", "AM", " ", "FMDay", "Dy",
)  # fmt: skip


# --- formats and types behind values ---


def mask_of(form: str) -> str:
    """Return to_char's pattern for a FORMAT of moments. Raises CannotDraft for other formats."""
    pattern, at = "", 0
    form = form.upper()
    while at < len(form):
        found = _ELEMENT.match(form, at)
        if found is None or found.lastindex is None:
            raise CannotDraft(f"the format {form[:30]}")
        pattern += found[0] if found.lastindex > len(_WRITTEN) else _WRITTEN[found.lastindex - 1]
        at = found.end()
    return pattern


def _format_in(first: int, last: int, rewriter: Rewriter) -> str:
    """Return the text behind FORMAT among some tokens; '' for none."""
    for at in range(first, last - 1):
        if rewriter.words[at] == "FORMAT":
            return string_content(rewriter.tokens.source(at + 1, at + 2), rewriter.catalog.engine)
    return ""


def _value_before(clause: Clause, rewriter: Rewriter) -> Node | None:
    """Return the value that a phrase in brackets stands behind."""
    ending = [
        n for n in rewriter.subject.read.nodes if n.last == clause.first and not isinstance(n, Clause | SelectItem)
    ]
    return min(ending, key=lambda node: node.first, default=None)


def _as_text(value: Node, form: str, kind: str, rewriter: Rewriter) -> str:
    """Write a moment as text by a FORMAT."""
    if rewriter.types.family(value) not in (Family.DATE, Family.TIMESTAMP, Family.UNKNOWN):
        raise CannotDraft("a number as text by a format")
    return f"CAST(to_char({timestamp_of(value, rewriter)}, {literal(mask_of(form))}) AS {kind})"


def _typed(clause: Clause, rewriter: Rewriter) -> str:
    """Return the target's type for the one that stands in brackets behind a value."""
    source = parse_type(rewriter.tokens.source(clause.first + 1, clause.last - 1))
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"the type {source}")
    return choice.text


@fixer("type_behind_value")
def fix_type_behind_value(place: Found, rewriter: Rewriter) -> str:
    """Write value (TYPE) as value::type; what a format stands before is written as a whole elsewhere."""
    clause = place.node
    assert isinstance(clause, Clause)
    value = _value_before(clause, rewriter)
    is_text = rewriter.words[clause.first + 1] in ("CHAR", "CHARACTER", "VARCHAR")
    if value is None or (is_text and rewriter.types.family(value) in (Family.DATE, Family.TIMESTAMP, Family.TIME)):
        raise CannotDraft("a moment as text without a format")
    return f"::{_typed(clause, rewriter)}"


@fixer("phrase_behind_value")
def fix_phrase_behind_value(place: Found, rewriter: Rewriter) -> str:
    """Leave out FORMAT and TITLE, which only say how a value is shown; write NAMED as an alias."""
    words = rewriter.words
    word = words[place.first + 1]
    if word == "NAMED":
        return f" AS {rewriter.names.write(words[place.first + 2])}"
    if word not in ("FORMAT", "TITLE", "CASESPECIFIC", "CS"):
        raise CannotDraft(f"{word} behind a value")
    return ""


@fixer("power_of")
def fix_power_of(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    assert isinstance(node, Operation)
    if len(node.operands) != 2:
        raise CannotDraft("several powers in a row")
    name = "mod" if node.operators[0] == "MOD" else "power"
    return f"{name}({rewriter.nodes(node.operands)})"


@fixer("short_word")
def fix_short_word(place: Found, rewriter: Rewriter) -> str:
    return _SHORT[rewriter.words[place.first]]


@fixer("text_function_of_teradata")
def fix_text_function(place: Found, rewriter: Rewriter) -> str:
    """Write OREPLACE and OTRANSLATE; texts that are left out mean that what is sought goes."""
    call = call_of(place)
    name = {"OREPLACE": "replace", "OTRANSLATE": "translate"}.get(call.parts[-1])
    if name is None or not 2 <= len(call.arguments) <= 3:
        raise CannotDraft(f"the function {call.parts[-1].lower()}")
    rest = "" if len(call.arguments) == 3 else ", ''"
    return f"{name}({rewriter.nodes(call.arguments)}{rest})"


@fixer("any_of_patterns")
def fix_any_of_patterns(place: Found, rewriter: Rewriter) -> str:
    """Write LIKE ANY ('a', 'b'); the list becomes an array elsewhere."""
    if rewriter.words[place.first + 2] != "(" or rewriter.words[place.first + 3] in ("SELECT", "SEL", "WITH"):
        raise CannotDraft("LIKE ANY over the rows of a query")
    return "LIKE ALL" if rewriter.words[place.first + 1] == "ALL" else "LIKE ANY"


def _add_lists_of_patterns(rewriter: Rewriter) -> None:
    """Make arrays of the lists behind LIKE ANY and LIKE ALL."""
    words, last = rewriter.words, rewriter.subject.read.last
    for at in range(rewriter.subject.read.first, last - 3):
        if words[at] != "LIKE" or words[at + 1] not in ("ANY", "SOME", "ALL") or words[at + 2] != "(":
            continue
        if words[at + 3] in ("SELECT", "SEL", "WITH"):
            continue
        depth, end = 0, at + 2
        while end < last:
            depth += (words[end] == "(") - (words[end] == ")")
            if depth == 0:
                break
            end += 1
        rewriter.replace(at + 2, at + 3, "(ARRAY[")
        rewriter.replace(end, end + 1, "])")


def add_session_words(rewriter: Rewriter) -> None:
    """Write DATE, TIME, SESSION and DATABASE, which stand alone for what the session knows; refuse what the target lacks."""
    target = rewriter.target.engine
    for name in rewriter.subject.all(Name):
        word = name.parts[0]
        if len(name.parts) > 1 or word not in _SESSION_WORDS or rewriter.catalog.columns_named(word):
            continue
        text = _SESSION_WORDS[word] if target == "postgresql" else clock(word, target)
        if text:
            rewriter.replace(name.first, name.last, text)
        else:
            rewriter.add(Point(name.first, name.last, partial(_refuse_word, word)))


def _refuse_word(word: str, _rewriter: Rewriter) -> str:
    raise CannotDraft(f"{word} alone, which stands for what the session knows")


def _add_dates_as_numbers(rewriter: Rewriter) -> None:
    """Write a number beside a date as the date that it means: year minus 1900, month, day (1240101)."""
    comparisons: list[Operation | Comparison] = [*rewriter.subject.all(Operation), *rewriter.subject.all(Comparison)]
    for node in comparisons:
        signs = node.operators if isinstance(node, Operation) else [node.operator]
        if not set(signs) <= _COMPARED or all(rewriter.types.family(each) is not Family.DATE for each in node.operands):
            continue
        for each in node.operands:
            for value in each.items if isinstance(each, Row) else [each]:
                digits = rewriter.subject.source(value) if isinstance(value, Literal) else ""
                if digits.isdigit():
                    day = str(int(digits) + 19000000)
                    rewriter.replace(value.first, value.last, f"DATE '{day[:-4]}-{day[-4:-2]}-{day[-2:]}'")


def _add_durations(rewriter: Rewriter) -> None:
    """Write (a - b) DAY TO SECOND as the difference, cut off at the last unit."""
    for node in rewriter.subject.all(Operation):
        bracket = node.operands[0] if len(node.operands) == 1 else None
        if isinstance(bracket, Paren) and bracket.last < node.last and rewriter.words[bracket.last] in _UNITS:
            rewriter.add(Point(node.first, node.last, partial(_duration, node, bracket), rank=2))


def _duration(node: Operation, bracket: Paren, rewriter: Rewriter) -> str:
    inner = bracket.inner
    ends = inner.operands if isinstance(inner, Operation) and inner.operators == ["-"] else []
    last = next(word for word in reversed(rewriter.words[bracket.last : node.last]) if word.isalpha())
    if (
        len(ends) != 2
        or any(rewriter.types.family(each) not in (Family.TIMESTAMP, Family.UNKNOWN) for each in ends)
        or last not in _UNITS
    ):
        raise CannotDraft("a duration in years or months, or of something that is no timestamp")
    text = rewriter.node(bracket)
    return text if last == "SECOND" else f"date_trunc('{last.lower()}', {text})"


def _add_conversions(rewriter: Rewriter) -> None:
    """Write TO_NUMBER and TO_CHAR of one value as casts."""
    for call in rewriter.subject.all(Call):
        kind = {"TO_NUMBER": "numeric", "TO_CHAR": "text"}.get(call.parts[-1])
        if kind is None or len(call.arguments) != 1:
            continue
        is_moment = kind == "text" and rewriter.types.family(call.arguments[0]) in (
            Family.DATE,
            Family.TIMESTAMP,
            Family.TIME,
        )
        rewriter.add(Point(call.first, call.last, partial(_converted, call, "" if is_moment else kind)))


def _converted(call: Call, kind: str, rewriter: Rewriter) -> str:
    if not kind:
        raise CannotDraft("a moment as text without a format")
    return f"CAST({rewriter.node(call.arguments[0])} AS {kind})"


# --- names of the select list ---


# --- QUALIFY ---


# --- structure ---


def add_teradata_points(rewriter: Rewriter) -> None:
    """Add the points of what Teradata writes in a way of its own, whatever construct it belongs to."""
    subject = rewriter.subject
    if any(clause.name == "using-request" for clause in subject.all(Clause)):
        raise CannotDraft("values that a client's record gives")
    _add_qualify(rewriter)
    _add_lists_of_patterns(rewriter)
    add_session_words(rewriter)
    _add_dates_as_numbers(rewriter)
    _add_conversions(rewriter)
    _add_durations(rewriter)
    for block in subject.all(Select):
        if rewriter.words[block.first] == "SEL":
            rewriter.replace(block.first, block.first + 1, "SELECT")
    for bind in subject.all(Bind):
        if not bind.parts[0].isdigit():
            rewriter.replace(bind.first, bind.last, ".".join(map(rewriter.names.write, bind.parts)))
    clauses = {clause.first: clause for clause in subject.all(Clause) if clause.name == "attribute-cast"}
    for phrase in subject.all(Clause):
        is_cast = phrase.name == "cast-format"
        form = _format_in(phrase.first, phrase.last, rewriter) if is_cast or phrase.name == "attribute-phrase" else ""
        kind = clauses.get(phrase.last)
        value = _value_of(phrase, is_cast=is_cast, rewriter=rewriter)
        if form and kind is not None and value is not None and rewriter.words[kind.first + 1] in ("CHAR", "VARCHAR"):
            rewriter.add(Point(min(phrase.first, value.first), kind.last, partial(_shown, value, form, kind), rank=3))
        elif phrase.name == "attribute-cast" and _cuts(phrase, rewriter):
            value = _value_before(phrase, rewriter)
            if value is not None:
                rewriter.add(Point(value.first, phrase.last, partial(_cut, value, phrase), rank=3))
        elif is_cast and value is not None:
            rewriter.add(Point(phrase.first, phrase.last, partial(_bare, value), rank=3))
    for cast in subject.all(Cast):
        form = _format_in(cast.value.first, cast.last, rewriter)
        if form:
            rewriter.add(Point(cast.first, cast.last, partial(_cast_by_format, cast, form), rank=3))


def _value_of(phrase: Clause, *, is_cast: bool, rewriter: Rewriter) -> Node | None:
    if not is_cast:
        return _value_before(phrase, rewriter)
    inside = [n for n in rewriter.subject.read.nodes if n.first == phrase.first + 2 and n.last < phrase.last]
    return max(inside, key=lambda node: node.last, default=None)


def _shown(value: Node, form: str, kind: Clause, rewriter: Rewriter) -> str:
    return _as_text(value, form, _typed(kind, rewriter), rewriter)


def _cuts(phrase: Clause, rewriter: Rewriter) -> bool:
    """Whether a number loses its fraction, which PostgreSQL would round."""
    value = _value_before(phrase, rewriter)
    is_number = value is not None and rewriter.types.family(value) is Family.NUMBER
    return is_number and rewriter.words[phrase.first + 1] in ("INTEGER", "INT", "SMALLINT", "BYTEINT", "BIGINT")


def _cut(value: Node, phrase: Clause, rewriter: Rewriter) -> str:
    return f"CAST(trunc({rewriter.node(value)}) AS {_typed(phrase, rewriter)})"


def _bare(value: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(value)})"


def _cast_by_format(cast: Cast, form: str, rewriter: Rewriter) -> str:
    """Write CAST (moment (FORMAT '...') AS VARCHAR (n)) and CAST (text AS DATE FORMAT '...')."""
    value = cast.value
    while isinstance(value, Paren):
        value = value.inner
    if cast.type.name in ("CHAR", "VARCHAR", "CHARACTER"):
        choice = choose_type(rewriter.catalog.engine, parse_type(rewriter.subject.source(cast.type)), rewriter.target)
        return _as_text(value, form, choice.text if choice is not None else "text", rewriter)
    if cast.type.name not in ("DATE", "TIMESTAMP"):
        raise CannotDraft("a conversion by a format")
    if rewriter.types.family(value) in MOMENTS:
        return f"CAST({rewriter.node(value)} AS {cast.type.name.lower()})"  # the format only says how it is shown
    if rewriter.types.family(value) not in (Family.TEXT, Family.UNKNOWN):
        raise CannotDraft("a conversion by a format")
    read = f"to_timestamp({rewriter.node(value)}, {literal(mask_of(form))})"
    return f"CAST({read} AS {cast.type.name.lower()})"


_CALENDAR: Final = {
    "TD_DAY_OF_MONTH": "DAY", "TD_DAY_OF_YEAR": "DOY", "TD_MONTH_OF_YEAR": "MONTH", "TD_QUARTER_OF_YEAR": "QUARTER",
    "TD_YEAR_OF_CALENDAR": "YEAR",
}  # fmt: skip


@fixer("calendar_part")
def fix_calendar_part(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    return f"CAST(EXTRACT({_CALENDAR[call.parts[-1]]} FROM {rewriter.node(call.arguments[0])}) AS integer)"
