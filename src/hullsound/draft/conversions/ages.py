"""Whole months between two moments, and the years and months of AGE of PostgreSQL.

Sources: PostgreSQL 18, "Date/Time Functions and Operators" (age: a symbolic result of years, months and days, from midnight of the
current date if one moment is given); MySQL 8.4 Reference Manual, TIMESTAMPDIFF; Transact-SQL reference, DATEDIFF; Oracle Database
19c, "SQL Language Reference", TRUNC.
"""

from typing import Final

from hullsound.analyze.types import MOMENTS
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks.writing import moment_operand
from hullsound.sql.tree import Call, Node

_MYSQL: Final = ("mysql", "mariadb")
_TODAY: Final = {
    "mysql": "CURRENT_DATE", "mariadb": "CURRENT_DATE", "sqlserver": "CAST(SYSDATETIME() AS date)", "oracle": "TRUNC(CURRENT_DATE)",
}  # fmt: skip


def whole_months(first: str, last: str, size: int, engine: str) -> str:
    """Count whole spans of `size` months from one moment to another, cut towards zero."""
    if engine in _MYSQL:
        if size == 12:
            return f"TIMESTAMPDIFF(YEAR, {first}, {last})"
        months = f"TIMESTAMPDIFF(MONTH, {first}, {last})"
        return months if size == 1 else f"({months} DIV {size})"
    if engine == "sqlserver":
        borders = f"DATEDIFF(month, {first}, {last})"
        rests = [f"DATEDIFF(second, DATEFROMPARTS(YEAR({each}), MONTH({each}), 1), {each})" for each in (first, last)]
    else:
        years, months = (f"EXTRACT({part} FROM {last}) - EXTRACT({part} FROM {first})" for part in ("YEAR", "MONTH"))
        borders = f"({years}) * 12 + {months}"
        rests = [f"(CAST({each} AS DATE) - TRUNC({each}, 'MM'))" for each in (first, last)]
    short = (
        f"CASE WHEN {first} <= {last} AND {rests[1]} < {rests[0]} THEN 1 "
        f"WHEN {first} > {last} AND {rests[1]} > {rests[0]} THEN -1 ELSE 0 END"
    )
    count = f"({borders} - {short})"
    if size == 1:
        return count
    return f"({count} / {size})" if engine == "sqlserver" else f"TRUNC({count} / {size})"


def is_age(value: Node) -> bool:
    return isinstance(value, Call) and value.parts == ("AGE",) and len(value.arguments) in (1, 2)


def part_of_age(field: str, value: Node, rewriter: Rewriter) -> str:
    """Write EXTRACT(field FROM AGE(last, first)). Raises CannotDraft for days, whose number hangs on the months before."""
    assert isinstance(value, Call)
    engine = rewriter.target.engine
    for each in value.arguments:
        source = rewriter.types.source_type(each)
        has_zone = source is not None and ("ZONE" in source.name or "TZ" in source.name)
        if rewriter.types.family(each) not in MOMENTS or (has_zone and engine not in _MYSQL):
            raise CannotDraft("an age of moments with a time zone, or of something that may be no moment")
    if field not in ("YEAR", "MONTH"):
        raise CannotDraft(f"the {field.lower()} of an age")
    *last, first = [moment_operand(each, rewriter) for each in value.arguments]
    size = 12 if field == "YEAR" else 1
    count = whole_months(first, last[0] if last else _TODAY[engine], size, engine)
    if field == "YEAR":
        return count
    return f"({count} % 12)" if engine == "sqlserver" else f"MOD({count}, 12)"
