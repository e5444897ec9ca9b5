"""Values of several kinds beside each other, for Oracle and SQL Server, which convert by rules of their own or refuse.

Sources: Oracle Database 19c, "SQL Language Reference", "Data Type Comparison Rules"; Transact-SQL reference, "Data type
precedence"; MySQL 8.4 Reference Manual, "Type Conversion in Expression Evaluation".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.literals import string_content
from hullsound.sql.moments import parse_moment
from hullsound.sql.tree import (
    Call,
    Case,
    Comparison,
    Literal,
    Node,
    Operation,
)

from .beside import bare, constants_beside
from .edge_values import add_dividing_edges
from .inserted_values import bytes_constant
from .scales import add_strict_scales

_MYSQL: Final = ("mysql", "mariadb")
_ARITHMETIC: Final = frozenset(("+", "-", "*", "/", "%", "MOD", "DIV"))
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "=="))
_NUMBER: Final = re.compile(r"N?'\s*[+-]?\d+(\.\d+)?\s*'")
_LIKE_A_MOMENT: Final = re.compile(r"N?'\d{4}(-?)\d\d\1\d\d(?:[ T]\d\d:\d\d(?::\d\d(?:[.:]\d{1,9})?)?)?'")


def add_strict_values(rewriter: Rewriter) -> None:
    """Write or refuse what the source converts by itself: quotients, texts in arithmetic, choices of several kinds, moments."""
    if rewriter.catalog.engine in (*_MYSQL, "sqlite"):
        add_dividing_edges(rewriter)
    if rewriter.catalog.engine in _MYSQL:
        with rewriter.asked_by("convert.division"):
            add_strict_scales(rewriter)
        for node in (each for each in rewriter.subject.all(Operation) if each.operators == ["~"]):
            rewriter.add(
                Point(node.first, node.last, partial(_refuse, "~, which gives 64 bits without a sign"), rank=9)
            )
    with rewriter.asked_by("convert.unlike-types"):
        for node in rewriter.subject.all(Operation):
            _check_arithmetic(node, rewriter)
        for choice in (*rewriter.subject.all(Case), *rewriter.subject.all(Call)):
            _check_choices(choice, rewriter)
    if rewriter.target.engine == "oracle" and rewriter.catalog.engine != "oracle":
        with rewriter.asked_by("convert.moment"):
            _refuse_times(rewriter)
            for _, text in constants_beside(frozenset((Family.UNKNOWN,)), rewriter):
                source = rewriter.subject.source(bare(text))
                if _LIKE_A_MOMENT.fullmatch(source):
                    rewriter.add(
                        Point(
                            text.first, text.last, partial(_refuse, "a date as a text beside what may be one"), rank=9
                        )
                    )
            for _, text in constants_beside(frozenset((Family.UUID,)), rewriter):
                source = rewriter.subject.source(bare(text))
                rewriter.add(Point(text.first, text.last, partial(bytes_constant, source)))
            for node in rewriter.subject.all(Operation):
                _add_days(node, rewriter)


def refuse_session_dates(rewriter: Rewriter) -> None:
    """Refuse constant texts beside moments of Oracle, which the session's format reads."""
    for _, text in constants_beside(MOMENTS, rewriter):
        rewriter.add(
            Point(text.first, text.last, partial(_refuse, "a text as a date, in the session's format"), rank=9)
        )


def _refuse_times(rewriter: Rewriter) -> None:
    """Refuse comparisons and calculations with times of day: Oracle has no type for them, and their columns get another one."""
    nodes: list[Operation | Comparison] = [*rewriter.subject.all(Operation), *rewriter.subject.all(Comparison)]
    for node in nodes:
        if any(rewriter.types.family(each) is Family.TIME for each in node.operands):
            reason = "a time of day beside other values, for which the target has no type"
            rewriter.add(Point(node.first, node.last, partial(_refuse, reason), rank=9))


