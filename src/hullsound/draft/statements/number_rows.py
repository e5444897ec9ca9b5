"""Rows of numbers and moments that functions count out: generate_series of PostgreSQL, GENERATE_SERIES of SQL Server.

Sources: PostgreSQL 18, "Set Returning Functions"; Transact-SQL reference, "GENERATE_SERIES" and "TOP"; MySQL 8.4 Reference Manual,
"WITH (Common Table Expressions)"; Oracle Database 19c, "SQL Language Reference", "Hierarchical Queries".
"""

import re
from dataclasses import dataclass
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Paren, TableFunction, TypedLiteral

MOST_LEVELS: Final = 1000
"""Levels of recursion that MySQL and MariaDB take: cte_max_recursion_depth and max_recursive_iterations."""
_RANK: Final = 2
_SPAN: Final = re.compile(r"(\d+)\s*(second|minute|hour|day|week|month|year)s?", re.IGNORECASE)
_SECONDS: Final = {"SECOND": 1, "MINUTE": 60, "HOUR": 3600, "DAY": 86400, "WEEK": 604800}


@dataclass(frozen=True)
class _Series:
    """What is counted: from where, to where, in which steps, under which names."""

    start: str
    stop: str
    step: str
    unit: str
    """The unit of a step in time; '' for numbers."""
    most: int
    """How many rows there are, where constants say it; 0 where they do not."""
    column: str
    alias: str


def add_number_rows(rewriter: Rewriter) -> None:
    """Write the functions in FROM that count."""
    if rewriter.target.engine == rewriter.catalog.engine:
        return
    for source in rewriter.subject.all(TableFunction):
        if isinstance(source.call, Call) and source.call.parts[-1] == "GENERATE_SERIES":
            rewriter.add(Point(source.first, source.last, partial(_counted, source, source.call), rank=_RANK))


def _counted(source: TableFunction, call: Call, rewriter: Rewriter) -> str:
    series = _read(source, call, rewriter)
    rewriter.take(source)
    match rewriter.target.engine:
        case "sqlserver":
            return _numbered(series)
        case "oracle":
            return _by_levels(series)
        case _:
            return _recursive(series)


def _read(source: TableFunction, call: Call, rewriter: Rewriter) -> _Series:
    if len(call.arguments) not in (2, 3):
        raise CannotDraft("rows that are counted in a form that is not known")
    start, stop, *steps = call.arguments
    for name in rewriter.subject.read.inside(Name, call.opening, call.closing):
        if len(name.parts) > 1 or rewriter.columns.column(name) is not None:
            raise CannotDraft("rows that are counted by columns of other tables")
    alias, column = _names(source, call, rewriter)
    is_moment = rewriter.types.family(start) in MOMENTS
    step, unit = _step(steps[0], rewriter) if steps else ("1", "")
    if is_moment != bool(unit) or (not is_moment and rewriter.types.family(start) is not Family.INTEGER):
        raise CannotDraft("rows that are counted by something other than whole numbers and spans of time")
    texts = rewriter.node(start), rewriter.node(stop)
    if is_moment:
        texts = _moment(texts[0], rewriter), _moment(texts[1], rewriter)
    bounds = [rewriter.subject.source(each) for each in (start, stop)]
    most = int(bounds[1]) - int(bounds[0]) + 1 if all(each.isdecimal() for each in bounds) else 0
    return _Series(*texts, step, unit, most, rewriter.names.write(column), rewriter.names.write(alias))


def _names(source: TableFunction, call: Call, rewriter: Rewriter) -> tuple[str, str]:
    """Return the names of the table and of its column."""
    words = rewriter.words
    if words[source.last - 1] == ")" and source.last > call.last:
        return source.alias or "HS_NUMBERS", words[source.last - 2]
    if rewriter.catalog.engine == "sqlserver":
        return source.alias or "HS_NUMBERS", "VALUE"
    return (source.alias or "GENERATE_SERIES",) * 2


