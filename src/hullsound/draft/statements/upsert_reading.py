"""Rows that run into a key, read alike: ON DUPLICATE KEY UPDATE, IGNORE and REPLACE of MySQL, ON CONFLICT, OR REPLACE of SQLite.

Sources: MySQL 8.4 Reference Manual, "INSERT ... ON DUPLICATE KEY UPDATE"; PostgreSQL 18, INSERT; SQLite documentation, "The ON
CONFLICT Clause" and "UPSERT".
"""

from dataclasses import dataclass
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Clause, Insert, Name

from .change_parts import clause_of, verb_at
from .upserts import Rows, conflict_key, rows_of

Span = tuple[int, int]
"""First token, and the one behind the last."""

_COUNTED: Final = {
    **dict.fromkeys(("mysql", "mariadb"), frozenset(("NULL", "DEFAULT", "0"))), "sqlite": frozenset(("NULL",)),
}  # fmt: skip
"""Values in whose place a column that counts by itself takes its next number; DEFAULT alone in other engines."""


@dataclass
class Upsert:
    """What an INSERT gives, and what it does with a row that runs into a key."""

    insert: Insert
    known: Rows
    columns: list[str]
    rows: list[list[Span]]
    """The values of each row; none for rows of a query."""
    query: Span | None
    keys: list[list[str]]
    """The keys that rows may run into: one of them, unless nothing is done with such rows."""
    action: str
    """update, nothing or replace."""
    sets: list[tuple[str, Span]]
    """What an update puts into each column."""
    condition: Span | None
    """Which of the rows that are there are changed; None for all."""
    clause: Clause | None
    new_names: frozenset[str]
    """Names by which the clause means the new row."""

    def new_values(self, rewriter: Rewriter) -> list[tuple[Call | Name, str]]:
        """Return the places in the clause that mean a column of the new row, with its name."""
        found: list[tuple[Call | Name, str]] = []
        for call in self._calls(rewriter):
            name = call.arguments[0]
            if isinstance(name, Name):
                found.append((call, name.parts[-1]))
        names = (name for name in rewriter.subject.all(Name) if self._is_inside(name))
        found += [(name, name.parts[1]) for name in names if len(name.parts) == 2 and name.parts[0] in self.new_names]
        return found

    def old_values(self, rewriter: Rewriter) -> list[tuple[Name, str]]:
        """Return the places in the clause that mean a column of the row that is there, with its name.

        Raises CannotDraft for a column of another table.
        """
        table = self.insert.table
        assert table is not None
        own = {table.parts[-1], table.alias} - {""}
        columns = {column.name for column in self.known.columns}
        calls = self._calls(rewriter)
        found = []
        for name in rewriter.subject.all(Name):
            is_new = len(name.parts) == 2 and name.parts[0] in self.new_names
            if not self._is_inside(name) or is_new or any(c.first <= name.first < c.last for c in calls):
                continue
            if len(name.parts) == 1 and name.parts[0] in columns:
                found.append((name, name.parts[0]))
            elif len(name.parts) == 2 and name.parts[0] in own:
                found.append((name, name.parts[1]))
            elif len(name.parts) > 1:
                raise CannotDraft("a column of another table in what is done with a row that is there")
        return found

    def reads_changed(self, rewriter: Rewriter) -> bool:
        """Whether a column is read behind its own change: MySQL then gives its new value, the other engines its old one."""
        old, changed = self.old_values(rewriter), set[str]()
        for column, (first, last) in self.sets:
            if any(first <= name.first < last and each in changed for name, each in old):
                return True
            changed.add(column)
        return False

    def _calls(self, rewriter: Rewriter) -> list[Call]:
        return [call for call in rewriter.subject.all(Call) if call.parts == ("VALUES",) and self._is_inside(call)]

    def _is_inside(self, node: Name | Call) -> bool:
        spans = [span for _, span in self.sets] + ([self.condition] if self.condition is not None else [])
        return any(first <= node.first and node.last <= last for first, last in spans)


