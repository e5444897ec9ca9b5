"""VALUES lists among the sources of a query, for MySQL, MariaDB and Oracle: a SELECT for each row.

Sources: MySQL 8.4 Reference Manual, "VALUES Statement", which wants ROW before each row; MariaDB Server documentation, "VALUES",
whose columns take no names; Oracle Database 19c, "SQL Language Reference", SELECT.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.commas import between_commas
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, CommonTable, DerivedTable

_TARGETS: Final = ("mysql", "mariadb", "oracle")
_RANK: Final = 6


def add_values_tables(rewriter: Rewriter) -> None:
    """Write (VALUES (a, b), ...) AS t (x, y) as a union of queries. Raises CannotDraft for columns without names."""
    if rewriter.target.engine not in _TARGETS or rewriter.target.engine == rewriter.catalog.engine:
        return
    lists = [clause for clause in rewriter.subject.all(Clause) if clause.name == "values-query"]
    for table in rewriter.subject.all(DerivedTable):
        inside = [
            each for each in lists if table.first < each.first <= table.query.first and each.last <= table.query.last
        ]
        if inside:
            rewriter.add(Point(table.first, table.last, partial(_union, table, inside[0]), rank=_RANK))


def add_values_in_common_tables(rewriter: Rewriter) -> None:
    """Write VALUES (a, b), ... in a common table as a union of queries, for targets without VALUES as a query."""
    if rewriter.target.engine not in ("sqlserver", "oracle", "mysql"):
        return
    for table in rewriter.subject.all(CommonTable):
        for values in rewriter.subject.read.inside(Clause, table.query.first, table.query.last):
            if values.name == "values-query" and rewriter.words[values.first] == "VALUES":
                rewriter.add(Point(values.first, values.last, partial(_queries, values), rank=_RANK))


def _queries(values: Clause, rewriter: Rewriter) -> str:
    tail = " FROM DUAL" if rewriter.target.engine == "oracle" else ""
    rows = [
        items_of(first + 1, last - 1, rewriter)
        for first, last in between_commas(values.first + 1, values.last, rewriter.words)
    ]
    titled = ", ".join(f"{value} AS column{place}" for place, value in enumerate(rows[0], start=1))
    return " UNION ALL ".join(f"SELECT {each}{tail}" for each in (titled, *(", ".join(row) for row in rows[1:])))


def _union(table: DerivedTable, values: Clause, rewriter: Rewriter) -> str:
    rows = [
        items_of(first + 1, last - 1, rewriter)
        for first, last in between_commas(values.first + 1, values.last, rewriter.words)
    ]
    names = _names(table, rewriter)
    if not names or any(len(row) != len(names) for row in rows):
        raise CannotDraft("a list of rows whose columns have no names")
    tail = " FROM DUAL" if rewriter.target.engine == "oracle" else ""
    first, *others = rows
    titled = ", ".join(f"{value} AS {name}" for value, name in zip(first, names, strict=True))
    queries = [f"SELECT {titled}{tail}", *(f"SELECT {', '.join(row)}{tail}" for row in others)]
    alias = rewriter.names.write(table.alias)
    return f"({' UNION ALL '.join(queries)}){' ' if rewriter.target.engine == 'oracle' else ' AS '}{alias}"


def items_of(first: int, last: int, rewriter: Rewriter) -> list[str]:
    """Return the values of a row between two tokens, or the one value that stands without brackets."""
    if rewriter.words[first - 1] != "(":
        return [rewriter.text_elsewhere(first - 1, last + 1).strip()]
    return [rewriter.text_elsewhere(a, b).strip() for a, b in between_commas(first, last, rewriter.words)]


def _names(table: DerivedTable, rewriter: Rewriter) -> list[str]:
    """Return the names of the columns that stand in brackets behind the alias, as the target writes them."""
    words = rewriter.words
    if not table.alias or words[table.last - 1] != ")" or "(" not in words[table.query.last + 1 : table.last]:
        return []
    opening = words.index("(", table.query.last + 1, table.last)
    return [rewriter.text(a, b).strip() for a, b in between_commas(opening + 1, table.last - 1, rewriter.words)]
