"""Formats and types behind values of Teradata, for every target: value (FORMAT '...') (CHAR (n)), CAST (text AS DATE FORMAT '...').

Source: Teradata Database, "SQL Data Types and Literals", "Data Type Formats and Format Phrases", versions 16 and 17.
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.even_digits import even_text
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.masks.letters import moment_as_number
from hullsound.draft.masks.pieces import NumberForm
from hullsound.draft.masks.reading import read_letters
from hullsound.draft.masks.writing import read_moment, write_moment, write_number
from hullsound.knowledge.collations import EXACT
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sight.detector import Found
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Cast, Clause, Node, Operation, Paren, SelectItem

from . import fixer
from .dates import timestamp_of

_MYSQL: Final = ("mysql", "mariadb")
_TEXTS: Final = ("CHAR", "VARCHAR", "CHARACTER")
_WHOLE: Final = ("INTEGER", "INT", "SMALLINT", "BYTEINT", "BIGINT")
_DECIMALS: Final = ("DECIMAL", "DEC", "NUMERIC")
_ELEMENT: Final = re.compile(
    r"(YYYY|Y4)|(YY|Y2)|(MMMM|M4)|(MMM|M3)|(MM)|(DDD|D3)|(DD)|(HH)|(MI)|(SS)|(T)|(B)|(E4|EEEE)|(E3|EEE)|([-/:., ])"
)
_WRITTEN: Final = (
    "YYYY", "YY", "FMMonth", "Mon", "MM", "DDD", "DD", "HH24", "MI", "SS", "AM", " ", "FMDay", "Dy",
)  # fmt: skip
_EXACT: Final = {
    "mysql": f" COLLATE {EXACT}", "mariadb": f" COLLATE {EXACT}", "sqlserver": " COLLATE Latin1_General_100_BIN2",
}  # fmt: skip
"""What makes a comparison tell case apart on targets that do not by themselves."""
_READ_AS_TEXT: Final = frozenset(
    ("TRIM", "LTRIM", "RTRIM", "SUBSTR", "SUBSTRING", "CHARACTER_LENGTH", "CHAR_LENGTH", "LPAD")
)
"""Functions of texts, to which a number is the text that its format makes of it."""
_RANK: Final = 9
_REPEATED: Final = re.compile(r"([9Z])\((\d{1,2})\)")
_NUMBER: Final = re.compile(r"(Z*)(9*)(?:\.(9+))?")


# --- formats ---


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


def _number_form(form: str) -> NumberForm:
    """Read a FORMAT of numbers: 9 is a digit, Z one that a blank stands for. Raises CannotDraft for signs, commas and others."""
    digits = _REPEATED.sub(lambda part: part[1] * int(part[2]), form.upper())
    parts = _NUMBER.fullmatch(digits)
    if parts is None or not digits:
        raise CannotDraft(f"the format {form[:30]}")
    blank, filled, behind = len(parts[1]), len(parts[2]), len(parts[3] or "")
    places = blank + filled
    width = places + behind + (1 if behind else 0)
    return NumberForm(
        places=places, least=filled, decimals=behind, kept=behind, width=width if blank else 0, overflow="*" * width
    )


def _format_in(first: int, last: int, rewriter: Rewriter) -> str:
    """Return the text behind FORMAT among some tokens; '' for none."""
    for at in range(first, last - 1):
        if rewriter.words[at] == "FORMAT":
            return string_content(rewriter.tokens.source(at + 1, at + 2), rewriter.catalog.engine)
    return ""


def _as_text(value: Node, form: str, kind: str, rewriter: Rewriter) -> str:
    """Write a moment or number as text by a FORMAT."""
    family = rewriter.types.family(value)
    if family in NUMBERS:
        return _as_type(_number_text(value, _number_form(form), rewriter), kind, rewriter)
    if family not in (*MOMENTS, Family.UNKNOWN):
        raise CannotDraft("a text by a format")
    if rewriter.target.engine == "postgresql":
        return _as_type(f"to_char({timestamp_of(value, rewriter)}, {literal(mask_of(form))})", kind, rewriter)
    return _as_type(write_moment(value, read_letters(mask_of(form), "postgresql"), rewriter), kind, rewriter)


def _number_text(value: Node, form: NumberForm, rewriter: Rewriter) -> str:
    if rewriter.target.engine != "postgresql":
        return write_number(value, form, rewriter)
    text = rewriter.node(value)
    mask = (
        "FM"
        + "9" * (form.places - form.least)
        + "0" * form.least
        + ("." + "0" * form.decimals if form.decimals else "")
    )
    written = f"to_char({text}, '{mask}')"
    if form.width:
        written = f"lpad({written}, {form.width})"
    return f"CASE WHEN abs(round({text}, {form.decimals})) < 1{'0' * form.places} THEN {written} ELSE '{form.overflow}' END"


def _as_type(text: str, kind: str, rewriter: Rewriter) -> str:
    if rewriter.target.engine in _MYSQL:
        kind = kind.replace("varchar", "CHAR")
    return f"CAST({text} AS {kind})"


# --- types behind values ---


def _value_before(clause: Clause, rewriter: Rewriter) -> Node | None:
    """Return the value that a phrase in brackets stands behind."""
    ending = [
        n for n in rewriter.subject.read.nodes if n.last == clause.first and not isinstance(n, Clause | SelectItem)
    ]
    return min(ending, key=lambda node: node.first, default=None)


def _typed(clause: Clause, rewriter: Rewriter) -> str:
    """Return the target's type for the one that stands in brackets behind a value."""
    return _target_type(rewriter.tokens.source(clause.first + 1, clause.last - 1), rewriter)