def read_upsert(insert: Insert, rewriter: Rewriter) -> Upsert | None:
    """Read an INSERT; None for one whose rows run into no key, or fail if they do.

    Raises CannotDraft for one whose table, keys or form is not known well enough.
    """
    words = rewriter.words
    verb = words[verb_at(insert, rewriter)]
    clause = clause_of(insert, "on-duplicate-key", rewriter) or clause_of(insert, "on-conflict", rewriter)
    said = clause_of(insert, "or-action", rewriter)
    word = words[said.last - 1] if said is not None else "REPLACE" if verb == "REPLACE" else ""
    if word not in ("", "IGNORE", "REPLACE"):
        raise CannotDraft("INSERT OR with an action")
    ignores = word == "IGNORE" or clause_of(insert, "change-ignore", rewriter) is not None
    if clause is None and not ignores and word != "REPLACE":
        return None
    if insert.table is None or words[insert.first] == "WITH":
        raise CannotDraft("rows that may run into a key, with a query in front or for something that is no table")
    known = rows_of(insert.table, rewriter)
    if known is None or not known.columns:
        raise CannotDraft("rows that may run into a key of a table that is not known")
    columns, rows, query, aliases = read_rows(insert, clause, known, rewriter)
    given = drop_counted(columns, rows, known, rewriter)
    sets, condition, target, action = _action(clause, ignores, rewriter)
    keys = _keys(action, target, known, given, insert, rewriter)
    return Upsert(insert, known, given, rows, query, keys, action, sets, condition, clause, aliases | {"EXCLUDED"})


def read_rows(
    insert: Insert, clause: Clause | None, known: Rows, rewriter: Rewriter
) -> tuple[list[str], list[list[Span]], Span | None, frozenset[str]]:
    """Return the columns that are filled, the values of each row or the query, and the names of the new row.

    Raises CannotDraft for rows in a form that is not known.
    """
    words, table = rewriter.words, insert.table
    assert table is not None
    end = clause.first if clause is not None else insert.last
    start = insert.columns[-1].last + 1 if insert.columns else table.last
    if clause_of(insert, "insert-set", rewriter):
        pairs = read_pairs(start + 1, end, rewriter)
        return [name for name, _ in pairs], [[span for _, span in pairs]], None, frozenset()
    columns = [column.parts[-1] for column in insert.columns] or [column.name for column in known.columns]
    if insert.query is not None:
        return columns, [], (insert.query.first, insert.query.last), frozenset()
    if words[start] not in ("VALUES", "VALUE"):
        raise CannotDraft("rows in a form that is not known")
    rows: list[list[Span]] = []
    at = start + 1
    while at < end and words[at] in ("(", "ROW", ","):
        at += words[at] in ("ROW", ",")
        if words[at] != "(":
            continue
        spans, at = _parted(at + 1, end, rewriter)
        rows.append(spans)
    alias = frozenset((words[at + 1],)) if at < end and words[at] == "AS" else frozenset[str]()
    if any(len(row) != len(columns) for row in rows) or (at < end and not alias):
        raise CannotDraft("rows in a form that is not known")
    return columns, rows, None, alias


def _parted(first: int, end: int, rewriter: Rewriter) -> tuple[list[Span], int]:
    """Return the values up to the bracket that closes a row, and the token behind it."""
    words, depth, start, spans = rewriter.words, 0, first, []
    for at in range(first, end):
        if depth == 0 and words[at] in (",", ")"):
            spans.append((start, at))
            start = at + 1
        if words[at] == ")" and depth == 0:
            return spans, at + 1
        depth += (words[at] == "(") - (words[at] == ")")
    raise CannotDraft("rows in a form that is not known")


