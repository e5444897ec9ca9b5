"""EXTRACT(EPOCH ...) of PostgreSQL: seconds between two moments, or since 1970, with their fraction.

Sources: PostgreSQL 18, "EXTRACT, date_part"; MySQL 8.4 Reference Manual, TIMESTAMPDIFF; Transact-SQL reference, DATEDIFF_BIG;
Oracle Database 19c, SQL Language Reference, "Datetime/Interval Arithmetic".
"""

import re
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Literal, Name, Node, Operation, Paren, TypedLiteral

_START: Final = {
    "mysql": "'1970-01-01'", "mariadb": "'1970-01-01'", "sqlserver": "CAST('19700101' AS datetime2)",
    "oracle": "TIMESTAMP '1970-01-01 00:00:00'",
}  # fmt: skip
_START_IN_UTC: Final = {
    "sqlserver": "CAST('1970-01-01 00:00:00 +00:00' AS datetimeoffset)", "oracle": "TIMESTAMP '1970-01-01 00:00:00 +00:00'",
}  # fmt: skip
_CLOCKS: Final = frozenset(("CURRENT_TIMESTAMP", "NOW", "STATEMENT_TIMESTAMP", "TRANSACTION_TIMESTAMP"))
_PLAIN: Final = re.compile(r"'\d{4}-\d\d-\d\d( \d\d:\d\d(:\d\d(\.\d+)?)?)?'$")
"""A moment without a zone."""
_MYSQL: Final = ("mysql", "mariadb")


def seconds_of(call: Call, rewriter: Rewriter) -> str:
    """Write EXTRACT(EPOCH FROM a - b) and EXTRACT(EPOCH FROM a) of timestamps, all of them with zones or none.

    Raises CannotDraft for others.
    """
    value: Node = call.arguments[-1]
    while isinstance(value, Paren):
        value = value.inner
    is_difference = isinstance(value, Operation) and value.operators == ["-"] and len(value.operands) == 2
    parts = value.operands if isinstance(value, Operation) and is_difference else [value]
    engine = rewriter.target.engine
    is_zoned = all(_is_zoned_moment(each, rewriter) for each in parts)
    if not is_zoned and any(not _is_plain_moment(each, rewriter) for each in parts):
        raise CannotDraft(
            "seconds of something that is no moment, of moments with and without a zone, or no difference of two"
        )
    last = rewriter.node(parts[0])
    if is_zoned and engine in _MYSQL:  # which keep them in the session's zone, between 1970 and 2038
        if len(parts) == 1:
            return f"UNIX_TIMESTAMP({last})"
        return f"(UNIX_TIMESTAMP({last}) - UNIX_TIMESTAMP({rewriter.node(parts[1])}))"
    start = (_START_IN_UTC if is_zoned else _START)[engine]
    first = rewriter.node(parts[1]) if len(parts) > 1 else start
    if engine in _MYSQL:
        return f"(CAST(TIMESTAMPDIFF(MICROSECOND, {first}, {last}) AS DECIMAL(30, 6)) / 1000000)"
    if engine == "sqlserver":
        return f"(CAST(DATEDIFF_BIG(microsecond, {first}, {last}) AS decimal(25, 6)) / 1000000)"
    if not all(isinstance(each, Name | Literal | TypedLiteral) or _is_clock(each) for each in parts):
        raise CannotDraft("seconds between values that would be written four times")
    span = f"({last} - {first})"
    units = (("DAY", 86400), ("HOUR", 3600), ("MINUTE", 60))
    text = " + ".join(f"EXTRACT({unit} FROM {span}) * {seconds}" for unit, seconds in units)
    return f"({text} + EXTRACT(SECOND FROM {span}))"


def _is_clock(node: Node) -> bool:
    return isinstance(node, Name | Call) and len(node.parts) == 1 and node.parts[0] in _CLOCKS


def _is_zoned_moment(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is a clock, or a column or variable that holds moments in UTC."""
    source = rewriter.types.source_type(node) if isinstance(node, Name) else None
    return _is_clock(node) or (source is not None and ("ZONE" in source.name or source.name == "TIMESTAMPTZ"))


def _is_plain_moment(node: Node, rewriter: Rewriter) -> bool:
    if isinstance(node, TypedLiteral):
        return node.form.upper() == "TIMESTAMP" and _PLAIN.search(rewriter.subject.source(node)) is not None
    source = rewriter.types.source_type(node)
    has_zone = source is not None and ("ZONE" in source.name or source.name == "TIMESTAMPTZ")
    return rewriter.types.family(node) is Family.TIMESTAMP and source is not None and not has_zone