def _target_type(text: str, rewriter: Rewriter) -> str:
    source = parse_type(text)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"the type {source}")
    return choice.text


@fixer("type_behind_value")
def fix_type_behind_value(place: Found, rewriter: Rewriter) -> str:
    """Write value (TYPE) as value::type; what a format stands before, and casts elsewhere, are written as a whole."""
    clause = place.node
    assert isinstance(clause, Clause)
    value = _value_before(clause, rewriter)
    is_text = rewriter.words[clause.first + 1] in _TEXTS
    if value is None or (is_text and rewriter.types.family(value) in (*MOMENTS, Family.TIME)):
        raise CannotDraft("a moment as text without a format")
    return f"::{_typed(clause, rewriter)}"


@fixer("phrase_behind_value")
def fix_phrase_behind_value(place: Found, rewriter: Rewriter) -> str:
    """Leave out FORMAT and TITLE, which only say how a value is shown; write NAMED as an alias."""
    words = rewriter.words
    word = words[place.first + 1]
    if word == "NAMED":
        return f" AS {rewriter.names.write(words[place.first + 2])}"
    if word in ("CASESPECIFIC", "CS"):
        return _EXACT.get(rewriter.target.engine, "")
    if word not in ("FORMAT", "TITLE"):
        raise CannotDraft(f"{word} behind a value")
    return ""


def add_formats(rewriter: Rewriter) -> None:
    """Write values with formats or types behind them as a whole, and dates that are cast to numbers."""
    subject = rewriter.subject
    clauses = {clause.first: clause for clause in subject.all(Clause) if clause.name == "attribute-cast"}
    for phrase in subject.all(Clause):
        is_cast = phrase.name == "cast-format"
        form = _format_in(phrase.first, phrase.last, rewriter) if is_cast or phrase.name == "attribute-phrase" else ""
        kind = clauses.get(phrase.last)
        value = _value_of(phrase, is_cast=is_cast, rewriter=rewriter)
        if form and kind is not None and value is not None and rewriter.words[kind.first + 1] in _TEXTS:
            rewriter.add(Point(min(phrase.first, value.first), kind.last, partial(_shown, value, form, kind), rank=3))
        elif phrase.name == "attribute-cast" and isinstance(value, Cast) and _shows(value, phrase, rewriter):
            form = _format_in(value.value.first, value.last, rewriter)
            rewriter.add(Point(value.first, phrase.last, partial(_shown, value.value, form, phrase), rank=_RANK))
        elif phrase.name == "attribute-cast" and value is not None and _is_whole_cast(phrase, value, rewriter):
            rewriter.add(Point(value.first, phrase.last, partial(_cast, value, phrase), rank=3))
        elif is_cast and value is not None and form and _is_read_as_text(phrase, rewriter):
            rewriter.add(Point(phrase.first, phrase.last, partial(_by_format, value, form), rank=_RANK))
        elif is_cast and value is not None:
            rewriter.add(Point(phrase.first, phrase.last, partial(_bare, value), rank=3))
    for cast in subject.all(Cast):
        form = _format_in(cast.value.first, cast.last, rewriter)
        if form:
            rewriter.add(Point(cast.first, cast.last, partial(_cast_by_format, cast, form), rank=3))
        elif cast.type.name in _TEXTS and rewriter.types.family(cast.value) is Family.DATE:
            rewriter.add(Point(cast.first, cast.last, _refuse_text, rank=_RANK))
        elif cast.type.name in _WHOLE and _is_span(cast.value):
            rewriter.add(Point(cast.first, cast.last, _refuse_span, rank=_RANK))
        elif cast.type.name in _WHOLE and rewriter.types.family(cast.value) is Family.DATE:
            rewriter.add(Point(cast.first, cast.last, partial(_number_of_date, cast.value), rank=_RANK))


def _value_of(phrase: Clause, *, is_cast: bool, rewriter: Rewriter) -> Node | None:
    if not is_cast:
        return _value_before(phrase, rewriter)
    inside = [n for n in rewriter.subject.read.nodes if n.first == phrase.first + 2 and n.last < phrase.last]
    return max(inside, key=lambda node: node.last, default=None)


def _shown(value: Node, form: str, kind: Clause, rewriter: Rewriter) -> str:
    return _as_text(value, form, _typed(kind, rewriter), rewriter)


def _is_span(value: Node) -> bool:
    return isinstance(value, Operation) and value.operators[0].startswith("INTERVAL")


