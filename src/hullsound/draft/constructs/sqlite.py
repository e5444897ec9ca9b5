"""Functions of SQLite that PostgreSQL writes otherwise: moments as text, masks, JSON, patterns of file names.

Source: SQLite documentation, "Date And Time Functions", "Built-In Scalar SQL Functions" and "JSON Functions And Operators".
"""

import re
from collections.abc import Callable
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.collations import EXACT
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Comparison, Name, Node, TableRef

from . import call_of, fixer
from .json_paths import document, fix_json_change, json_keys
from .mysql import fix_characters

_NOW: Final = "(now() AT TIME ZONE 'UTC')"
_SPAN: Final = re.compile(r"\s*([+-]?)\s*(\d+(?:\.\d+)?)\s*(second|minute|hour|day|month|year)s?\s*", re.IGNORECASE)
_WEEKDAY: Final = re.compile(r"\s*weekday\s+([0-6])\s*", re.IGNORECASE)
_START: Final = re.compile(r"\s*start of (day|month|year)\s*", re.IGNORECASE)
_TEXTS: Final = {"DATE": "YYYY-MM-DD", "TIME": "HH24:MI:SS", "DATETIME": "YYYY-MM-DD HH24:MI:SS"}
_LETTERS: Final = {
    "Y": "YYYY", "m": "MM", "d": "DD", "H": "HH24", "M": "MI", "S": "SS", "f": "SS.MS", "j": "DDD", "F": "YYYY-MM-DD",
    "T": "HH24:MI:SS", "R": "HH24:MI", "I": "HH12", "p": "AM", "e": "FMDD", "%": "%",
}  # fmt: skip
"""Letters of STRFTIME and the elements of to_char that write the same."""


# --- moments ---


@fixer("moment_as_text")
def fix_moment_as_text(place: Found, rewriter: Rewriter) -> str:
    """Write DATE, TIME, DATETIME, JULIANDAY and UNIXEPOCH over a moment that modifiers move."""
    call = call_of(place)
    name = call.parts[-1]
    moment = _moment(call.arguments, rewriter)
    if name == "JULIANDAY":
        return f"(CAST(EXTRACT(EPOCH FROM {moment}) AS double precision) / 86400 + 2440587.5)"
    if name == "UNIXEPOCH":
        return f"CAST(trunc(EXTRACT(EPOCH FROM {moment})) AS bigint)"
    if name not in _TEXTS:
        raise CannotDraft(f"the function {name.lower()}")
    return f"to_char({moment}, '{_TEXTS[name]}')"


@fixer("moment_by_mask")
def fix_moment_by_mask(place: Found, rewriter: Rewriter) -> str:
    """Write STRFTIME with a constant mask."""
    mask, *rest = call_of(place).arguments
    text = text_value(mask, rewriter)
    if text is None:
        raise CannotDraft("a mask that is not a constant")
    moment = _moment(rest, rewriter)
    if text in ("%s", "%w"):
        field = "EPOCH" if text == "%s" else "DOW"
        return f"CAST(trunc(EXTRACT({field} FROM {moment})) AS text)"
    pieces = []
    for match in re.finditer(r"%(.)|([^%]+)", text):
        if match[1] and match[1] not in _LETTERS:
            raise CannotDraft(f"%{match[1]} in a mask")
        plain = match[2] or ""
        pieces.append(_LETTERS[match[1]] if match[1] else f'"{plain}"' if re.search("[A-Za-z]", plain) else plain)
    return f"to_char({moment}, {literal(''.join(pieces))})"


_CLOCK: Final = re.compile(r"\d\d:\d\d(?::\d\d(?:\.\d+)?)?")
"""A time of day, which SQLite takes for one of the first of January 2000 ("Date And Time Functions", "Time Values")."""
_DAY: Final = re.compile(r"\d{4}-\d\d-\d\d")


