"""Conditions on the arguments of a call or the operands of a comparison, by which knowledge tells parts of a construct apart."""

from collections.abc import Callable
from itertools import pairwise
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.analyze.transactions import rollback_guard
from hullsound.sql.tree import Call, Comparison, If, Literal, Name, Node, Operation, Update

Condition = Callable[[Node, Subject], bool]

CONDITIONS: Final[dict[str, Condition]] = {}
_TIME_PARTS: Final = frozenset("HOUR HH MINUTE MI SECOND SS MILLISECOND MS MICROSECOND US".split())
_DATE_PARTS: Final = frozenset(
    """YEAR YY YYYY QUARTER QQ Q MONTH MM M DAY DD D HOUR HH MINUTE MI N SECOND SS S MILLISECOND MS DAYOFYEAR DY Y""".split()
)
"""Parts of a date that no setting of the session counts otherwise: Transact-SQL reference, "DATEPART"."""


def condition(name: str) -> Callable[[Condition], Condition]:
    """Register a condition under the name that knowledge gives in `where`. A name is registered once."""

    def register(holds: Condition) -> Condition:
        assert name not in CONDITIONS, f"condition {name} is registered twice"
        CONDITIONS[name] = holds
        return holds

    return register


@condition("constant-places")
def has_constant_places(node: Node, subject: Subject) -> bool:
    """Whether all but the first argument are whole numbers, none of them 0."""
    return isinstance(node, Call) and all(_is_whole(each, subject) for each in node.arguments[1:])


def _is_whole(node: Node, subject: Subject) -> bool:
    if isinstance(node, Operation) and node.operators == ["-"] and len(node.operands) == 1:
        node = node.operands[0]
    text = subject.source(node) if isinstance(node, Literal) else ""
    return text.isdecimal() and int(text) != 0


@condition("positive-places")
def has_positive_places(node: Node, subject: Subject) -> bool:
    """Whether all but the first argument are whole numbers above 0."""
    return has_constant_places(node, subject) and isinstance(node, Call) and not _has_minus(node)


@condition("three-positive-places")
def has_three_positive_places(node: Node, subject: Subject) -> bool:
    """Whether there are three arguments, and all but the first are whole numbers above 0."""
    return has_positive_places(node, subject) and isinstance(node, Call) and len(node.arguments) == 3


def _has_minus(call: Call) -> bool:
    return any(isinstance(each, Operation) for each in call.arguments[1:])


@condition("without-login")
def is_without_login(node: Node, subject: Subject) -> bool:
    """Whether a statement makes a user whom no login stands behind."""
    words = subject.words[node.first : node.last]
    return ("WITHOUT", "LOGIN") in pairwise(words)


@condition("guards-rollback")
def guards_rollback(node: Node, subject: Subject) -> bool:
    """Whether a test of the transaction leads to a ROLLBACK alone."""
    return any(rollback_guard(each) is node for each in subject.all(If))


@condition("no-arguments")
def has_no_arguments(node: Node, subject: Subject) -> bool:
    return isinstance(node, Call) and not node.arguments


@condition("one-argument")
def has_one_argument(node: Node, subject: Subject) -> bool:
    return isinstance(node, Call) and len(node.arguments) == 1


@condition("two-arguments")
def has_two_arguments(node: Node, subject: Subject) -> bool:
    return isinstance(node, Call) and len(node.arguments) == 2


@condition("ascii-code")
def has_ascii_code(node: Node, subject: Subject) -> bool:
    """Whether the one argument is the number of a sign of ASCII."""
    code = subject.source(node.arguments[0]) if isinstance(node, Call) and len(node.arguments) == 1 else ""
    return code.isdecimal() and 0 < int(code) < 128


@condition("settled-date-part")
def has_settled_date_part(node: Node, subject: Subject) -> bool:
    """Whether the first argument is a part of a date that is the same in every session, unlike weeks and weekdays."""
    first = node.arguments[0] if isinstance(node, Call) and node.arguments else None
    return isinstance(first, Name) and first.parts[-1] in _DATE_PARTS


@condition("hours-or-less")
def has_time_part(node: Node, subject: Subject) -> bool:
    """Whether the first argument is a part of a date that is shorter than a day."""
    first = node.arguments[0] if isinstance(node, Call) and node.arguments else None
    return isinstance(first, Name) and first.parts[-1] in _TIME_PARTS


@condition("of-update")
def is_update(node: Node, subject: Subject) -> bool:
    return isinstance(node, Update)


@condition("ascii-pattern")
def has_ascii_pattern(node: Node, subject: Subject) -> bool:
    """Whether the pattern is a constant of ASCII signs."""
    pattern = node.operands[1] if isinstance(node, Comparison) and len(node.operands) > 1 else None
    return isinstance(pattern, Literal) and pattern.form == "string" and subject.source(pattern).isascii()
