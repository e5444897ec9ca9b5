"""What PostgreSQL's operators and functions give where those of MySQL and MariaDB give something else, or are not there.

Source: PostgreSQL 18, "Functions and Operators"; MySQL 8.4 Reference Manual and MariaDB 10.11, the chapters of the same name.
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.collations import EXACT
from hullsound.sql.tree import Call, Cast, Node, Operation

from .ages import is_age, part_of_age
from .mysql_common import add_exact_quotients
from .mysql_shown_texts import add_shown_texts, moment_as_text, time_as_text, truth_as_text

_ON_BITS: Final = frozenset(("&", "|", "~", "<<"))
_FIELDS: Final = {
    "DOW": "(DAYOFWEEK({0}) - 1)", "ISODOW": "(WEEKDAY({0}) + 1)", "DOY": "DAYOFYEAR({0})", "WEEK": "WEEK({0}, 3)",
}  # fmt: skip
"""Fields of EXTRACT that are functions there; weeks are those of ISO 8601."""
_SAME_FIELDS: Final = ("YEAR", "QUARTER", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND", "MILLISECONDS", "MICROSECONDS")
_PREFIXES: Final = {"|/": "SQRT({0})", "@": "ABS({0})"}


def add_for_postgresql(rewriter: Rewriter) -> None:
    """Add the points of operators, casts and calls."""
    add_exact_quotients(rewriter)
    add_shown_texts(rewriter)
    for node in rewriter.subject.all(Operation):
        _add_operation(node, rewriter)
    for cast in rewriter.subject.all(Cast):
        form = _CASTS.get((rewriter.types.family(cast.value), rewriter.types.family(cast)))
        if form is not None:
            rewriter.wrap(cast, partial(form, cast.value), rank=2)
    for call in rewriter.subject.all(Call):
        form_of_call = _CALLS.get(call.parts[0]) if len(call.parts) == 1 else None
        if form_of_call is not None:
            rewriter.wrap(call, partial(form_of_call, call), rank=2)


def _add_operation(node: Operation, rewriter: Rewriter) -> None:
    operators, kinds = set(node.operators), [rewriter.types.family(each) for each in node.operands]
    if operators <= _ON_BITS:
        rewriter.wrap(node, lambda r: f"CAST({r.node(node)} AS SIGNED)", rank=4)
    elif operators <= {"#", ">>"} and len(node.operands) == 2:
        rewriter.wrap(node, partial(_on_bits, node), rank=4)
    elif len(node.operands) == 1 and operators <= _PREFIXES.keys():
        rewriter.wrap(node, lambda r: _PREFIXES[node.operators[0]].format(r.node(node.operands[0])), rank=4)
    elif operators == {"COLLATE"}:
        rewriter.wrap(node, partial(_collated, node), rank=2)
    elif operators == {"-"} and len(kinds) == 2 and Family.TIMESTAMP in kinds and set(kinds) <= MOMENTS:
        rewriter.add(Point(node.first, node.last, _refuse_interval, rank=5))


def _refuse_interval(rewriter: Rewriter) -> str:
    raise CannotDraft("the interval between two moments")


def _on_bits(node: Operation, rewriter: Rewriter) -> str:
    one, other = (rewriter.node(each) for each in node.operands)
    if node.operators == ["#"]:
        return f"CAST({one} ^ {other} AS SIGNED)"
    return f"CAST(FLOOR({one} / (1 << {other})) AS SIGNED)"  # the sign stays


def _collated(node: Operation, rewriter: Rewriter) -> str:
    name = rewriter.words[node.last - 1].strip('"').upper()
    if name not in ("C", "POSIX", "C.UTF8", "UCS_BASIC"):
        raise CannotDraft(f"the collation {name.lower()}")
    return f"{rewriter.node(node.operands[0])} COLLATE {EXACT}"


# --- casts ---


def _number_as_truth(value: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(value)} <> 0)"


_CASTS: Final = {
    (Family.BOOLEAN, Family.TEXT): truth_as_text, (Family.TIMESTAMP, Family.TEXT): moment_as_text,
    (Family.TIME, Family.TEXT): time_as_text,
    (Family.INTEGER, Family.BOOLEAN): _number_as_truth,
}  # fmt: skip
"""What writes a cast anew, by the families of the value and of the type."""


# --- calls ---


def _trimmed(call: Call, rewriter: Rewriter) -> str:
    """LTRIM, RTRIM and BTRIM of a set of signs."""
    if len(call.arguments) < 2:
        return f"{'TRIM' if call.parts[0] == 'BTRIM' else call.parts[0]}({rewriter.nodes(call.arguments)})"
    letters = text_value(call.arguments[1], rewriter)
    if not letters:
        raise CannotDraft(f"{call.parts[0].lower()} of signs that are not constants")
    signs = re.sub(r"([\\\]^-])", r"\\\\\1", letters).replace("'", "''")
    text = rewriter.node(call.arguments[0])
    if call.parts[0] != "RTRIM":
        text = f"REGEXP_REPLACE({text}, '(?-i)^[{signs}]+', '')"
    if call.parts[0] != "LTRIM":
        text = f"REGEXP_REPLACE({text}, '(?-i)[{signs}]+\\\\z', '')"
    return text


def _end_of(call: Call, rewriter: Rewriter) -> str:
    """LEFT and RIGHT of a count below 0 leave so many signs out at the other end."""
    text, count = (rewriter.node(each) for each in call.arguments)
    source = rewriter.subject.source(call.arguments[1])
    if source.isdigit():
        return f"{call.parts[0]}({text}, {count})"
    rest = f"GREATEST(CHAR_LENGTH({text}) + {count}, 0)"
    length = rest if source.replace(" ", "").lstrip("-").isdigit() else f"IF({count} < 0, {rest}, {count})"
    return f"{call.parts[0]}({text}, {length})"


def _joined(call: Call, rewriter: Rewriter) -> str:
    return f"CONCAT_WS('', {rewriter.nodes(call.arguments)})"


def _extreme(call: Call, rewriter: Rewriter) -> str:
    """GREATEST and LEAST pass over NULL: each value is taken in turn where those before it are NULL."""
    values = [rewriter.node(each) for each in call.arguments]
    if len(values) < 2 or all(rewriter.types.is_never_null(each) for each in call.arguments):
        return f"{call.parts[0]}({', '.join(values)})"
    turned = (f"COALESCE({', '.join([*values[at:], *values[:at]])})" for at in range(len(values)))
    return f"{call.parts[0]}({', '.join(turned)})"


def _pattern(node: Node, flags: str, rewriter: Rewriter) -> str:
    """Write a constant pattern that minds case unless a flag says otherwise."""
    known = text_value(node, rewriter)
    if known is None or set(flags) - set("gi"):
        raise CannotDraft("a pattern that is not a constant, or with other flags than g and i")
    if re.search(r"(?<!\\)\$$", known):
        known = known[:-1] + r"\z"
    option = "(?i)" if "i" in flags else "(?-i)"
    return "'" + (option + known).replace("\\", "\\\\").replace("'", "''") + "'"


def _replaced_by_pattern(call: Call, rewriter: Rewriter) -> str:
    """REGEXP_REPLACE, which replaces the first fit alone unless it is told g."""
    text, pattern, new, *rest = call.arguments
    flags = (text_value(rest[0], rewriter) if rest else "") or ""
    put = text_value(new, rewriter)
    if put is None or (rest and not flags) or len(rest) > 1:
        raise CannotDraft("a replacement that is not a constant, or from a place on")
    is_mysql = rewriter.target.engine == "mysql"
    put = re.sub(r"\\(\d)", r"$\1" if is_mysql else r"\\\\\1", put).replace("'", "''")
    if "g" not in flags and not is_mysql:
        raise CannotDraft("a replacement of the first fit alone")
    tail = "" if "g" in flags else ", 1, 1"
    return f"REGEXP_REPLACE({rewriter.node(text)}, {_pattern(pattern, flags, rewriter)}, '{put}'{tail})"


def _found_by_pattern(call: Call, rewriter: Rewriter) -> str:
    if len(call.arguments) != 2:
        raise CannotDraft("a fit from a place on, or a later one")
    text, pattern = call.arguments
    return f"NULLIF(REGEXP_SUBSTR({rewriter.node(text)}, {_pattern(pattern, '', rewriter)}), '')"


def _tested_by_pattern(call: Call, rewriter: Rewriter) -> str:
    text, pattern, *flags = call.arguments
    flag = (text_value(flags[0], rewriter) if flags else "") or ""
    return f"({rewriter.node(text)} REGEXP {_pattern(pattern, flag, rewriter)})"


def _refused(call: Call, rewriter: Rewriter) -> str:
    raise CannotDraft(f"{call.parts[0].lower()}, which is not there")


def _extracted(call: Call, rewriter: Rewriter) -> str:
    field = rewriter.words[call.opening + 1].strip("'").upper()
    value = call.arguments[-1]
    if field == "EPOCH":
        return rewriter.node(call)
    if is_age(value):
        return part_of_age(field, value, rewriter)
    if rewriter.types.family(value) not in (*MOMENTS, Family.TIME):
        raise CannotDraft("a part of something that is no moment")
    if field in _SAME_FIELDS:
        return rewriter.node(call)
    if field not in _FIELDS:
        raise CannotDraft(f"the part {field.lower()} of a moment")
    return _FIELDS[field].format(rewriter.node(value))


_CALLS: Final = {
    "LTRIM": _trimmed, "RTRIM": _trimmed, "BTRIM": _trimmed, "LEFT": _end_of, "RIGHT": _end_of, "CONCAT": _joined,
    "GREATEST": _extreme, "LEAST": _extreme, "REGEXP_REPLACE": _replaced_by_pattern, "REGEXP_SUBSTR": _found_by_pattern,
    "REGEXP_LIKE": _tested_by_pattern, "REGEXP_COUNT": _refused, "EXTRACT": _extracted,
}  # fmt: skip
"""What writes a call anew, by its name."""