def _moment(arguments: list[Node], rewriter: Rewriter) -> str:
    """Write a time value and the modifiers behind it as one moment in UTC."""
    if not arguments:
        return _NOW
    first, *modifiers = arguments
    texts = [text_value(each, rewriter) for each in modifiers]
    value, text = rewriter.node(first), text_value(first, rewriter)
    kind = rewriter.types.family(first)
    if text is not None and text.lower() == "now":
        moment = _NOW
    elif text is not None and _CLOCK.fullmatch(text):
        moment = f"TIMESTAMP '2000-01-01 {text}'"
    elif "unixepoch" in texts:
        moment = f"(to_timestamp({value}) AT TIME ZONE 'UTC')"
    elif kind in MOMENTS:
        moment = f"CAST({value} AS timestamp)" if kind is Family.DATE else value
    elif kind in (Family.TEXT, Family.UNKNOWN):
        if text is not None and not _DAY.match(text):
            raise CannotDraft("a constant that is no date and no time of day")
        moment = f"CAST({value} AS timestamp)"
        if text is None and kind is Family.TEXT:
            moment = f"(CASE WHEN pg_input_is_valid({value}, 'timestamp') THEN {moment} END)"
    else:
        raise CannotDraft("a moment that is a number of days")
    for modifier, given in zip(modifiers, texts, strict=True):
        moment = _modified(moment, modifier, given, rewriter)
    return moment


def _modified(moment: str, modifier: Node, text: str | None, rewriter: Rewriter) -> str:
    if text is None:
        return f"({moment} + CAST({rewriter.node(modifier)} AS interval))"
    if text.lower() in ("unixepoch", "utc", "subsec"):
        return moment
    if text.lower() == "localtime":
        return f"(({moment} AT TIME ZONE 'UTC') AT TIME ZONE current_setting('TimeZone'))"
    start = _START.fullmatch(text)
    if start is not None:
        return f"date_trunc('{start[1].lower()}', {moment})"
    weekday = _WEEKDAY.fullmatch(text)
    if weekday is not None:
        return f"({moment} + (({weekday[1]} - CAST(EXTRACT(DOW FROM {moment}) AS integer) + 7) % 7) * interval '1 day')"
    span = _SPAN.fullmatch(text)
    if span is None:
        raise CannotDraft(f"the modifier {text}")
    sign, unit = span[1] or "+", span[3].lower()
    amount = f"interval '{span[2]} {unit}s'"
    if unit in ("month", "year"):
        # A day that the month does not have runs over into the next one.
        return f"(date_trunc('month', {moment}) {sign} {amount} + ({moment} - date_trunc('month', {moment})))"
    return f"({moment} {sign} {amount})"


# --- texts ---

_PLACE: Final = re.compile(r"%(-?)(0?)(\d*)(?:\.(\d+))?([dsfi%])|([^%]+)")


@fixer("filled_text")
def fix_filled_text(place: Found, rewriter: Rewriter) -> str:
    """Write PRINTF with a constant pattern of %d, %s and %f as texts that are joined."""
    pattern, *values = call_of(place).arguments
    text = text_value(pattern, rewriter)
    if text is None or "".join(match[0] for match in _PLACE.finditer(text)) != text:
        raise CannotDraft("PRINTF by a pattern that is not a constant, or in a form that is not known")
    pieces, rest = [], list(values)
    for match in _PLACE.finditer(text):
        left, zero, width, digits, letter, plain = match.groups()
        if plain is not None or letter == "%":
            pieces.append(literal(plain if plain is not None else "%"))
            continue
        if not rest:
            raise CannotDraft("PRINTF with fewer values than places")
        value = rewriter.node(rest.pop(0))
        piece = {
            "s": f"COALESCE(CAST({value} AS text), '')",
            "f": f"to_char(COALESCE(CAST({value} AS numeric), 0), 'FM99999999999999990{_fraction(digits or '6')}')",
        }.get(letter, f"CAST(trunc(COALESCE(CAST({value} AS numeric), 0)) AS text)")
        if width:
            fill = "0" if zero and not left else " "
            if fill == "0" and letter != "s":
                # The sign stands before the zeros.
                sign = f"CASE WHEN {piece} LIKE '-%' THEN '-' ELSE '' END"
                bare = f"ltrim({piece}, '-')"
                pieces.append(f"{sign} || lpad({bare}, greatest({width} - length({sign}), length({bare})), '0')")
                continue
            piece = f"{'rpad' if left else 'lpad'}({piece}, greatest({width}, length({piece})), '{fill}')"
        pieces.append(piece)
    return f"({' || '.join(pieces)})" if pieces else "''"


def _fraction(digits: str) -> str:
    return f".{'0' * int(digits)}" if int(digits) else ""


