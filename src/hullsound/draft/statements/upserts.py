"""Rows that run into a key: ON DUPLICATE KEY UPDATE and REPLACE of MySQL as ON CONFLICT."""

from collections.abc import Iterable
from typing import NamedTuple

from hullsound.analyze.local_tables import local_columns, local_keys
from hullsound.catalog.model import Column
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Clause, Insert, Name, TableRef


class Rows(NamedTuple):
    """What is known of the rows of a table: of the catalogue, or one that code makes for itself."""

    name: str
    columns: list[Column]
    keys: list[list[str]]


def rows_of(table: TableRef, rewriter: Rewriter) -> Rows | None:
    """Return what is known of the rows of a table; None if nothing is."""
    item = rewriter.table(table.parts)
    if item is None:
        name = table.parts[-1]
        columns = local_columns(rewriter.subject).get(name)
        return Rows(name, columns, local_keys(name, rewriter.subject)) if columns else None
    belonging = list(rewriter.catalog.belonging(item.id))
    keys = [
        list(each.constraint.columns)
        for each in belonging
        if each.constraint is not None and each.constraint.form in ("primary key", "unique")
    ]
    keys += [
        [key.text.strip() for key in each.index.keys]
        for each in belonging
        if each.index is not None and each.index.unique
    ]
    return Rows(item.name, item.columns, keys)


def mark_upsert(node: Insert, duplicate: Clause, rows: Rows, rewriter: Rewriter) -> None:
    """VALUES(column) is the new row; a bare column means the row that is there, and needs its table's name here."""
    write = rewriter.names.write
    aliases = {rewriter.words[i + 1] for i in range(node.first, duplicate.first) if rewriter.words[i] == "AS"}
    columns = {column.name for column in rows.columns}
    calls = [
        c for c in rewriter.subject.all(Call) if c.parts == ("VALUES",) and duplicate.first <= c.first < duplicate.last
    ]
    for call in calls:
        name = call.arguments[0]
        if isinstance(name, Name):
            rewriter.replace(call.first, call.last, f"EXCLUDED.{write(name.parts[-1])}")
    for name in rewriter.subject.all(Name):
        outside = not duplicate.first <= name.first < duplicate.last
        if outside or any(c.first <= name.first < c.last for c in calls):
            continue
        if len(name.parts) == 2 and name.parts[0] in aliases:
            rewriter.replace(name.first, name.last, f"EXCLUDED.{write(name.parts[1])}")
        elif len(name.parts) == 1 and name.parts[0] in columns:
            rewriter.replace(name.first, name.last, f"{write(rows.name)}.{write(name.parts[0])}")


def conflict_key(rows: Rows | None, given: Iterable[str]) -> list[str]:
    """Return the columns of the one key that rows can run into. Raises CannotDraft where it is not clear which."""
    if rows is None:
        raise CannotDraft("the keys of the table are not known")
    met = [key for key in rows.keys if set(key) <= set(given)]
    unique = [list(key) for key in dict.fromkeys(tuple(key) for key in met)]
    if len(unique) != 1:
        raise CannotDraft("rows may run into several keys, or none that is known" if unique else "no key is known")
    return unique[0]


def write_upsert(duplicate: Clause, rows: Rows | None, given: list[str], rewriter: Rewriter) -> str:
    """Write ON DUPLICATE KEY UPDATE. Raises CannotDraft where the key, or an assignment, is not clear."""
    key = conflict_key(rows, given)
    sets: list[str] = []
    changed: list[str] = []
    at = duplicate.first + 4
    words = rewriter.words
    while at < duplicate.last:
        name = next((n for n in rewriter.subject.all(Name) if n.first == at), None)
        if name is None:
            raise CannotDraft("ON DUPLICATE KEY UPDATE in a form that is not known")
        first, depth, at = name.last + 1, 0, name.last + 1
        while at < duplicate.last and not (words[at] == "," and depth == 0):
            depth += (words[at] == "(") - (words[at] == ")")
            at += 1
        if "LAST_INSERT_ID" in words[first:at]:
            raise CannotDraft("LAST_INSERT_ID(column) in an upsert")
        if any(
            first <= each.first < at and each.parts == (done,)
            for each in rewriter.subject.all(Name)
            for done in changed
        ):
            raise CannotDraft("an update that reads a column after it has changed it")
        changed.append(name.parts[-1])
        sets.append(f"{rewriter.names.write(name.parts[-1])} = {rewriter.text(first, at)}")
        at += 1
    names = ", ".join(map(rewriter.names.write, key))
    return f"\nON CONFLICT ({names}) DO UPDATE SET {', '.join(sets)}"


def write_replace(rows: Rows | None, given: list[str], rewriter: Rewriter) -> str:
    """Overwrite the row that is there: what is not given takes its default, as a new row would."""
    key = conflict_key(rows, given)
    assert rows is not None
    write = rewriter.names.write
    sets = []
    for column in rows.columns:
        if column.name in key or column.generated:
            continue
        sets.append(f"{write(column.name)} = {f'EXCLUDED.{write(column.name)}' if column.name in given else 'DEFAULT'}")
    action = f"DO UPDATE SET {', '.join(sets)}" if sets else "DO NOTHING"
    return f"\nON CONFLICT ({', '.join(map(write, key))}) {action}"
