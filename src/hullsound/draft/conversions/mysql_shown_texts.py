"""Values of PostgreSQL that become texts without a cast, as MySQL and MariaDB have to be told to write them.

Sources: PostgreSQL 18, "String Functions and Operators" (|| casts its operands to text, CONCAT and CONCAT_WS take what a value is
shown as), "Character Types" (the blanks of a fixed length count where a value is shown) and "Boolean Type"; MySQL 8.4 Reference
Manual, "The CHAR and VARCHAR Types", which leaves those blanks out.
"""

from collections.abc import Callable, Mapping
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Name, Node, Operation

_JOINING: Final = ("CONCAT", "CONCAT_WS")
_COUNTING: Final = ("OCTET_LENGTH", "BIT_LENGTH")


def truth_as_text(value: Node, rewriter: Rewriter) -> str:
    return f"(CASE {rewriter.node(value)} WHEN 1 THEN 'true' WHEN 0 THEN 'false' END)"


def moment_as_text(value: Node, rewriter: Rewriter) -> str:
    """A fraction of a second is written without zeros at its end."""
    return _without_zeros(f"DATE_FORMAT({rewriter.node(value)}, '%Y-%m-%d %H:%i:%s.%f')")


def time_as_text(value: Node, rewriter: Rewriter) -> str:
    return _without_zeros(f"TIME_FORMAT({rewriter.node(value)}, '%H:%i:%s.%f')")


def add_joined_moments(rewriter: Rewriter) -> None:
    """Add the texts of SQLite, in which moments are texts without a fraction, or with the one that they were given."""
    for node in rewriter.subject.all(Operation):
        for operand in node.operands if set(node.operators) == {"||"} else ():
            if rewriter.types.family(operand) is Family.TIMESTAMP:
                rewriter.wrap(operand, partial(moment_as_text, operand), rank=8)


def add_shown_texts(rewriter: Rewriter) -> None:
    """Add the texts that joined and measured values become."""
    for node in rewriter.subject.all(Operation):
        if set(node.operators) == {"||"}:
            for operand in node.operands:
                _add(operand, _OF_FAMILY, rewriter)
    for call in rewriter.subject.all(Call):
        name = call.parts[-1] if len(call.parts) == 1 else ""
        for argument in call.arguments if name in _JOINING else ():
            _add(argument, _SHOWN, rewriter)
        for argument in call.arguments if name in (*_JOINING, *_COUNTING) else ():
            _add_blanks(argument, rewriter)


def _add(value: Node, forms: Mapping[Family, Callable[[Node, Rewriter], str]], rewriter: Rewriter) -> None:
    form = forms.get(rewriter.types.family(value))
    if form is not None:
        rewriter.wrap(value, partial(form, value), rank=8)
    elif _has_digits_of_its_own(value, rewriter):
        rewriter.add(Point(value.first, value.last, _refuse_digits, rank=9))


def _add_blanks(value: Node, rewriter: Rewriter) -> None:
    """Fill up a column of fixed length, which is read without its blanks."""
    kind = rewriter.types.source_type(value) if isinstance(value, Name) else None
    logical = logical_type("postgresql", kind) if kind is not None else None
    if logical is not None and logical.kind == "fixed-text" and logical.length > 1:
        rewriter.wrap(value, partial(_filled, value, logical.length), rank=8)


def _filled(value: Node, length: int, rewriter: Rewriter) -> str:
    return f"RPAD({rewriter.node(value)}, {length}, ' ')"


def _shown_truth(value: Node, rewriter: Rewriter) -> str:
    return f"(CASE {rewriter.node(value)} WHEN 1 THEN 't' WHEN 0 THEN 'f' END)"


def _has_digits_of_its_own(value: Node, rewriter: Rewriter) -> bool:
    """Whether each value has as many digits behind the point as it was given: NUMERIC without a size."""
    kind = rewriter.types.source_type(value)
    return kind is not None and kind.name in ("NUMERIC", "DECIMAL") and not kind.arguments


def _refuse_digits(_rewriter: Rewriter) -> str:
    raise CannotDraft("a number as a text, whose type does not say how many digits it has")


def _without_zeros(text: str) -> str:
    return f"TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM {text}))"


_OF_FAMILY: Final = {Family.BOOLEAN: truth_as_text, Family.TIMESTAMP: moment_as_text, Family.TIME: time_as_text}
_SHOWN: Final = _OF_FAMILY | {Family.BOOLEAN: _shown_truth}
