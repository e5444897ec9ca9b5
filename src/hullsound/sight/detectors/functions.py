"""Predicates over calls whose meaning depends on their arguments."""

import re
from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, Need, detector, found
from hullsound.sight.values import Value, value_of
from hullsound.sql.tree import Call, Literal, Name, Node, Operation

_DATE_MASK: Final = re.compile(
    r"(?:FM|Y,YYY|YYYY|YYY|YY|IYYY|MONTH|MON|MM|DDD|DD|DAY|DY|D|HH24|HH12|HH|MI|SSSSS|SS|FF[1-6]|AM|PM|A\.M\.|P\.M\.|Q|WW|IW|W|"
    r"CC|RM|J|TZH|TZM|TH|BC|AD|\"[^\"]*\"|[-/,.;: ])+",
    re.IGNORECASE,
)
_NUMBER_MASK: Final = re.compile(r"(?:FM)?[SL$]?[09,.GD]+(?:MI|PR|S)?|FMX+", re.IGNORECASE)
_MASK_ELEMENT: Final = re.compile(r'"[^"]*"|MONTH|MON|DDD|DD|DAY|DY|D|[A-Z0-9]+?(?=MONTH|MON|D|[^A-Z0-9]|$)')
_LANGUAGE_ELEMENTS: Final = frozenset(("MONTH", "MON", "DAY", "DY", "D"))
_TRUNCATE_UNITS: Final = frozenset(
    (
        "YYYY",
        "YEAR",
        "YY",
        "Y",
        "Q",
        "MM",
        "MONTH",
        "MON",
        "DD",
        "DDD",
        "J",
        "HH",
        "HH24",
        "HH12",
        "MI",
        "IW",
        "WW",
        "W",
        "DAY",
        "DY",
        "D",
    )
)


def literal_text(node: Node, subject: Subject) -> str | None:
    """Return the content of a plain string literal; None for anything else."""
    if isinstance(node, Literal) and node.form == "string":
        source = subject.source(node)
        if source.startswith("'"):
            return source[1:-1].replace("''", "'")
    return None


def is_date_mask(mask: str) -> bool:
    return _DATE_MASK.fullmatch(mask) is not None


def _mask_known(call: Call, subject: Subject) -> bool:
    """Whether the second argument is a constant mask of elements that are shared."""
    if len(call.arguments) != 2:
        return False
    mask = literal_text(call.arguments[1], subject)
    if mask is None:
        return False
    return is_date_mask(mask) or (call.parts[-1] == "TO_CHAR" and _NUMBER_MASK.fullmatch(mask) is not None)


def _depends_on_language(call: Call, subject: Subject) -> bool:
    """Whether a mask has names of days or months, or the number of the weekday, which the session's settings decide."""
    mask = (literal_text(call.arguments[1], subject) or "").upper() if len(call.arguments) == 2 else ""
    elements = _MASK_ELEMENT.findall(mask)
    return is_date_mask(mask) and any(element in _LANGUAGE_ELEMENTS for element in elements)