def _refuse_text(_rewriter: Rewriter) -> str:
    raise CannotDraft("a date as text without a format, whose form the system sets")


def _refuse_span(_rewriter: Rewriter) -> str:
    raise CannotDraft("a span of time as a number of its units")


def _shows(cast: Cast, phrase: Clause, rewriter: Rewriter) -> bool:
    """Whether CAST (moment AS DATE FORMAT '...') (CHAR (n)) makes a text of a moment."""
    is_text = rewriter.words[phrase.first + 1] in _TEXTS and rewriter.types.family(cast.value) in MOMENTS
    return is_text and bool(_format_in(cast.value.first, cast.last, rewriter))


def _is_read_as_text(phrase: Clause, rewriter: Rewriter) -> bool:
    """Whether a value by a format stands in a function of texts, or is joined with one."""
    words = rewriter.words
    joined = "||" in (words[phrase.first - 1], words[phrase.last] if phrase.last < len(words) else "")
    return joined or (words[phrase.first - 1] == "(" and words[phrase.first - 2] in _READ_AS_TEXT)


def _by_format(value: Node, form: str, rewriter: Rewriter) -> str:
    family = rewriter.types.family(value)
    if family in NUMBERS:
        return _number_text(value, _number_form(form), rewriter)
    if rewriter.target.engine == "postgresql":
        return f"to_char({timestamp_of(value, rewriter)}, {literal(mask_of(form))})"
    return write_moment(value, read_letters(mask_of(form), "postgresql"), rewriter)


def _is_whole_cast(phrase: Clause, value: Node, rewriter: Rewriter) -> bool:
    """Whether a type behind a value is written as a cast around it: always but on PostgreSQL, there where digits are lost."""
    if rewriter.target.engine != "postgresql":
        return True
    return rewriter.types.family(value) is Family.NUMBER and rewriter.words[phrase.first + 1] in (*_WHOLE, *_DECIMALS)


def _cast(value: Node, phrase: Clause, rewriter: Rewriter) -> str:
    """Write value (TYPE) as a cast. Raises CannotDraft for texts of values whose form the source chooses."""
    text, kind, engine = rewriter.node(value), _typed(phrase, rewriter), rewriter.target.engine
    family, word = rewriter.types.family(value), rewriter.words[phrase.first + 1]
    if word in _TEXTS and family not in (Family.TEXT, Family.INTEGER):
        raise CannotDraft("a moment or a number with a fraction as text without a format")
    if word in _WHOLE and family is Family.DATE:
        return _number_of_date(value, rewriter)
    if word in _WHOLE and family is Family.NUMBER:
        cut = {"sqlserver": "ROUND({0}, 0, 1)", "postgresql": "trunc({0})", "oracle": "TRUNC({0})"}
        text = cut.get(engine, "TRUNCATE({0}, 0)").format(text)
    digits = rewriter.words[phrase.first + 5] if word in _DECIMALS and rewriter.words[phrase.first + 4] == "," else ""
    if digits.isdigit() and family is Family.NUMBER:
        text = even_text(value, digits, rewriter)
    if engine in _MYSQL and word in _WHOLE:
        kind = "SIGNED"
    return _as_type(text, kind, rewriter)


def _number_of_date(value: Node, rewriter: Rewriter) -> str:
    """A date as the number that Teradata stores: year minus 1900, month, day."""
    return f"({moment_as_number(value, has_fraction=False, rewriter=rewriter)} - 19000000)"


def _bare(value: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(value)})"


def _cast_by_format(cast: Cast, form: str, rewriter: Rewriter) -> str:
    """Write CAST (moment (FORMAT '...') AS VARCHAR (n)) and CAST (text AS DATE FORMAT '...')."""
    value = cast.value
    while isinstance(value, Paren):
        value = value.inner
    if cast.type.name in _TEXTS:
        return _as_text(value, form, _target_type(rewriter.subject.source(cast.type), rewriter), rewriter)
    if cast.type.name not in ("DATE", "TIMESTAMP"):
        raise CannotDraft("a conversion by a format")
    kind = cast.type.name.lower()
    if rewriter.types.family(value) in MOMENTS:  # the format only says how it is shown
        if rewriter.target.engine in _MYSQL and kind == "timestamp":
            kind = "DATETIME"
        if rewriter.target.engine == "oracle" and kind == "date":
            return f"TRUNC({rewriter.node(value)})"
        kinds = {"sqlserver": {"timestamp": "datetime2(6)"}}
        return f"CAST({rewriter.node(value)} AS {kinds.get(rewriter.target.engine, {}).get(kind, kind)})"
    if rewriter.types.family(value) not in (Family.TEXT, Family.UNKNOWN):
        raise CannotDraft("a conversion by a format")
    if rewriter.target.engine == "postgresql":
        return f"CAST(to_timestamp({rewriter.node(value)}, {literal(mask_of(form))}) AS {kind})"
    return read_moment(value, read_letters(mask_of(form), "postgresql"), rewriter, is_date=kind == "date")