def _is_text(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is a text, other than a constant that every engine reads as the same number."""
    text = rewriter.subject.source(node) if isinstance(bare(node), Literal) else ""
    return rewriter.types.family(node) is Family.TEXT and not _NUMBER.fullmatch(text)


def _check_arithmetic(node: Operation, rewriter: Rewriter) -> None:
    """Refuse texts that are added up or compared as numbers."""
    families = {rewriter.types.family(each) for each in node.operands}
    is_sum = set(node.operators) <= _ARITHMETIC and any(_is_text(each, rewriter) for each in node.operands)
    joins = rewriter.catalog.engine in ("sqlserver", "ase") and "+" in node.operators
    is_mixed = not families.isdisjoint(NUMBERS) and Family.TEXT in families
    is_compared = set(node.operators) <= _COMPARED and any(_is_text(each, rewriter) for each in node.operands)
    if (is_sum and not joins) or (is_compared and is_mixed):
        rewriter.add(Point(node.first, node.last, partial(_refuse, "a text where a number is asked for"), rank=9))


def _check_choices(node: Node, rewriter: Rewriter) -> None:
    """Write numbers among texts as texts where they are constants, and refuse other choices among values of several kinds."""
    choices = choices_of(node, rewriter.catalog.engine)
    families = {rewriter.types.family(each) for each in choices} - {Family.UNKNOWN}
    if families == MOMENTS and rewriter.target.engine == "oracle" and rewriter.catalog.engine != "oracle":
        _add_timestamps(node, choices, rewriter)
        return
    if Family.TEXT not in families or len(families) < 2:
        return
    others = [each for each in choices if rewriter.types.family(each) not in (Family.TEXT, Family.UNKNOWN)]
    is_number = rewriter.catalog.engine in ("sqlserver", "ase")  # the number wins there
    if not is_number and all(isinstance(each, Literal) and each.form == "number" for each in others):
        for each in others:
            rewriter.add(Point(each.first, each.last, partial(_quoted, each)))
        return
    if families <= MOMENTS | {Family.TEXT} and all(_is_moment_constant(each, rewriter) for each in choices):
        return
    rewriter.add(Point(node.first, node.last, partial(_refuse, "a choice among values of several kinds"), rank=9))


def _add_timestamps(node: Node, choices: list[Node], rewriter: Rewriter) -> None:
    """Make timestamps of the days in a choice among days and timestamps; refuse one among moments that may have a zone."""
    days = [each for each in choices if rewriter.types.family(each) is Family.DATE]
    others = [rewriter.types.source_type(each) for each in choices if each not in days]
    if rewriter.catalog.engine == "postgresql" and any(
        kind is None or kind.name != "TIMESTAMP" or kind.arguments for kind in others
    ):
        rewriter.add(
            Point(node.first, node.last, partial(_refuse, "a choice among days and moments with a zone"), rank=9)
        )
        return
    for each in days:
        rewriter.wrap(each, partial(_timestamp, each), rank=9)


def _timestamp(node: Node, rewriter: Rewriter) -> str:
    """Write a day as a TIMESTAMP, which Oracle does not take beside a DATE in a choice (ORA-00932)."""
    return f"CAST({rewriter.node(node)} AS TIMESTAMP)"


def _add_days(node: Operation, rewriter: Rewriter) -> None:
    """Move a timestamp by a span of days: plus a number, Oracle makes a date of it, without its fraction."""
    if len(node.operands) == 2 and node.operators in (["+"], ["-"]) and not rewriter.rewrites(node):
        first, second = (rewriter.types.family(each) for each in node.operands)
        if first is Family.TIMESTAMP and second in NUMBERS:
            rewriter.add(Point(node.first, node.last, partial(_moved, node)))


def _moved(node: Operation, rewriter: Rewriter) -> str:
    moment, days = (rewriter.node(each) for each in node.operands)
    return f"({moment} {node.operators[0]} NUMTODSINTERVAL({days}, 'DAY'))"


def _is_moment_constant(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is a moment, or a constant that is read as one."""
    if rewriter.types.family(node) in MOMENTS:
        return True
    engine = rewriter.catalog.engine
    constant = bare(node)
    is_text = isinstance(constant, Literal) and constant.form == "string"
    return is_text and parse_moment(string_content(rewriter.subject.source(constant), engine), engine) is not None


def _quoted(node: Node, rewriter: Rewriter) -> str:
    return f"'{rewriter.subject.source(node)}'"


def _refuse(reason: str, rewriter: Rewriter) -> str:
    raise CannotDraft(reason)