def _step(node: Node, rewriter: Rewriter) -> tuple[str, str]:
    """Return number and unit of a step. Raises CannotDraft for one that is no constant above 0."""
    while isinstance(node, Paren | Cast):
        node = node.inner if isinstance(node, Paren) else node.value
    text = rewriter.subject.source(node)
    if isinstance(node, Literal) and text.isdecimal() and text != "0":
        return text, ""
    value = text_value(node, rewriter) if isinstance(node, Literal) else None
    if isinstance(node, TypedLiteral):
        value = text.partition("'")[2].rstrip("'")
    span = _SPAN.fullmatch(value.strip()) if value else None
    if span is None:
        raise CannotDraft("rows that are counted in steps that are no constant")
    return span[1], span[2].upper()


def _moment(text: str, rewriter: Rewriter) -> str:
    kind = {"sqlserver": "datetime2(6)", "oracle": "TIMESTAMP"}.get(rewriter.target.engine, "DATETIME(6)")
    return f"CAST({text} AS {kind})"


def _recursive(series: _Series) -> str:
    """Write a recursive common table for MySQL and MariaDB."""
    if series.most > MOST_LEVELS:
        raise CannotDraft(f"more than {MOST_LEVELS} rows counted by recursion")
    column = series.column
    following = f"{column} + INTERVAL {series.step} {series.unit}" if series.unit else f"{column} + {series.step}"
    holds = "" if series.most > 0 else f" FROM DUAL WHERE {series.start} <= {series.stop}"
    return (
        f"(WITH RECURSIVE hs_counted AS (SELECT {series.start} AS {column}{holds} UNION ALL "
        f"SELECT {following} FROM hs_counted WHERE {following} <= {series.stop}) "
        f"SELECT {column} FROM hs_counted) AS {series.alias}"
    )


def _numbered(series: _Series) -> str:
    """Number rows that SQL Server has anyway: recursion ends at 100 levels there."""
    number = "(ROW_NUMBER() OVER (ORDER BY (SELECT NULL)) - 1)"
    if not series.unit:
        value = f"{series.start} + {number}" + (f" * {series.step}" if series.step != "1" else "")
        count = f"({series.stop} - {series.start}) / {series.step} + 1"
    elif series.unit in _SECONDS:
        value = f"DATEADD({series.unit.lower()}, {number} * {series.step}, {series.start})"
        whole = _SECONDS[series.unit] * int(series.step)
        count = f"DATEDIFF_BIG(second, {series.start}, {series.stop}) / {whole} + 1"
    else:
        raise CannotDraft("moments that are counted by months")
    most = (
        f"{series.most}"
        if series.most > 0 and series.step == "1"
        else (f"CASE WHEN {series.stop} >= {series.start} THEN {count} ELSE 0 END")
    )
    return (
        f"(SELECT TOP ({most}) {value} AS {series.column} FROM sys.all_columns a CROSS JOIN sys.all_columns b) "
        f"AS {series.alias}"
    )


def _by_levels(series: _Series) -> str:
    """Count by CONNECT BY of Oracle."""
    if not series.unit:
        value = f"{series.start} + (LEVEL - 1) * {series.step}" if series.step != "1" else f"{series.start} + LEVEL - 1"
        count = f"FLOOR(({series.stop} - ({series.start})) / {series.step}) + 1"
    elif series.unit in _SECONDS:
        whole = _SECONDS[series.unit] * int(series.step)
        value = f"{series.start} + NUMTODSINTERVAL((LEVEL - 1) * {whole}, 'SECOND')"
        count = f"FLOOR((CAST({series.stop} AS DATE) - CAST({series.start} AS DATE)) * 86400 / {whole} + 1e-6) + 1"
    else:
        raise CannotDraft("moments that are counted by months")
    holds = f"WHERE {series.stop} >= {series.start} "
    return f"(SELECT {value} AS {series.column} FROM DUAL {holds}CONNECT BY LEVEL <= {count}) {series.alias}"
