"""INSERT: forms of rows that the target writes otherwise."""

from hullsound.analyze.local_tables import local_columns
from hullsound.catalog.model import Object
from hullsound.draft.conversions.lone_values import lone_values
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    Insert,
    Name,
)

from .change_parts import clause_of, table_parts, verb_at
from .outputs import with_output
from .upsert_reading import read_upsert
from .upserts import Rows, mark_upsert, rows_of, write_replace, write_upsert
from .versions import versions_of


def write_insert(node: Insert, rewriter: Rewriter) -> str:
    words = rewriter.words
    if node.table is None:
        raise CannotDraft("an INSERT into something that is no table")
    table = rewriter.names.qualified(*table_parts(node.table, rewriter))
    item = rewriter.table(node.table.parts)
    duplicate = clause_of(node, "on-duplicate-key", rewriter)
    start = node.columns[-1].last + 1 if node.columns else node.table.last
    output = clause_of(node, "output", rewriter)
    if output is not None and output.first >= start:
        start = output.last
    end = duplicate.first if duplicate is not None else node.last
    if words[start] in ("EXEC", "EXECUTE"):
        raise CannotDraft("INSERT from the result of a procedure")
    columns = [column.parts[-1] for column in node.columns]
    if clause_of(node, "insert-set", rewriter):
        columns, body = _set_form(start, end, rewriter)
    else:
        body = _rows(node, start, end, rewriter)
    listed = columns or _columns_to_fill(node, item, rewriter)
    into = f"{table} ({', '.join(map(rewriter.names.write, listed))})" if listed else table
    text = f"INSERT INTO {into}\n{body}"
    rows = rows_of(node.table, rewriter)
    given = columns or ([c.name for c in rows.columns] if rows is not None else [])
    said = words[node.first : node.table.first]
    if words[verb_at(node, rewriter)] == "REPLACE" or "REPLACE" in said:
        text += write_replace(rows, given, rewriter)
    elif duplicate is not None:
        text += write_upsert(duplicate, rows, given, rewriter)
    elif "IGNORE" in said:
        text += "\nON CONFLICT DO NOTHING"
    elif clause_of(node, "or-action", rewriter):
        raise CannotDraft("INSERT OR with an action")
    return with_output(node, text, node.table, rewriter)


def _columns_to_fill(node: Insert, item: Object | None, rewriter: Rewriter) -> list[str]:
    """Name the columns of an INSERT that names none, where the source passes over those that it fills itself."""
    if (
        rewriter.catalog.engine not in ("sqlserver", "ase")
        or node.table is None
        or "DEFAULT" in rewriter.words[node.table.last : node.table.last + 1]
    ):
        return []
    columns = item.columns if item is not None else local_columns(rewriter.subject).get(node.table.parts[-1], [])
    versions = versions_of(item) if item is not None else None
    kept = (versions.start, versions.end) if versions is not None else ()
    filled = [c.name for c in columns if not (c.identity or c.generated or c.name in kept)]
    return filled if len(filled) < len(columns) else []


def _set_form(start: int, end: int, rewriter: Rewriter) -> tuple[list[str], str]:
    """Return columns and VALUES of INSERT ... SET column = value, ..."""
    words = rewriter.words
    columns: list[str] = []
    values: list[str] = []
    at = start + 1
    while at < end:
        name = next((n for n in rewriter.subject.all(Name) if n.first == at), None)
        if name is None or words[name.last] not in ("=", ":="):
            raise CannotDraft("INSERT ... SET in a form that is not known")
        first, depth, at = name.last + 1, 0, name.last + 1
        while at < end and not (words[at] == "," and depth == 0):
            depth += (words[at] == "(") - (words[at] == ")")
            at += 1
        columns.append(name.parts[-1])
        values.append(rewriter.text(first, at))
        at += 1
    return columns, f"VALUES ({', '.join(values)})"


def _rows(node: Insert, start: int, end: int, rewriter: Rewriter) -> str:
    """Return VALUES or the query that is inserted."""
    words = rewriter.words
    if node.query is not None:
        return rewriter.text(start, end)
    if words[start] == "VALUE":
        return "VALUES " + rewriter.text(start + 1, end)
    is_short = rewriter.catalog.engine == "teradata" and words[start] == "("  # INSERT t (1, 'a')
    return ("VALUES " if is_short else "") + rewriter.text(start, _row_alias(start, end, rewriter))


def _row_alias(start: int, end: int, rewriter: Rewriter) -> int:
    depth = 0
    for at in range(start, end):
        depth += (rewriter.words[at] == "(") - (rewriter.words[at] == ")")
        if depth == 0 and rewriter.words[at] == "AS":
            return at
    return end


def mark_values(node: Insert, rewriter: Rewriter) -> None:
    """Mark what changes inside the values of an INSERT: numbers the column counts itself, and names in an upsert."""
    if node.table is None or rewriter.catalog.engine not in ("mysql", "mariadb", "sqlite"):
        return
    rows = rows_of(node.table, rewriter)
    if rows is None:
        return
    duplicate = clause_of(node, "on-duplicate-key", rewriter)
    end = duplicate.first if duplicate is not None else node.last
    start = node.columns[-1].last + 1 if node.columns else node.table.last
    names = [c.parts[-1] for c in node.columns] or [c.name for c in rows.columns]
    counted = next((i for i, n in enumerate(names) if any(c.name == n and c.identity for c in rows.columns)), -1)
    if counted >= 0 and node.query is None and rewriter.words[start] in ("VALUES", "VALUE"):
        _mark_counted(start, end, counted, rewriter)
    if duplicate is not None:
        mark_upsert(node, duplicate, rows, rewriter)
    elif rewriter.catalog.engine == "sqlite" and clause_of(node, "on-conflict", rewriter) is not None:
        _mark_conflict(node, rows, rewriter)


def _mark_conflict(node: Insert, rows: Rows, rewriter: Rewriter) -> None:
    """Name the table of columns of the row that is there: without it, PostgreSQL cannot tell them from those of the new row."""
    upsert = read_upsert(node, rewriter)
    for name, column in upsert.old_values(rewriter) if upsert is not None else ():
        rewriter.replace(name.first, name.last, f"{rewriter.names.write(rows.name)}.{rewriter.names.write(column)}")


def _mark_counted(start: int, end: int, place: int, rewriter: Rewriter) -> None:
    """Turn NULL or 0 for a column that counts by itself into DEFAULT."""
    for column, at in lone_values(rewriter.words, start + 1, end):
        if column == place and rewriter.words[at] in ("NULL", "0"):
            rewriter.replace(at, at + 1, "DEFAULT")
