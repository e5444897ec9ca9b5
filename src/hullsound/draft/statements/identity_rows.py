"""Rows for tables with a column that counts by itself: whether they bring its number along, for SQL Server and Oracle.

Sources: Transact-SQL reference, "SET IDENTITY_INSERT" and "Table Value Constructor" (at most 1,000 rows); Oracle Database 19c, "SQL
Language Reference", identity_clause; MySQL 8.4 Reference Manual, "Using AUTO_INCREMENT".
"""

import re
from functools import partial
from typing import Final

from hullsound.draft.conversions.lone_values import lone_values
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Insert

from .change_parts import table_parts
from .upsert_reading import drop_counted, read_rows
from .upserts import rows_of

_OWN: Final = frozenset(("sqlserver", "ase"))
"""Sources whose rows bring no number along unless a setting lets them."""
_MOST_ROWS: Final = 1000
_RANK: Final = 3
_SWITCHES: Final = re.compile(r"SET IDENTITY_INSERT (\S+) OFF;\s*SET IDENTITY_INSERT \1 ON;\s*")


def add_identity_rows(rewriter: Rewriter) -> None:
    """Add the points of INSERTs whose rows fill a column that counts by itself, or that have too many rows."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if target == "sqlserver" and source not in _OWN:
        for insert in rewriter.subject.all(Insert):
            if insert.table is not None:
                _add_for_sqlserver(insert, rewriter)
    elif target == "oracle" and source in ("mysql", "mariadb"):
        for insert in rewriter.subject.all(Insert):
            _add_for_oracle(insert, rewriter)


def without_idle_switches(text: str) -> str:
    """Leave the setting on between neighbouring INSERTs into one table."""
    return _SWITCHES.sub("", text)


def _counting(insert: Insert, rewriter: Rewriter) -> tuple[str, list[str]]:
    """Return the column of a table that counts by itself, and the columns that an INSERT fills; '' where there is none."""
    known = rows_of(insert.table, rewriter) if insert.table is not None else None
    if known is None:
        return "", []
    columns = [name.parts[-1] for name in insert.columns] or [column.name for column in known.columns]
    return next((column.name for column in known.columns if column.identity), ""), columns


def _add_for_oracle(insert: Insert, rewriter: Rewriter) -> None:
    """Write DEFAULT for the number 0, in whose place MySQL counts; NULL does so in the draft's column as well."""
    counting, columns = _counting(insert, rewriter)
    if counting not in columns or insert.query is not None or insert.table is None:
        return
    start = insert.columns[-1].last + 1 if insert.columns else insert.table.last
    for place, at in lone_values(rewriter.words, start, insert.last):
        if place == columns.index(counting) and rewriter.words[at] == "0":
            rewriter.replace(at, at + 1, "DEFAULT")


def _add_for_sqlserver(insert: Insert, rewriter: Rewriter) -> None:
    counting, columns = _counting(insert, rewriter)
    words = rewriter.words[insert.first : insert.last]
    is_long = insert.query is None and len(words) > _MOST_ROWS
    if counting in columns or is_long:
        rewriter.add(Point(insert.first, insert.last, partial(_written, insert, counting), rank=_RANK))


def _written(insert: Insert, counting: str, rewriter: Rewriter) -> str:
    if "DEFAULT" in rewriter.words[insert.last - 2 : insert.last]:
        return rewriter.text(insert.first, insert.last)
    known = rows_of(insert.table, rewriter) if insert.table is not None else None
    if known is None or insert.table is None:
        raise CannotDraft("rows of a table that is not known")
    if rewriter.words[insert.first] == "WITH":
        raise CannotDraft("rows of a query with common tables, for a table that counts by itself")
    listed, rows, query, _ = read_rows(insert, None, known, rewriter)
    columns = drop_counted(listed, rows, known, rewriter)
    table = rewriter.names.qualified(*table_parts(insert.table, rewriter))
    head = f"INSERT INTO {table} ({', '.join(map(rewriter.names.write, columns))})"
    texts = [f"({', '.join(rewriter.text(*span).strip() for span in row)})" for row in rows]
    parts = [", ".join(texts[at : at + _MOST_ROWS]) for at in range(0, len(texts), _MOST_ROWS)]
    text = ";\n".join(f"{head} VALUES {part}" for part in parts) if query is None else f"{head} {rewriter.text(*query)}"
    if counting not in columns:
        return text
    if rewriter.is_code:
        raise CannotDraft("a row that brings its own number into a column that counts by itself")
    if any(rewriter.words[row[columns.index(counting)][0]] in ("NULL", "DEFAULT") for row in rows):
        raise CannotDraft("rows of which some bring their own number into a column that counts by itself")
    return f"SET IDENTITY_INSERT {table} ON;\n{text};\nSET IDENTITY_INSERT {table} OFF"
