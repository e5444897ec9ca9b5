"""Functions of Teradata that targets write as expressions: tokens, patterns that fit as a whole, sums over rows, parts of dates.

Source: Teradata Database, "SQL Functions, Operators, Expressions, and Predicates", versions 16 and 17.
"""

import re
from typing import Final

from hullsound.draft.conversions.case import ignores_case, may_differ
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Comparison, Node, Operation, Paren, Row, Select

from . import call_of, fixer
from .dates import timestamp_of

_MYSQL: Final = ("mysql", "mariadb")
_CLASS_SIGNS: Final = re.compile(r"([\\\]^-])")
_PATTERNS_SINCE: Final = 15
"""Version of PostgreSQL that has regexp_substr."""
_PARTS: Final = {
    "TD_DAY_OF_MONTH": ("EXTRACT(DAY FROM {0})", "DAYOFMONTH({0})", "DAY({0})", "EXTRACT(DAY FROM {0})"),
    "TD_DAY_OF_YEAR": ("EXTRACT(DOY FROM {0})", "DAYOFYEAR({0})", "DATEPART(dayofyear, {0})", "TO_NUMBER(TO_CHAR({0}, 'DDD'))"),
    "TD_MONTH_OF_YEAR": ("EXTRACT(MONTH FROM {0})", "MONTH({0})", "MONTH({0})", "EXTRACT(MONTH FROM {0})"),
    "TD_QUARTER_OF_YEAR": (
        "EXTRACT(QUARTER FROM {0})", "QUARTER({0})", "DATEPART(quarter, {0})", "TO_NUMBER(TO_CHAR({0}, 'Q'))",
    ),
    "TD_YEAR_OF_CALENDAR": ("EXTRACT(YEAR FROM {0})", "YEAR({0})", "YEAR({0})", "EXTRACT(YEAR FROM {0})"),
    "TD_DAY_OF_WEEK": (
        "EXTRACT(DOW FROM {0}) + 1", "DAYOFWEEK({0})", "((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7 + 1)",
        "(MOD(TRUNC({0}) - TRUNC({0}, 'IW') + 1, 7) + 1)",
    ),
}  # fmt: skip
"""Parts of dates on PostgreSQL, MySQL and MariaDB, SQL Server, Oracle."""
_COLUMNS: Final = {"postgresql": 0, "mysql": 1, "mariadb": 1, "sqlserver": 2, "oracle": 3}


@fixer("calendar_part")
def fix_calendar_part(place: Found, rewriter: Rewriter) -> str:
    """TD_DAY_OF_MONTH(date) and its like."""
    call = call_of(place)
    if len(call.arguments) != 1:
        raise CannotDraft("a part of a date by a calendar that is named")
    engine = rewriter.target.engine
    value = timestamp_of(call.arguments[0], rewriter) if engine == "postgresql" else rewriter.node(call.arguments[0])
    text = _PARTS[call.parts[-1]][_COLUMNS[engine]].format(value)
    return f"CAST({text} AS integer)" if engine == "postgresql" else text


@fixer("token_of_text")
def fix_token_of_text(place: Found, rewriter: Rewriter) -> str:
    """STRTOK(text, separators, n): separators in a row count as one; NULL beyond the last piece."""
    text, *more = call_of(place).arguments
    signs = text_value(more[0], rewriter) if more else " "
    number = rewriter.node(more[1]) if len(more) > 1 else "1"
    engine = rewriter.target.engine
    if not signs or engine == "mariadb" or (engine == "postgresql" and rewriter.target.version < _PATTERNS_SINCE):
        raise CannotDraft(
            "a token of a text by separators that are no constant, or on a target that finds the first one alone"
        )
    pattern = rewriter.names.text(f"[^{_in_brackets(signs, engine)}]+")
    name = "regexp_substr" if engine == "postgresql" else "REGEXP_SUBSTR"
    return f"{name}({rewriter.node(text)}, {pattern}, 1, {number})"


def _in_brackets(signs: str, engine: str) -> str:
    """Write characters as those of a class. A backslash stands for itself between brackets in Oracle, where the place escapes."""
    if engine == "oracle":
        return "".join(sorted(signs, key=lambda sign: (sign != "]", sign == "[", sign == "-")))
    return _CLASS_SIGNS.sub(r"\\\1", signs)


