"""Tables that keep every older state of a row (temporal tables of SQL Server): a history table that a trigger fills.

Source: Transact-SQL reference, "Temporal tables"; periods count in UTC and begin with the transaction.
"""

import re
from functools import partial
from typing import Final, NamedTuple

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, TableRef

_PERIOD: Final = re.compile(r"(?i)\bPERIOD\s+FOR\s+SYSTEM_TIME\s*\(\s*\[?(\w+)\]?\s*,\s*\[?(\w+)\]?\s*\)")
_HISTORY: Final = re.compile(r"(?i)\bHISTORY_TABLE\s*=\s*\[?(\w+)\]?\s*\.\s*\[?(\w+)\]?")
_VERSIONING: Final = re.compile(r"(?i)\bSYSTEM_VERSIONING\s*=\s*ON\b")
NOW: Final = "(transaction_timestamp() AT TIME ZONE 'UTC')"
EVER: Final = "timestamp '9999-12-31 23:59:59.999999'"


class Versions(NamedTuple):
    """The period columns of a table and its history table, by their stored names."""

    start: str
    end: str
    schema: str
    history: str


def versions_of(item: Object) -> Versions | None:
    """Return how a table keeps its older states; None for one that does not.

    Raises CannotDraft where the table has no period of its own.
    """
    if _VERSIONING.search(item.text) is None:
        return None
    period = _PERIOD.search(item.text)
    if period is None:
        raise CannotDraft("older states of a table whose period is not told with it")
    history = _HISTORY.search(item.text)
    schema, name = (history[1].upper(), history[2].upper()) if history else (item.schema, f"{item.name}_HISTORY")
    return Versions(period[1].upper(), period[2].upper(), schema, name)


def version_default(item: Object, column: str) -> str:
    """Return the default of a period column; '' for any other column."""
    versions = versions_of(item)
    if versions is None:
        return ""
    return {versions.start: f" DEFAULT {NOW}", versions.end: f" DEFAULT {EVER}"}.get(column, "")


def add_version_points(rewriter: Rewriter) -> None:
    """Add the points of tables that are read as they were (FOR SYSTEM_TIME)."""
    for clause in rewriter.subject.all(Clause):
        if clause.name == "system-time":
            table = next(
                (t for t in rewriter.subject.all(TableRef) if t.first < clause.first <= clause.last <= t.last), None
            )
            if table is not None:
                rewriter.add(Point(table.first, table.last, partial(_at_times, table, clause), rank=3))


def _at_times(table: TableRef, clause: Clause, rewriter: Rewriter) -> str:
    """Write the rows of both tables whose periods are asked for."""
    item = rewriter.table(table.parts)
    versions = versions_of(item) if item is not None else None
    if item is None or versions is None:
        raise CannotDraft("older states of a table that keeps none")
    names = rewriter.names
    start, end = names.write(versions.start), names.write(versions.end)
    where = _condition(clause, start, end, rewriter)
    # A row that one transaction changes twice leaves a state of no length, which the source does not show.
    rows = [
        f"SELECT * FROM {names.qualified(item.schema, item.name)}{f' WHERE {where}' if where else ''}",
        f"SELECT * FROM {names.qualified(versions.schema, versions.history)}"
        f" WHERE {start} < {end}{f' AND {where}' if where else ''}",
    ]
    return f"({' UNION ALL '.join(rows)}) AS {names.write(table.alias or table.parts[-1])}"


def _condition(clause: Clause, start: str, end: str, rewriter: Rewriter) -> str:
    words = rewriter.words
    first, last = clause.first + 2, clause.last
    match words[first]:
        case "ALL":
            return ""
        case "AS":
            moment = _moment(first + 2, last, rewriter)
            return f"{start} <= {moment} AND {end} > {moment}"
        case "CONTAINED":
            comma = _outer(",", first + 3, last - 1, words)
            one, other = _moment(first + 3, comma, rewriter), _moment(comma + 1, last - 1, rewriter)
            return f"{start} >= {one} AND {end} <= {other}"
        case "FROM":
            middle = _outer("TO", first + 1, last, words)
            one, other = _moment(first + 1, middle, rewriter), _moment(middle + 1, last, rewriter)
            return f"{start} < {other} AND {end} > {one}"
    middle = _outer("AND", first + 1, last, words)
    one, other = _moment(first + 1, middle, rewriter), _moment(middle + 1, last, rewriter)
    return f"{start} <= {other} AND {end} > {one}"


def _moment(first: int, last: int, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.text(first, last)} AS timestamp)"


def _outer(word: str, first: int, last: int, words: list[str]) -> int:
    """Return where a word stands outside of brackets. Raises CannotDraft if it does not."""
    depth = 0
    for at in range(first, last):
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0 and words[at] == word:
            return at
    raise CannotDraft("FOR SYSTEM_TIME in a form that is not known")