@detector("to-char-mask", Call, names=("TO_CHAR",))
def see_to_char_mask(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_CHAR",) and _mask_known(node, subject) and not _depends_on_language(node, subject):
        yield found(node)


@detector("to-char-language", Call, names=("TO_CHAR",))
def see_to_char_language(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_CHAR",) and _depends_on_language(node, subject):
        yield found(node)


@detector("to-char-plain", Call, names=("TO_CHAR",))
def see_to_char_plain(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_CHAR",) and len(node.arguments) == 1:
        yield found(node)


@detector("to-char-odd-mask", Call, names=("TO_CHAR",))
def see_to_char_odd_mask(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_CHAR",) and len(node.arguments) > 1 and not _mask_known(node, subject):
        yield found(node)


@detector("to-date-mask", Call, names=("TO_DATE",))
def see_to_date_mask(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_DATE",) and _mask_known(node, subject) and _tells_month(node, subject):
        yield found(node)


def _tells_month(call: Call, subject: Subject) -> bool:
    """Whether a mask tells year and month, which Oracle takes from the clock where it does not."""
    mask = (literal_text(call.arguments[1], subject) or "").upper() if len(call.arguments) > 1 else ""
    return "J" in mask or ("Y" in mask and any(element in mask for element in ("MM", "MON", "DDD", "RM")))


def is_rounded_year_mask(call: Call, subject: Subject) -> bool:
    """Whether a call's mask is a known one but for the year elements RR and RRRR."""
    if len(call.arguments) != 2:
        return False
    mask = (literal_text(call.arguments[1], subject) or "").upper()
    return "RR" in mask and is_date_mask(mask.replace("RRRR", "YYYY").replace("RR", "YY"))


@detector("to-date-rounded-year", Call, names=("TO_DATE",))
def see_to_date_rounded_year(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_DATE",) and is_rounded_year_mask(node, subject):
        yield found(node)


@detector("to-date-odd", Call, names=("TO_DATE",))
def see_to_date_odd(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_DATE",) and not (
        (_mask_known(node, subject) and _tells_month(node, subject)) or is_rounded_year_mask(node, subject)
    ):
        yield found(node)


@detector("to-number-plain", Call, names=("TO_NUMBER",))
def see_to_number_plain(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_NUMBER",) and len(node.arguments) == 1 and not node.modified:
        yield found(node)


@detector("to-number-mask", Call, names=("TO_NUMBER",))
def see_to_number_mask(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TO_NUMBER",) and (len(node.arguments) > 1 or node.modified):
        yield found(node)


def _date_needs(value: Value) -> tuple[Need, ...] | None:
    if value.kind:
        return () if value.kind in ("date", "timestamp") else None
    return ((*value.column, "date or timestamp"),) if value.column else None


def truncate_unit(node: Call, subject: Subject) -> str | None:
    """Return the mask of TRUNC(date, mask) if it is a known one; 'DD' without a mask."""
    if len(node.arguments) == 1:
        return "DD"
    mask = literal_text(node.arguments[1], subject)
    return mask.upper() if mask and mask.upper() in _TRUNCATE_UNITS else None


@detector("truncate-date", Call, names=("TRUNC", "TRUNC_TIMESTAMP"))
def see_truncate_date(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("TRUNC_TIMESTAMP",):
        yield found(node)
    elif node.parts == ("TRUNC",) and node.arguments:
        needs = _date_needs(value_of(node.arguments[0], subject))
        if truncate_unit(node, subject) is None:
            return
        if len(node.arguments) == 2 and needs is None:
            needs = ()
        if needs is not None:
            yield found(node, needs=needs if len(node.arguments) == 1 else ())


@detector("truncate-unknown", Call, names=("TRUNC",))
def see_truncate_unknown(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts != ("TRUNC",) or not node.arguments:
        return
    mask = literal_text(node.arguments[1], subject) if len(node.arguments) == 2 else ""
    if mask and truncate_unit(node, subject) is None:
        yield found(node, f"unit {mask}")
    elif len(node.arguments) == 1 and value_of(node.arguments[0], subject) == Value():
        yield found(node)


@detector("truncate-number", Call, names=("TRUNC",))
def see_truncate_number(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts != ("TRUNC",) or not node.arguments:
        return
    value = value_of(node.arguments[0], subject)
    if value.kind == "number":
        yield found(node)
    elif value.column is not None:
        yield found(node, needs=((*value.column, "number"),))


@detector("round-date", Call, names=("ROUND",))
def see_round_date(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("ROUND",) and node.arguments:
        needs = _date_needs(value_of(node.arguments[0], subject))
        if needs is not None and (len(node.arguments) == 1 or literal_text(node.arguments[1], subject)):
            yield found(node, needs=needs)


@detector("instr-simple", Call, names=("INSTR",))
def see_instr_simple(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("INSTR",) and len(node.arguments) == 2:
        yield found(node)


@detector("instr-position", Call, names=("INSTR",))
def see_instr_position(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("INSTR",) and len(node.arguments) > 2:
        yield found(node)


@detector("substr-from-end", Call, names=("SUBSTR",))
def see_substr_from_end(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("SUBSTR",) and len(node.arguments) > 1:
        start = node.arguments[1]
        if isinstance(start, Operation) and start.operators == ["-"] and isinstance(start.operands[0], Literal):
            yield found(node)


@detector("lob-length", Call, names=("GETLENGTH",))
def see_lob_length(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-2:] == ("DBMS_LOB", "GETLENGTH"):
        yield found(node)


@detector("put-line", Call, names=("PUT_LINE",))
def see_put_line(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-2:] == ("DBMS_OUTPUT", "PUT_LINE") and len(node.arguments) == 1:
        yield found(node)


@detector("random-value", Name, Call, texts=("DBMS_RANDOM",))
def see_random_value(node: Name | Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-2:] == ("DBMS_RANDOM", "VALUE"):
        yield found(node)


@detector("regexp-replace", Call, names=("REGEXP_REPLACE",))
def see_regexp_replace(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("REGEXP_REPLACE",) and len(node.arguments) <= 3:
        yield found(node)


@detector("regexp-replace-position", Call, names=("REGEXP_REPLACE",))
def see_regexp_replace_position(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("REGEXP_REPLACE",) and len(node.arguments) > 3:
        yield found(node)


@detector("interval-from-number", Call, names=("NUMTODSINTERVAL", "NUMTOYMINTERVAL"))
def see_interval_from_number(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-1] in ("NUMTODSINTERVAL", "NUMTOYMINTERVAL") and len(node.arguments) == 2:
        yield found(node)


@detector("user-environment", Call, names=("SYS_CONTEXT",))
def see_user_environment(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-1] == "SYS_CONTEXT" and node.arguments:
        space = literal_text(node.arguments[0], subject)
        if space is not None and space.upper() == "USERENV":
            yield found(node)


@detector("session-context", Call, names=("SYS_CONTEXT",))
def see_session_context(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-1] == "SYS_CONTEXT" and node.arguments:
        space = literal_text(node.arguments[0], subject)
        if space is None or space.upper() != "USERENV":
            yield found(node)


COVERED: Final = frozenset((("DBMS_LOB", "GETLENGTH"), ("DBMS_OUTPUT", "PUT_LINE"), ("DBMS_RANDOM", "VALUE")))
"""Members of supplied packages that have a construct of their own beside that of the package."""


@detector("made-interval", Call, names=("MAKE_INTERVAL",))
def see_made_interval(node: Call, subject: Subject) -> Iterable[Found]:
    """A span made of numbers, with the sum that it moves a moment by."""
    around = subject.read.parent(node)
    is_moved = isinstance(around, Operation) and around.operators in (["+"], ["-"]) and around.operands[-1] is node
    yield found(around if around is not None and is_moved else node)
