"""What functions and operators of Oracle give at the edges, where those of MySQL and MariaDB give something else.

Sources: Oracle Database 19c SQL Language Reference, "Functions"; MySQL 8.4 Reference Manual and MariaDB 10.11, "String Functions",
"Bit Functions and Operators", "Arithmetic Operators".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Literal, Operation

from .mysql_common import is_float, is_whole_constant, whole

_EXACT: Final = "DECIMAL(65,30)"
_CASE: Final = "(?-i)"
"""What tells a regular expression to mind case, whatever the collation says."""


def add_for_oracle(rewriter: Rewriter) -> None:
    """Add the points of calls and divisions."""
    for call in rewriter.subject.all(Call):
        form = _OF_ORACLE.get((call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators and all(rewriter.types.family(each) in NUMBERS for each in node.operands):
            first = node.operands[0]
            if not is_float(first, rewriter):
                rewriter.wrap(first, lambda r, first=first: f"CAST({r.node(first)} AS {_EXACT})", rank=4)  # type: ignore[misc]


def _from_one(call: Call, rewriter: Rewriter) -> str:
    """SUBSTR from place 0 is SUBSTR from place 1."""
    text, start, *length = call.arguments
    place = whole(start, rewriter)
    if not is_whole_constant(start, rewriter) and not place.lstrip("-").isdigit():
        place = f"IF({place} = 0, 1, {place})"
    elif place == "0":
        place = "1"
    tail = f", {whole(length[0], rewriter)}" if length else ""
    return f"SUBSTR({rewriter.node(text)}, {place}{tail})"


def _sized(call: Call, rewriter: Rewriter) -> str:
    text, size, *fill = call.arguments
    filled = [rewriter.node(each) for each in fill] or ["' '"]
    return f"{call.parts[0]}({', '.join([rewriter.node(text), whole(size, rewriter), *filled])})"


def _trimmed(call: Call, rewriter: Rewriter) -> str:
    """LTRIM and RTRIM of a set of signs."""
    letters = text_value(call.arguments[1], rewriter)
    text = rewriter.node(call.arguments[0])
    if not letters:
        raise CannotDraft(f"{call.parts[0]} of signs that are not constants")
    side = "LEADING" if call.parts[0] == "LTRIM" else "TRAILING"
    if len(letters) == 1:
        return f"TRIM({side} {rewriter.node(call.arguments[1])} FROM {text})"
    signs = re.sub(r"([\\\]^-])", r"\\\\\1", letters).replace("'", "''")
    pattern = f"{_CASE}^[{signs}]+" if side == "LEADING" else f"{_CASE}[{signs}]+$"
    return f"REGEXP_REPLACE({text}, '{pattern}', '')"


def _joined(call: Call, rewriter: Rewriter) -> str:
    return f"CONCAT_WS('', {rewriter.nodes(call.arguments)})"


def _bits_of_both(call: Call, rewriter: Rewriter) -> str:
    return f"CAST({' & '.join(f'({rewriter.node(each)})' for each in call.arguments)} AS SIGNED)"


def _remainder(call: Call, rewriter: Rewriter) -> str:
    """MOD by zero is the first number."""
    value, divisor = call.arguments
    text = f"MOD({rewriter.nodes(call.arguments)})"
    if isinstance(divisor, Literal) and rewriter.subject.source(divisor).strip("0."):
        return text
    return f"(CASE WHEN {rewriter.node(divisor)} = 0 THEN {rewriter.node(value)} ELSE {text} END)"


def _character_or_null(call: Call, rewriter: Rewriter) -> str:
    """CHAR passes over NULL, and gives an empty text."""
    code = rewriter.node(call.arguments[0])
    text = f"CHAR({code} USING utf8mb4)"
    return text if isinstance(call.arguments[0], Literal) else f"(CASE WHEN {code} IS NOT NULL THEN {text} END)"


_ONE_SIGN: Final = re.compile(r"\[\^?(?:\[:\w+:\]|[^\]\[])+\]|\w")
"""Patterns that fit one sign at a time."""


def _counted(call: Call, rewriter: Rewriter) -> str:
    """REGEXP_COUNT of a pattern that fits one sign: how much shorter the text is without them."""
    text, pattern = rewriter.node(call.arguments[0]), text_value(call.arguments[1], rewriter)
    if pattern is None or not _ONE_SIGN.fullmatch(pattern):
        raise CannotDraft("a count of what fits a pattern of several signs")
    quoted = (_CASE + pattern).replace("\\", "\\\\").replace("'", "''")
    return f"(CHAR_LENGTH({text}) - CHAR_LENGTH(REGEXP_REPLACE({text}, '{quoted}', '')))"


def _nth_fit(call: Call, rewriter: Rewriter) -> str:
    """REGEXP_SUBSTR from a place on, or of a later fit, which MySQL has and MariaDB has not."""
    if rewriter.target.engine != "mysql" or len(call.arguments) > 4:
        raise CannotDraft(f"{call.parts[0]} with {len(call.arguments)} arguments")
    text, pattern, *counts = call.arguments
    return f"REGEXP_SUBSTR({', '.join([*map(rewriter.node, (text, pattern)), *(whole(each, rewriter) for each in counts)])})"


_OF_ORACLE: Final = {
    ("SUBSTR", 2): _from_one, ("SUBSTR", 3): _from_one, ("LPAD", 2): _sized, ("LPAD", 3): _sized, ("RPAD", 2): _sized,
    ("RPAD", 3): _sized, ("LTRIM", 2): _trimmed, ("RTRIM", 2): _trimmed, ("CONCAT", 2): _joined, ("BITAND", 2): _bits_of_both,
    ("MOD", 2): _remainder, ("CHR", 1): _character_or_null,
    ("REGEXP_COUNT", 2): _counted, **{("REGEXP_SUBSTR", count): _nth_fit for count in (3, 4, 5, 6)},
}  # fmt: skip
"""What writes a call anew, by its name and number of arguments."""