def read_pairs(first: int, end: int, rewriter: Rewriter) -> list[tuple[str, Span]]:
    """Read column = value, ... Raises CannotDraft for another form."""
    words, pairs, at = rewriter.words, [], first
    names = {name.first: name for name in rewriter.subject.all(Name)}
    while at < end:
        name = names.get(at)
        if name is None or words[name.last] not in ("=", ":="):
            raise CannotDraft("column = value in a form that is not known")
        start, depth, at = name.last + 1, 0, name.last + 1
        while at < end and not (words[at] == "," and depth == 0):
            depth += (words[at] == "(") - (words[at] == ")")
            at += 1
        pairs.append((name.parts[-1], (start, at)))
        at += 1
    return pairs


def drop_counted(columns: list[str], rows: list[list[Span]], known: Rows, rewriter: Rewriter) -> list[str]:
    """Leave out the column that counts by itself where every row leaves its number to it."""
    words = rewriter.words
    counting = next((column.name for column in known.columns if column.identity), None)
    if counting not in columns or not rows:
        return columns
    place = columns.index(counting)
    values = [words[row[place][0]] if row[place][1] - row[place][0] == 1 else "" for row in rows]
    counted = _COUNTED.get(rewriter.catalog.engine, frozenset(("DEFAULT",)))
    if not all(value in counted for value in values):
        return columns
    for row in rows:
        del row[place]
    return columns[:place] + columns[place + 1 :]


def _action(
    clause: Clause | None, ignores: bool, rewriter: Rewriter
) -> tuple[list[tuple[str, Span]], Span | None, Span | str | None, str]:
    """Return what an update puts into which column, its condition, the key or constraint that is named, and the action."""
    words = rewriter.words
    if clause is None:
        return [], None, None, "nothing" if ignores else "replace"
    if clause.name == "on-duplicate-key":
        return read_pairs(clause.first + 4, clause.last, rewriter), None, None, "update"
    at = clause.first + 2
    target: Span | str | None = None
    if words[at] == "(":
        closing = next(place for place in range(at, clause.last) if words[place] == ")")
        target, at = (at + 1, closing), closing + 1
    elif words[at : at + 2] == ["ON", "CONSTRAINT"]:
        target, at = words[at + 2], at + 3
    if words[at : at + 2] == ["DO", "NOTHING"]:
        return [], None, target, "nothing"
    if words[at : at + 3] != ["DO", "UPDATE", "SET"]:
        raise CannotDraft("ON CONFLICT with a condition of a partial index, or in a form that is not known")
    depth, end = 0, clause.last
    for place in range(at, clause.last):
        depth += (words[place] == "(") - (words[place] == ")")
        if depth == 0 and words[place] == "WHERE":
            end = place
            break
    condition = (end + 1, clause.last) if end < clause.last else None
    return read_pairs(at + 3, end, rewriter), condition, target, "update"


def _keys(
    action: str, target: Span | str | None, known: Rows, given: list[str], insert: Insert, rewriter: Rewriter
) -> list[list[str]]:
    """Return the keys that rows may run into. Raises CannotDraft where it is not clear which they are."""
    met = [list(key) for key in dict.fromkeys(tuple(key) for key in known.keys) if set(key) <= set(given)]
    if isinstance(target, str):
        named = [list(key) for key in _constraint(target, insert, rewriter)]
    elif target is not None:
        columns = [word for word in rewriter.words[target[0] : target[1]] if word != ","]
        named = [key for key in met if set(key) == set(columns)]
    else:
        named = met if action == "nothing" else [conflict_key(known, given)]
    if not named or (target is not None and any(set(key) != set(named[0]) for key in met)):
        raise CannotDraft("rows that may run into other keys than the one that is named, or into none that is known")
    return named


def _constraint(name: str, insert: Insert, rewriter: Rewriter) -> list[list[str]]:
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    belonging = rewriter.catalog.belonging(table.id) if table is not None else ()
    return [list(each.constraint.columns) for each in belonging if each.constraint is not None and each.name == name]