@fixer("whole_regex_test")
def fix_whole_regex_test(place: Found, rewriter: Rewriter) -> str:
    """REGEXP_SIMILAR(text, pattern) as 1 or 0."""
    call = call_of(place)
    pattern = text_value(call.arguments[1], rewriter) if len(call.arguments) == 2 else None
    if pattern is None:
        raise CannotDraft("a pattern that is no constant, or flags")
    text, whole = rewriter.node(call.arguments[0]), rewriter.names.text(f"^({pattern})$")
    if rewriter.target.engine == "postgresql":
        return f"CAST(({text} ~ {whole}) AS integer)"
    if rewriter.target.engine in _MYSQL:
        return f"({text} REGEXP {whole})"
    return f"(CASE WHEN REGEXP_LIKE({text}, {whole}) THEN 1 WHEN {text} IS NOT NULL THEN 0 END)"


@fixer("text_alone")
def fix_text_alone(place: Found, rewriter: Rewriter) -> str:
    """TRANSLATE(text USING one_TO_another): every target has one character set for all texts."""
    call = call_of(place)
    if len(call.arguments) != 1 or "USING" not in rewriter.words[call.opening : call.closing]:
        raise CannotDraft("TRANSLATE in a form that is not known")
    if "WITH" in rewriter.words[call.opening : call.closing]:
        raise CannotDraft("characters that become a sign for an error")
    return rewriter.node(call.arguments[0])


# --- rows before ---


@fixer("old_window")
def fix_old_window(place: Found, rewriter: Rewriter) -> str:
    """CSUM(value, order), MSUM(value, width, order) and MAVG(value, width, order) as window functions."""
    call = call_of(place)
    name = {"CSUM": "SUM", "MSUM": "SUM", "MAVG": "AVG"}.get(call.parts[-1], "")
    value, *more = call.arguments
    width = "" if call.parts[-1] == "CSUM" else rewriter.subject.source(more.pop(0)) if more else "?"
    if not name or not more or (width and (not width.isdigit() or int(width) < 1)) or _is_grouped(call, rewriter):
        raise CannotDraft(f"{call.parts[-1]} over groups, or of a width that is no constant")
    order = rewriter.text(more[0].first, call.closing).strip()
    before = f"{int(width) - 1} PRECEDING" if width else "UNBOUNDED PRECEDING"
    written = rewriter.node(value)
    if name == "AVG" and rewriter.target.engine == "sqlserver":
        written = f"CAST({written} AS float)"
    return f"{name}({written}) OVER (ORDER BY {order} ROWS {before})"


def _is_grouped(call: Call, rewriter: Rewriter) -> bool:
    around = [each for each in rewriter.subject.all(Select) if each.first <= call.first and call.last <= each.last]
    return any("GROUP" in rewriter.words[each.first : each.last] for each in around)


# --- lists of patterns ---


def several_patterns(test: Comparison) -> tuple[str, list[Node]] | None:
    """Return ANY or ALL and the patterns of LIKE ANY ('a', 'b'); None for another test, or for the rows of a query."""
    list_of = test.operands[1] if len(test.operands) == 2 else None
    if (
        test.operator != "LIKE"
        or not isinstance(list_of, Operation)
        or list_of.operators[0] not in ("ANY", "SOME", "ALL")
    ):
        return None
    (among,) = list_of.operands
    if isinstance(among, Row):
        return list_of.operators[0], among.items
    return (list_of.operators[0], [among.inner]) if isinstance(among, Paren) else None


def tests_of_patterns(test: Comparison, rewriter: Rewriter) -> str:
    """Write LIKE ANY or ALL as several LIKE. Raises CannotDraft for the rows of a query."""
    known = several_patterns(test)
    if known is None:
        raise CannotDraft("LIKE ANY over the rows of a query")
    kind, patterns = known
    value, word = rewriter.node(test.operands[0]), "NOT LIKE" if test.negated else "LIKE"
    texts = [rewriter.node(each) for each in patterns]
    if rewriter.target.engine == "oracle" and has_loose_pattern(test, rewriter):
        value, texts = f"LOWER({value})", [f"LOWER({each})" for each in texts]
    # NOT LIKE ANY holds where one pattern does not fit, NOT LIKE ALL where none does.
    joint = " AND " if kind == "ALL" else " OR "
    return f"({joint.join(f'{value} {word} {each}' for each in texts)})"


def has_loose_pattern(test: Comparison, rewriter: Rewriter) -> bool:
    """Whether case makes a difference to one of several patterns that the source compares without case."""
    known = several_patterns(test)
    if known is None or not ignores_case(rewriter):
        return False
    return any(may_differ([test.operands[0], each], rewriter) for each in known[1])
