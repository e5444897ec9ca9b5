"""Fixers for calls whose counterpart depends on the arguments."""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.plain_numbers import plain_number
from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detector import Found
from hullsound.sight.detectors.functions import is_date_mask, literal_text
from hullsound.sql.tree import Call, Clause, Literal, Name, Node, Operation, OrderItem

from . import call_of, fixer
from .masks import date_text, text_by_mask

_SESSION_FACTS: Final = {
    "SESSION_USER": "session_user", "CURRENT_USER": "current_user", "CURRENT_SCHEMA": "current_schema()",
    "DB_NAME": "current_database()", "IP_ADDRESS": "host(inet_client_addr())", "SID": "pg_backend_pid()::text",
    "SESSIONID": "pg_backend_pid()::text", "MODULE": "current_setting('application_name')",
    "CLIENT_PROGRAM_NAME": "current_setting('application_name')",
}  # fmt: skip
"""Facts of SYS_CONTEXT('USERENV', ...) and what tells them on PostgreSQL ("System Information Functions")."""
_CHECKED_NAMES: Final = {
    "NOOP": "{}", "ENQUOTE_LITERAL": "quote_literal({})", "ENQUOTE_NAME": "quote_ident(lower({}))",
    "SIMPLE_SQL_NAME": "quote_ident(lower({}))", "QUALIFIED_SQL_NAME": "array_to_string(parse_ident({}), '.')",
    "SQL_OBJECT_NAME": "CAST(CAST({} AS regclass) AS text)", "SCHEMA_NAME": "CAST(CAST(lower({}) AS regnamespace) AS text)",
}  # fmt: skip
"""Members of DBMS_ASSERT: each refuses, or makes harmless, what is no name."""
ENGLISH: Final = re.compile(r"(?i)\s*NLS_DATE_LANGUAGE\s*=\s*'*(?:AMERICAN|ENGLISH)'*\s*")