@fixer("file_pattern")
def fix_file_pattern(place: Found, rewriter: Rewriter) -> str:
    """Write GLOB with a constant pattern, and REGEXP, as regular expressions."""
    node = place.node
    if not isinstance(node, Comparison) or len(node.operands) != 2:
        raise CannotDraft("a pattern in a form that is not known")
    value, pattern = node.operands
    sign = "!~" if node.negated else "~"
    if node.operator == "REGEXP" and rewriter.target.engine == "postgresql":
        return f"{rewriter.node(value)} {sign} {rewriter.node(pattern)}"
    text = text_value(pattern, rewriter)
    if node.operator == "GLOB" and text is not None and rewriter.target.engine != "postgresql":
        return _like(node, text, rewriter)
    if node.operator != "GLOB" or text is None:
        raise CannotDraft("GLOB by a pattern that is not a constant, or MATCH")
    pieces = re.findall(r"\[\^?[^\]]+\]|[\s\S]", text)
    regex = "".join({"*": ".*", "?": "."}.get(p, p if len(p) > 1 else re.sub(r"([^\w\s])", r"\\\1", p)) for p in pieces)
    return f"{rewriter.node(value)} {sign} {literal(f'^{regex}$')}"


def _like(node: Comparison, pattern: str, rewriter: Rewriter) -> str:
    """Write GLOB as LIKE, which tells case apart by the collation that is named. Raises CannotDraft for classes of characters."""
    if "[" in pattern:
        raise CannotDraft("GLOB with a class of characters")
    is_escaped = bool(re.search(r"[%_!]", pattern))
    text = re.sub(r"[%_!]", r"!\g<0>", pattern).replace("*", "%").replace("?", "_")
    engine = rewriter.target.engine
    exact = {"sqlserver": " COLLATE Latin1_General_100_BIN2", "oracle": ""}.get(engine, f" COLLATE {EXACT}")
    word = "NOT LIKE" if node.negated else "LIKE"
    behind = " ESCAPE '!'" if is_escaped else ""
    return f"{rewriter.node(node.operands[0])} {word} {rewriter.names.text(text)}{exact}{behind}"


@fixer("joined_of_two")
def fix_joined_of_two(place: Found, rewriter: Rewriter) -> str:
    """Write GROUP_CONCAT(value, separator)."""
    call = call_of(place)
    value, *separator = call.arguments
    if separator and call.closing != separator[0].last:
        raise CannotDraft("GROUP_CONCAT with an order")
    quantifier = "DISTINCT " if call.quantifier == "DISTINCT" else ""
    tail = rewriter.text(call.closing + 1, call.last)
    between = rewriter.node(separator[0]) if separator else "','"
    return f"string_agg({quantifier}CAST({rewriter.node(value)} AS text), {between}){f' {tail}' if tail else ''}"


@fixer("length_of_value")
def fix_length_of_value(place: Found, rewriter: Rewriter) -> str:
    value = call_of(place).arguments[0]
    text = rewriter.node(value)  # what is known to be no text is made one as any argument of LENGTH
    return f"length({text if rewriter.types.family(value) else f'CAST({text} AS text)'})"


# --- JSON ---


@fixer("json_of_sqlite")
def fix_json_of_sqlite(place: Found, rewriter: Rewriter) -> str:
    """Write the functions over JSON."""
    call = call_of(place)
    writer = _JSON.get(call.parts[-1])
    if writer is None:
        raise CannotDraft(f"the function {call.parts[-1].lower()}")
    return writer(place, call, rewriter)


def _extracted(place: Found, call: Call, rewriter: Rewriter) -> str:
    if len(call.arguments) != 2:
        raise CannotDraft("several paths in a row")
    return f"({document(call.arguments[0], rewriter)} #>> {json_keys(call.arguments[1], rewriter)})"


def _kind(place: Found, call: Call, rewriter: Rewriter) -> str:
    value = document(call.arguments[0], rewriter)
    if len(call.arguments) > 1:
        value = f"({value} #> {json_keys(call.arguments[1], rewriter)})"
    number = f"CASE WHEN {value} #>> '{{}}' ~ '^-?[0-9]+$' THEN 'integer' ELSE 'real' END"
    return (
        f"(CASE jsonb_typeof({value}) WHEN 'number' THEN {number} WHEN 'string' THEN 'text' "
        f"WHEN 'boolean' THEN {value} #>> '{{}}' ELSE jsonb_typeof({value}) END)"
    )


