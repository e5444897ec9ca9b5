"""Words between tables and queries that MySQL, MariaDB and SQLite take and others refuse.

Joins without a condition, CROSS JOIN with one, tables in brackets, UNION DISTINCT, DUAL.

Sources: MySQL 8.4 Reference Manual, "JOIN Clause"; SQLite documentation, "SELECT", 2.1; SQL:1992, "joined table".
"""

from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.commas import outer_commas
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Insert, Join, Select, TableRef

_LOOSE = ("mysql", "mariadb", "sqlite")


def add_join_words(rewriter: Rewriter) -> None:
    """Write CROSS JOIN where no condition stands, and JOIN where one does."""
    if rewriter.catalog.engine not in _LOOSE or rewriter.target.engine in _LOOSE:
        return
    words = rewriter.words
    for join in rewriter.subject.all(Join):
        between = words[join.left.last : join.right.first]
        is_bound = has_condition(join, words)
        if between in (["JOIN"], ["INNER", "JOIN"], ["STRAIGHT_JOIN"]) and not is_bound:
            rewriter.replace(join.left.last, join.right.first, "CROSS JOIN")
        elif between in (["CROSS", "JOIN"], ["STRAIGHT_JOIN"]) and is_bound:
            rewriter.replace(join.left.last, join.right.first, "JOIN")
    for table in rewriter.subject.all(TableRef):
        if words[table.first - 1] == "(" and words[table.last : table.last + 1] == [","]:
            for comma in outer_commas(table.first, closing_of(rewriter, table.first - 1), words):
                rewriter.replace(comma, comma + 1, " CROSS JOIN")
    if rewriter.target.engine != "postgresql":
        _add_query_words(rewriter)


def _add_query_words(rewriter: Rewriter) -> None:
    words, read = rewriter.words, rewriter.subject.read
    for at in range(read.first, read.last - 1):
        if words[at] == "UNION" and words[at + 1] == "DISTINCT":
            rewriter.replace(at + 1, at + 2, "")
    for select in rewriter.subject.all(Select) if rewriter.target.engine == "sqlserver" else ():
        source = select.sources[0] if len(select.sources) == 1 else None
        if isinstance(source, TableRef) and source.parts == ("DUAL",) and not rewriter.catalog.tables_named("DUAL"):
            rewriter.replace(select.from_at, source.last, "")
    for insert in rewriter.subject.all(Insert):
        at = next((at for at in range(insert.first, insert.last) if words[at] == "VALUE"), -1)
        if insert.query is None and at > 0 and words[at + 1] == "(" and words[at - 1] != "(":
            rewriter.replace(at, at + 1, "VALUES")


def has_condition(join: Join, words: list[str]) -> bool:
    """Whether ON or USING says which rows a join brings together."""
    return join.condition is not None or words[join.right.last : join.right.last + 1] == ["USING"]