@fixer("session_fact")
def fix_session_fact(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    name = literal_text(arguments[1], rewriter.subject) if len(arguments) > 1 else None
    fact = _SESSION_FACTS.get((name or "").upper())
    if fact is None:
        raise CannotDraft(f"the fact {(name or '').lower() or 'that is not a constant'} of a session")
    return fact


@fixer("checked_name")
def fix_checked_name(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    pattern = _CHECKED_NAMES.get(call.parts[-1])
    if pattern is None or len(call.arguments) != 1:
        raise CannotDraft(f"{call.parts[-1]} of DBMS_ASSERT")
    return pattern.format(rewriter.node(call.arguments[0]))


@fixer("english_mask")
def fix_english_mask(place: Found, rewriter: Rewriter) -> str:
    """Drop the language of a date mask where it is the one that PostgreSQL speaks."""
    arguments = call_of(place).arguments
    mask = literal_text(arguments[1], rewriter.subject)
    language = literal_text(arguments[2], rewriter.subject) if len(arguments) == 3 else None
    if mask is None or not is_date_mask(mask) or language is None or not ENGLISH.fullmatch(language):
        raise CannotDraft(
            "a mask that is not a constant, has elements of Oracle's own, or another language than English"
        )
    return date_text(arguments[0], mask, rewriter)


@fixer("decode")
def fix_decode(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    if len(arguments) < 3:
        raise CannotDraft("DECODE with fewer than three arguments")
    pairs = [(arguments[i], arguments[i + 1]) for i in range(1, len(arguments) - 1, 2)]
    subject = _decode_subject(arguments[0], pairs[0][0], rewriter)
    otherwise = arguments[-1] if len(arguments) % 2 == 0 else None
    text = "CASE"
    for search, result in pairs:
        text += f" WHEN {_decode_test(subject, search, rewriter)} THEN {rewriter.node(result)}"
    if otherwise is not None:
        text += f" ELSE {rewriter.node(otherwise)}"
    return f"{text} END"


def _decode_subject(subject: Node, first: Node, rewriter: Rewriter) -> str:
    """Write what is compared: PostgreSQL needs the cast to the type of the first search value, which Oracle does by itself.

    Source: Oracle SQL Language Reference, "DECODE".
    """
    text = rewriter.node(subject)
    if rewriter.target.engine != "postgresql":
        return text
    given, wanted = rewriter.types.family(subject), rewriter.types.family(first)
    if given is Family.TEXT and wanted in NUMBERS:
        return f"CAST({text} AS numeric)"
    if given in NUMBERS and wanted is Family.TEXT and not isinstance(first, Literal):
        return plain_number(subject, rewriter) if given is Family.NUMBER else f"CAST({text} AS text)"
    return text


def _decode_test(subject: str, search: Node, rewriter: Rewriter) -> str:
    if isinstance(search, Literal):
        return f"{subject} IS NULL" if search.form == "null" else f"{subject} = {rewriter.node(search)}"
    if rewriter.target.engine == "sqlserver":
        value = rewriter.node(search)
        return f"({subject} = {value} OR ({subject} IS NULL AND {value} IS NULL))"
    same = "<=>" if rewriter.target.engine in ("mysql", "mariadb") else "IS NOT DISTINCT FROM"
    return f"{subject} {same} {rewriter.node(search)}"


@fixer("to_char")
def fix_to_char(place: Found, rewriter: Rewriter) -> str:
    value, mask = call_of(place).arguments
    return text_by_mask(value, mask, rewriter)


@fixer("to_char_plain")
def fix_to_char_plain(place: Found, rewriter: Rewriter) -> str:
    value = call_of(place).arguments[0]
    text = rewriter.node(value)
    is_text = (
        rewriter.catalog.engine == "oracle" and rewriter.types.family(value) is Family.NUMBER
    )  # as `plain_numbers` writes it
    return text if is_text and rewriter.target.engine == "postgresql" else f"CAST({text} AS text)"


@fixer("to_date_rounded_year")
def fix_to_date_rounded_year(place: Found, rewriter: Rewriter) -> str:
    value, mask = call_of(place).arguments
    text = re.sub("rr", "YY", re.sub("rrrr", "YYYY", rewriter.node(mask), flags=re.IGNORECASE), flags=re.IGNORECASE)
    return f"to_timestamp({rewriter.node(value)}, {text})::timestamp(0)"


_MOST_REPEATED: Final = 255
"""The highest count that a regular expression takes in PostgreSQL 18."""


@fixer("substr_from_end")
def fix_substr_from_end(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    start = arguments[1]
    assert isinstance(start, Operation)
    count = rewriter.node(start.operands[0])
    text = rewriter.node(arguments[0])
    if int(count) <= _MOST_REPEATED:  # NULL where the text is shorter
        tail = f"substring({text} from '.{{{int(count)}}}$')"
    else:
        tail = f"CASE WHEN length({text}) >= {count} THEN right({text}, {count}) END"
    if len(arguments) == 2:
        return tail
    length = rewriter.node(arguments[2])
    if length.lstrip("-").isdigit() and int(length) < 1:
        return "CAST(NULL AS text)"
    return f"left({tail}, {length})"


@fixer("regexp_replace")
def fix_regexp_replace(place: Found, rewriter: Rewriter) -> str:
    arguments = [rewriter.node(argument) for argument in call_of(place).arguments]
    if len(arguments) == 2:
        arguments.append("''")
    return f"regexp_replace({', '.join(arguments)}, 'g')"


@fixer("random_value")
def fix_random_value(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    if isinstance(node, Name) or (isinstance(node, Call) and not node.arguments):
        return "random()"
    low, high = (rewriter.node(argument) for argument in call_of(place).arguments)
    return f"({low} + random() * ({high} - {low}))"


@fixer("listagg")
def fix_listagg(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    words = rewriter.words
    value = rewriter.node(call.arguments[0])
    cast = rewriter.types.family(call.arguments[0]) is not Family.TEXT
    separator = rewriter.node(call.arguments[1]) if len(call.arguments) > 1 else "''"
    if "TRUNCATE" in words[call.arguments[-1].last : call.closing]:
        raise CannotDraft("a list that is cut where it grows too long")
    order = ""
    at = call.closing + 1
    if words[at] == "WITHIN":
        close = closing_of(rewriter, at + 2)
        order = rewriter.text(at + 3, close)
        at = close + 1
    quantifier = "DISTINCT " if call.quantifier == "DISTINCT" else ""
    if cast:
        if quantifier and order:
            raise CannotDraft("DISTINCT values that are not text, in an order")
        value = f"CAST({value} AS text)"
    tail = rewriter.text(at, call.last)
    if order and tail.upper().startswith("OVER"):
        if quantifier or not tail.endswith(")") or "ORDER BY" in tail.upper():
            raise CannotDraft("rows joined in an order over a window of another order")
        # PostgreSQL takes no order inside an aggregate over a window: the window sorts, and spans all its rows.
        return (
            f"string_agg({value}, {separator}) {tail[:-1].rstrip()} {order} "
            "ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING)"
        )
    return f"string_agg({quantifier}{value}, {separator}{' ' + order if order else ''}){' ' + tail if tail else ''}"


@fixer("cast_to_text")
def fix_cast_to_text(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Node)
    if rewriter.catalog.engine == "oracle" and rewriter.types.family(place.node) is Family.NUMBER:
        return plain_number(place.node, rewriter)
    return f"CAST({rewriter.node(place.node)} AS text)"


@fixer("cast_to_numeric")
def fix_cast_to_numeric(place: Found, rewriter: Rewriter) -> str:
    if isinstance(place.node, Literal):
        return f"{rewriter.node(place.node)}.0"
    return f"CAST({rewriter.node(place.node)} AS numeric)"


@fixer("cast_to_integer")
def fix_cast_to_integer(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Node)
    return f"CAST({_cut(place.node, rewriter)} AS integer)"


@fixer("lob_member")
def fix_lob_member(place: Found, rewriter: Rewriter) -> str:
    """Members of DBMS_LOB over texts, which are ordinary values here; SUBSTR has amount and place the other way round."""
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    if rewriter.types.family(call.arguments[0]) is Family.BYTES:
        raise CannotDraft(f"{call.parts[-1]} of bytes")
    match call.parts[-1], len(values):
        case "SUBSTR", 1:
            return f"substr({values[0]}, 1, 32767)"
        case "SUBSTR", 2:
            return f"substr({values[0]}, 1, CAST({values[1]} AS integer))"
        case "SUBSTR", 3:
            return f"substr({values[0]}, CAST({values[2]} AS integer), CAST({values[1]} AS integer))"
        case "INSTR", 2:
            return f"strpos({values[0]}, {values[1]})"
        case "INSTR", 3:
            start = f"CAST({values[2]} AS integer)"
            found = f"strpos(substr({values[0]}, {start}), {values[1]})"
            return f"(CASE WHEN {found} > 0 THEN {found} + {start} - 1 ELSE 0 END)"
    raise CannotDraft(f"{call.parts[-1]} of DBMS_LOB")


@fixer("instr_position")
def fix_instr_position(place: Found, rewriter: Rewriter) -> str:
    """Find the n-th occurrence from a place on, as a regular expression in which every sign stands for itself.

    A place below 0 counts from the end, and looks backwards (Oracle SQL Language Reference, "INSTR").
    """
    if rewriter.target.version < 15:
        raise CannotDraft("INSTR with a place, which regexp_instr does since version 15")
    text, part, place_of, *count = call_of(place).arguments
    start = rewriter.subject.source(place_of).replace(" ", "")
    ahead = partial(_occurrence, part=part, count=count[0] if count else None, rewriter=rewriter)
    if start.isdigit():
        return ahead(rewriter.node(text), start=start) if int(start) else f"0 * length({rewriter.node(text)})"
    number = start if start.lstrip("-").isdigit() else f"CAST({_cut(place_of, rewriter)} AS integer)"
    given, length = rewriter.node(text), f"length({rewriter.node(part)})"
    head = f"left({given}, GREATEST(length({given}) + {number} + {length}, 0))"
    found = ahead(f"reverse({head})", start="1", is_reversed=True)
    back = f"CASE {found} WHEN 0 THEN 0 ELSE length({head}) - {found} - {length} + 2 END"
    if start == number:
        return f"({back})"
    forward = ahead(given, start=number)
    return f"(CASE WHEN {number} > 0 THEN {forward} WHEN {number} < 0 THEN {back} WHEN {number} = 0 THEN 0 END)"


def _occurrence(
    text: str, *, part: Node, count: Node | None, rewriter: Rewriter, start: str, is_reversed: bool = False
) -> str:
    """Write the place of an occurrence; occurrences may overlap, which matters from the second one of longer parts on."""
    constant = literal_text(part, rewriter.subject)
    if constant is not None:
        pattern = re.sub(r"([^\w\s])", r"\\\1", constant[::-1] if is_reversed else constant)
    else:
        given = f"reverse({rewriter.node(part)})" if is_reversed else rewriter.node(part)
        pattern = f"regexp_replace({given}, '([^\\w\\s])', '\\\\\\1', 'g')"
    is_first = count is None or rewriter.subject.source(count) == "1"
    if constant is None:
        pattern = pattern if is_first else f"'(?=' || {pattern} || ')'"
    else:
        pattern = literal(pattern if is_first or len(constant) == 1 else f"(?={pattern})")
    number = "1" if count is None else f"CAST({_cut(count, rewriter)} AS integer)"
    return f"regexp_instr({text}, {pattern}, {start}, {number})"


def _cut(node: Node, rewriter: Rewriter) -> str:
    """Write a number without its fraction, which Oracle cuts off where a count is wanted."""
    text = rewriter.node(node)
    return f"trunc({text})" if rewriter.types.family(node) is Family.NUMBER else text


def prepare_first_last(rewriter: Rewriter, construct: str) -> None:
    """Add the points of aggregates over the rows that sort first or last."""
    for clause in rewriter.subject.all(Clause):
        calls = [c for c in rewriter.subject.all(Call) if c.first < clause.first and clause.last <= c.last]
        if clause.name == "keep-first-last" and calls:
            call = min(calls, key=lambda c: c.last - c.first)
            rewriter.add(Point(call.first, call.last, partial(_first_last, call, clause), construct, rank=1))


def _first_last(call: Call, clause: Clause, rewriter: Rewriter) -> str:
    """Take the first element of an array in that order; MAX and MIN choose among rows that sort alike."""
    name = call.parts[-1]
    if name not in ("MAX", "MIN") or call.last > clause.last:
        raise CannotDraft(f"{name} over the first or last rows")
    is_last = "LAST" in rewriter.words[clause.first : clause.last]
    items = [i for i in rewriter.subject.all(OrderItem) if clause.first < i.first and i.last <= clause.last]
    order = [_turned(item, is_last, rewriter) for item in items]
    value = rewriter.node(call.arguments[0])
    order.append(f"{value} {'DESC NULLS LAST' if name == 'MAX' else 'ASC NULLS LAST'}")
    return f"(array_agg({value} ORDER BY {', '.join(order)}))[1]"


def _turned(item: OrderItem, is_last: bool, rewriter: Rewriter) -> str:
    descending = item.descending != is_last
    nulls = f" NULLS {'FIRST' if ('FIRST' in item.nulls) != is_last else 'LAST'}" if item.nulls else ""
    return f"{rewriter.node(item.value)}{' DESC' if descending else ' ASC'}{nulls}"


_WIDEST: Final = {"mysql": "decimal(65,30)", "mariadb": "decimal(65,30)", "sqlserver": "float"}
"""Types that keep the digits of a quotient."""


@fixer("ratio_to_report")
def fix_ratio_to_report(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value, window = rewriter.node(call.arguments[0]), rewriter.text(call.closing + 1, call.last)
    kind = _WIDEST.get(rewriter.target.engine, "numeric")
    return f"(CAST({value} AS {kind}) / NULLIF(SUM({value}) {window}, 0))"


@fixer("greatest_null")
def fix_greatest_null(place: Found, rewriter: Rewriter) -> str:
    """GREATEST and LEAST give NULL where one value is NULL, which PostgreSQL leaves out; SQLite calls them MAX and MIN."""
    call = call_of(place)
    name = {"MAX": "GREATEST", "MIN": "LEAST"}.get(call.parts[-1], call.parts[-1])
    texts = [rewriter.node(each) for each in call.arguments]
    pairs = zip(texts, call.arguments, strict=True)
    tests = [f"{text} IS NOT NULL" for text, each in pairs if not rewriter.types.is_never_null(each)]
    inner = f"{name}({', '.join(texts)})"
    return f"(CASE WHEN {' AND '.join(tests)} THEN {inner} END)" if tests else inner
