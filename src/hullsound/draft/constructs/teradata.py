"""What Teradata writes in a way of its own: QUALIFY, formats and types behind values, names of the select list, short words.

Source: Teradata Database, "SQL Data Manipulation Language" and "SQL Data Types and Literals", versions 16 and 17.
"""

from functools import partial
from typing import Final

from hullsound.analyze.choices import listed
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.spellings import SHORT_WORDS
from hullsound.sight.detector import Found
from hullsound.sql.tree import (
    Bind,
    Call,
    Clause,
    Comparison,
    Literal,
    Name,
    Operation,
    Paren,
    Select,
)

from . import fixer
from .clocks import clock
from .teradata_formats import add_formats
from .teradata_functions import has_loose_pattern, tests_of_patterns
from .teradata_names import add_qualify

_COMPARED: Final = frozenset(
    ("=", "<>", "<", ">", "<=", ">=", "EQ", "NE", "LT", "LE", "GT", "GE", "^=", "IN", "BETWEEN")
)
_SESSION_WORDS: Final = {
    "DATE": "CURRENT_DATE", "TIME": "CURRENT_TIME", "SESSION": "pg_backend_pid()", "DATABASE": "current_schema()",
}  # fmt: skip
_UNITS: Final = ("DAY", "HOUR", "MINUTE", "SECOND")


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
    return SHORT_WORDS[rewriter.words[place.first]]


@fixer("any_of_patterns")
def fix_any_of_patterns(place: Found, rewriter: Rewriter) -> str:
    """Write LIKE ANY ('a', 'b'): on PostgreSQL the list becomes an array, on other targets the whole several tests."""
    if rewriter.target.engine != "postgresql":
        return rewriter.text(place.first, place.last)
    if rewriter.words[place.first + 2] != "(" or rewriter.words[place.first + 3] in ("SELECT", "SEL", "WITH"):
        raise CannotDraft("LIKE ANY over the rows of a query")
    tests = (test for test in rewriter.subject.all(Comparison) if test.first < place.first < test.last)
    is_loose = any(has_loose_pattern(test, rewriter) for test in tests)
    word = "ILIKE" if is_loose else "LIKE"
    return f"{word} ALL" if rewriter.words[place.first + 1] == "ALL" else f"{word} ANY"


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
            for value in listed(each):
                digits = rewriter.subject.source(value) if isinstance(value, Literal) else ""
                if digits.isdigit():
                    day = str(int(digits) + 19000000)
                    text = f"'{day[:-4]}-{day[-4:-2]}-{day[-2:]}'"
                    is_cast = rewriter.target.engine == "sqlserver"
                    rewriter.replace(value.first, value.last, f"CAST({text} AS date)" if is_cast else f"DATE {text}")


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


# --- structure ---


def _is_of_several(test: Comparison) -> bool:
    behind = test.operands[1]
    return isinstance(behind, Operation) and behind.operators[0] in ("ANY", "SOME", "ALL")


def add_teradata_values(rewriter: Rewriter) -> None:
    """Add what every target gets: words of the session, numbers that mean dates, formats and types behind values."""
    add_qualify(rewriter)
    add_session_words(rewriter)
    _add_dates_as_numbers(rewriter)
    add_formats(rewriter)
    for block in rewriter.subject.all(Select):
        if rewriter.words[block.first] == "SEL":
            rewriter.replace(block.first, block.first + 1, "SELECT")
    if rewriter.target.engine != "postgresql":
        for test in rewriter.subject.all(Comparison):
            if test.operator == "LIKE" and _is_of_several(test):
                rewriter.wrap(test, partial(tests_of_patterns, test), rank=7)


def add_teradata_points(rewriter: Rewriter) -> None:
    """Add the points of what Teradata writes in a way of its own, whatever construct it belongs to."""
    subject = rewriter.subject
    if any(clause.name == "using-request" for clause in subject.all(Clause)):
        raise CannotDraft("values that a client's record gives")
    _add_lists_of_patterns(rewriter)
    add_teradata_values(rewriter)
    _add_conversions(rewriter)
    _add_durations(rewriter)
    for bind in subject.all(Bind):
        if not bind.parts[0].isdigit():
            rewriter.replace(bind.first, bind.last, ".".join(map(rewriter.names.write, bind.parts)))
