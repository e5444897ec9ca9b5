"""Small functions of Oracle that PostgreSQL writes otherwise.

Sources: Oracle Database 19c SQL Language Reference, "Functions"; PL/SQL Packages and Types Reference, UTL_RAW, DBMS_UTILITY.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.lexer import NUMBER
from hullsound.sql.tree import Call, Member, Name, Node, Operation, Row, TableRef, Update, Window

from . import call_of, fixer

_HALVES: Final = {
    "DD": "date_trunc('day', {0} + interval '12 hours')",
    "MM": "(date_trunc('month', {0}) + CASE WHEN EXTRACT(DAY FROM {0}) >= 16 THEN interval '1 month' ELSE interval '0' END)",
    "YYYY": "(date_trunc('year', {0}) + CASE WHEN EXTRACT(MONTH FROM {0}) >= 7 THEN interval '1 year' ELSE interval '0' END)",
    "HH24": "date_trunc('hour', {0} + interval '30 minutes')",
    "MI": "date_trunc('minute', {0} + interval '30 seconds')",
}
"""How a date is rounded to the nearest unit."""
_XML_VALUES: Final = ("GETSTRINGVAL", "GETCLOBVAL", "GETNUMBERVAL")
_ALIKE: Final = {
    "DDD": "DD",
    "J": "DD",
    "MONTH": "MM",
    "MON": "MM",
    "YEAR": "YYYY",
    "Y": "YYYY",
    "YY": "YYYY",
    "HH": "HH24",
}


@fixer("round_date")
def fix_round_date(place: Found, rewriter: Rewriter) -> str:
    arguments = call_of(place).arguments
    mask = (text_value(arguments[1], rewriter) or "").upper() if len(arguments) > 1 else "DD"
    template = _HALVES.get(_ALIKE.get(mask, mask))
    if template is None:
        raise CannotDraft("a date rounded to a unit that is not known")
    text = template.format(rewriter.node(arguments[0]))
    return f"CAST({text} AS date)" if rewriter.types.family(arguments[0]) is Family.DATE else text


@fixer("standard_hash")
def fix_standard_hash(place: Found, rewriter: Rewriter) -> str:
    """STANDARD_HASH(text, method) gives bytes."""
    value, *rest = call_of(place).arguments
    method = (text_value(rest[0], rewriter) or "").upper() if rest else "SHA1"
    data = (
        rewriter.node(value)
        if rewriter.types.family(value) is Family.BYTES
        else f"convert_to({rewriter.node(value)}, 'UTF8')"
    )
    if method == "MD5":
        return f"decode(md5({data}), 'hex')"
    if method in ("SHA256", "SHA384", "SHA512"):
        return f"{method.lower()}({data})"
    raise CannotDraft("SHA-1, which needs pgcrypto")


@fixer("raw_member")
def fix_raw_member(place: Found, rewriter: Rewriter) -> str:
    """Members of UTL_RAW over bytes."""
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    match call.parts[-1], len(values):
        case "CAST_TO_VARCHAR2", 1:
            return f"convert_from({values[0]}, 'UTF8')"
        case "CAST_TO_RAW", 1:
            return f"convert_to({values[0]}, 'UTF8')"
        case "LENGTH", 1:
            return f"length({values[0]})"
        case "CONCAT", _:
            return f"({' || '.join(values)})"
        case "SUBSTR", 2 | 3:
            return f"substr({', '.join(values)})"
    raise CannotDraft(f"{call.parts[-1]} of UTL_RAW")


@fixer("utility_member")
def fix_utility_member(place: Found, rewriter: Rewriter) -> str:
    """Members of DBMS_UTILITY: the clock in hundredths, and what is told of an error, which PL/pgSQL knows as SQLERRM."""
    node = place.node
    member = node.parts[-1] if isinstance(node, Call | Name) else ""
    if member in ("GET_TIME", "GET_CPU_TIME"):
        return "CAST(EXTRACT(EPOCH FROM clock_timestamp()) * 100 AS bigint)"
    if member in ("FORMAT_ERROR_STACK", "FORMAT_ERROR_BACKTRACE"):
        return "SQLERRM"
    raise CannotDraft(f"{member} of DBMS_UTILITY")


@fixer("xml_value")
def fix_xml_value(place: Found, rewriter: Rewriter) -> str:
    """EXTRACTVALUE(document, path) gives the text of one node."""
    document, path, *spaces = call_of(place).arguments
    text = text_value(path, rewriter)
    if text is None or spaces:
        raise CannotDraft("a path that is not a constant, or with name spaces")
    tail = "" if "@" in text.rsplit("/", 1)[-1] or text.endswith("text()") else "/text()"
    return f"CAST((xpath({literal(text + tail)}, {rewriter.node(document)}))[1] AS text)"


# --- structure ---


def add_oracle_points(rewriter: Rewriter) -> None:
    """Add the points of what Oracle writes in a way of its own, whatever construct it belongs to."""
    subject = rewriter.subject
    for at in range(subject.read.first, subject.read.last):
        word = rewriter.words[at]
        if rewriter.tokens.kinds[at] == NUMBER and word[-1:] in ("D", "F") and not word.startswith("0X"):
            kind = "double precision" if word[-1] == "D" else "real"
            rewriter.replace(at, at + 1, f"CAST({word[:-1]} AS {kind})")
    for node in subject.all(Operation):
        last = node.operands[-1] if node.operands else None
        if node.operators[-1:] and node.operators[-1].endswith((" ANY", " SOME", " ALL")) and isinstance(last, Row):
            rewriter.add(Point(last.first, last.last, partial(_listed, last)))
    for member in subject.all(Member):
        if member.parts[-1] in _XML_VALUES:
            rewriter.add(Point(member.first, member.last, partial(_extracted, member), rank=2))
    for window in subject.all(Window):
        _add_days(window, rewriter)
    for update in subject.all(Update):
        for target, value in update.assignments:
            if isinstance(target, Name) and target.parts == ("ROW",) and rewriter.words[target.first] == "ROW":
                rewriter.add(Point(target.first, value.last, partial(_record_assigned, update, value)))
    for call in subject.all(Call):
        if call.over is not None and _ignores_nulls(call, rewriter):
            rewriter.add(Point(call.first, call.last, partial(_without_nulls, call), rank=1))


def _extracted(member: Member, rewriter: Rewriter) -> str:
    """Write document.EXTRACT(path).GETSTRINGVAL() and its like."""
    call = member.owner
    path = text_value(call.arguments[0], rewriter) if isinstance(call, Call) and len(call.arguments) == 1 else None
    if path is None or not isinstance(call, Call) or call.parts[-1] != "EXTRACT" or len(call.parts) < 2:
        raise CannotDraft(f"{member.parts[-1].lower()}() of XML")
    document = rewriter.text(call.first, call.opening - 2)
    kind = "numeric" if member.parts[-1] == "GETNUMBERVAL" else "text"
    return f"CAST(CAST((xpath({literal(path)}, {document}))[1] AS text) AS {kind})"


def _listed(row: Row, rewriter: Rewriter) -> str:
    return f"(ARRAY[{rewriter.nodes(row.items)}])"


def _add_days(window: Window, rewriter: Rewriter) -> None:
    """Write RANGE n PRECEDING over dates as a span of days."""
    words = rewriter.words
    if "RANGE" not in words[window.first : window.last] or not window.order:
        return
    if rewriter.types.family(window.order[0].value) not in MOMENTS:
        return
    for at in range(window.first, window.last - 1):
        if rewriter.tokens.kinds[at] == NUMBER and words[at + 1] in ("PRECEDING", "FOLLOWING"):
            rewriter.replace(at, at + 1, f"interval '{words[at]} days'")


def _ignores_nulls(call: Call, rewriter: Rewriter) -> bool:
    words = rewriter.words[call.opening : call.last]
    return any(words[at : at + 2] == ["IGNORE", "NULLS"] for at in range(len(words) - 1))


def _without_nulls(call: Call, rewriter: Rewriter) -> str:
    """Write FIRST_VALUE and LAST_VALUE over the values that are not NULL, gathered into an array."""
    if call.parts[-1] not in ("FIRST_VALUE", "LAST_VALUE") or not isinstance(call.over, Node):
        raise CannotDraft(f"{call.parts[-1]} that passes over NULL")
    value = rewriter.node(call.arguments[0])
    gathered = f"(array_agg({value}) FILTER (WHERE {value} IS NOT NULL) OVER {rewriter.node(call.over)})"
    if call.parts[-1] == "FIRST_VALUE":
        return f"{gathered}[1]"
    return f"{gathered}[cardinality({gathered})]"


def _record_assigned(update: Update, value: Node, rewriter: Rewriter) -> str:
    """SET ROW = record: every column of the table from the field of its name."""
    table = rewriter.table(update.table.parts) if isinstance(update.table, TableRef) else None
    if table is None or not table.columns or not isinstance(value, Name):
        raise CannotDraft("a record of a table that is not known")
    record = rewriter.node(value)
    names = [rewriter.names.write(c.name) for c in table.columns if not c.generated and not c.identity]
    return ", ".join(f"{name} = {record}.{name}" for name in names)