def _length(place: Found, call: Call, rewriter: Rewriter) -> str:
    value = document(call.arguments[0], rewriter)
    if len(call.arguments) > 1:
        value = f"({value} #> {json_keys(call.arguments[1], rewriter)})"
    return f"(CASE WHEN jsonb_typeof({value}) = 'array' THEN jsonb_array_length({value}) WHEN {value} IS NOT NULL THEN 0 END)"


def _gathered(name: str, place: Found, call: Call, rewriter: Rewriter) -> str:
    tail = rewriter.text(call.closing + 1, call.last)
    return f"{name}({rewriter.nodes(call.arguments)}){f' {tail}' if tail else ''}"


_JSON: Final[dict[str, Callable[[Found, Call, Rewriter], str]]] = {
    "JSON_EXTRACT": _extracted,
    "JSON_TYPE": _kind,
    "JSON_ARRAY_LENGTH": _length,
    **dict.fromkeys(
        ("JSON_SET", "JSON_INSERT", "JSON_REPLACE", "JSON_REMOVE"),
        lambda place, call, rewriter: fix_json_change(place, rewriter),
    ),
    "JSON_VALID": lambda place, call, rewriter: f"CAST(({rewriter.node(call.arguments[0])} IS JSON) AS integer)",
    "JSON": lambda place, call, rewriter: document(call.arguments[0], rewriter),
    "JSON_GROUP_ARRAY": partial(_gathered, "json_agg"),
    "JSON_GROUP_OBJECT": partial(_gathered, "json_object_agg"),
    "JSON_QUOTE": lambda place, call, rewriter: (
        f"CAST(to_jsonb(CAST({rewriter.node(call.arguments[0])} AS text)) AS text)"
    ),
}


@fixer("row_number_of_key")
def fix_row_number_of_key(place: Found, rewriter: Rewriter) -> str:
    """ROWID is the column that is declared INTEGER PRIMARY KEY, where a table has one."""
    if not isinstance(place.node, Name):
        raise CannotDraft("the number of a row in a form that is not known")
    alias = place.node.parts[-2] if len(place.node.parts) > 1 else ""
    tables = [t for t in rewriter.subject.all(TableRef) if not alias or alias in (t.alias, t.parts[-1])]
    items = [rewriter.table(t.parts) for t in tables]
    keys = [column.name for item in items if item is not None for column in item.columns if column.identity]
    if len(items) != 1 or len(keys) != 1:
        raise CannotDraft("the number of a row of a table without an INTEGER PRIMARY KEY")
    return rewriter.names.qualified(alias, keys[0])


# --- structure ---


def add_sqlite_points(rewriter: Rewriter) -> None:
    """Add the points of what SQLite writes in a way of its own, whatever construct it belongs to."""
    subject = rewriter.subject
    for test in subject.all(Comparison):
        if test.operator == "IS" and len(test.operands) == 2:
            rewriter.add(Point(test.first, test.last, partial(_distinct, test)))
    for call in subject.all(Call):
        if call.parts == ("CHAR",):
            rewriter.add(Point(call.first, call.last, partial(_characters, call)))
        elif call.parts in _BUILDERS:
            text = _BUILDERS[call.parts]
            rewriter.replace(call.first, call.opening, text)
        elif call.parts == ("ROUND",) and len(call.arguments) == 1:
            rewriter.add(Point(call.first, call.last, partial(_rounded, call)))


_BUILDERS: Final = {
    ("JSON_ARRAY",): "json_build_array", ("JSON_OBJECT",): "json_build_object"
}  # fmt: skip


def _distinct(test: Comparison, rewriter: Rewriter) -> str:
    """IS compares any values, NULL included."""
    one, other = (rewriter.node(each) for each in test.operands)
    return f"{one} IS {'' if test.negated else 'NOT '}DISTINCT FROM {other}"


def _characters(call: Call, rewriter: Rewriter) -> str:
    return fix_characters(Found(call, call.first, call.last), rewriter)


def _rounded(call: Call, rewriter: Rewriter) -> str:
    """Halves are rounded away from zero, which PostgreSQL does for numeric alone."""
    return f"round(CAST({rewriter.node(call.arguments[0])} AS numeric))"
