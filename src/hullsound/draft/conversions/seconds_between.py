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
_PLAIN: Final = re.compile(r"'\d{4}-\d\d-\d\d( \d\d:\d\d(:\d\d(\.\d+)?)?)?'$")
"""A moment without a zone."""
_MYSQL: Final = ("mysql", "mariadb")


def seconds_of(call: Call, rewriter: Rewriter) -> str:
    """Write EXTRACT(EPOCH FROM a - b) and EXTRACT(EPOCH FROM a) of timestamps without zones. Raises CannotDraft for others."""
    value: Node = call.arguments[-1]
    while isinstance(value, Paren):
        value = value.inner
    is_difference = isinstance(value, Operation) and value.operators == ["-"] and len(value.operands) == 2
    parts = value.operands if isinstance(value, Operation) and is_difference else [value]
    if any(not _is_plain_moment(each, rewriter) for each in parts):
        raise CannotDraft("seconds of something that is no moment without a zone, or no difference of two")
    last = rewriter.node(parts[0])
    first = rewriter.node(parts[1]) if len(parts) > 1 else _START[rewriter.target.engine]
    engine = rewriter.target.engine
    if engine in _MYSQL:
        return f"(CAST(TIMESTAMPDIFF(MICROSECOND, {first}, {last}) AS DECIMAL(30, 6)) / 1000000)"
    if engine == "sqlserver":
        return f"(CAST(DATEDIFF_BIG(microsecond, {first}, {last}) AS decimal(25, 6)) / 1000000)"
    if not all(isinstance(each, Name | Literal | TypedLiteral) for each in parts):
        raise CannotDraft("seconds between values that would be written four times")
    span = f"({last} - {first})"
    units = (("DAY", 86400), ("HOUR", 3600), ("MINUTE", 60))
    text = " + ".join(f"EXTRACT({unit} FROM {span}) * {seconds}" for unit, seconds in units)
    return f"({text} + EXTRACT(SECOND FROM {span}))"


def _is_plain_moment(node: Node, rewriter: Rewriter) -> bool:
    if isinstance(node, TypedLiteral):
        return node.form.upper() == "TIMESTAMP" and _PLAIN.search(rewriter.subject.source(node)) is not None
    source = rewriter.types.source_type(node)
    has_zone = source is not None and ("ZONE" in source.name or source.name == "TIMESTAMPTZ")
    return rewriter.types.family(node) is Family.TIMESTAMP and source is not None and not has_zone
