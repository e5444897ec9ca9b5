"""Rows that run into a key, written for targets other than PostgreSQL: as MERGE, or as ON DUPLICATE KEY UPDATE.

Sources: Oracle Database 19c, "SQL Language Reference", MERGE; Transact-SQL reference, MERGE; MySQL 8.4 Reference Manual,
"INSERT ... ON DUPLICATE KEY UPDATE".
"""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Insert, Literal, Name, Node, Update

from .change_parts import clause_of, table_parts
from .upsert_reading import Span, Upsert, read_pairs, read_upsert

_NEW: Final = "hs_new"
_OLD: Final = "hs_old"
_MYSQL: Final = frozenset(("mysql", "mariadb"))
_ASKED: Final = frozenset(
    ("ROW_COUNT", "LAST_INSERT_ID", "FOUND", "CHANGES", "LAST_INSERT_ROWID", "DIAGNOSTICS", "LASTVAL")
)
"""Words by which code asks what its last change did, which a MERGE answers otherwise."""
_GIVING_BACK: Final = frozenset(("RETURNING", "OUTPUT"))
_RANK: Final = 4


def add_upserts(rewriter: Rewriter) -> None:
    """Add the points of INSERT ... SET, and of those that say what to do with rows that run into a key."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if {source, target} <= _MYSQL:
        return
    for update in rewriter.subject.all(Update):
        if clause_of(update, "or-action", rewriter) is not None:
            rewriter.add(Point(update.first, update.last, partial(_refuse, "UPDATE OR with an action"), rank=_RANK))
    for insert in rewriter.subject.all(Insert):
        try:
            upsert = read_upsert(insert, rewriter)
        except CannotDraft as reason:
            rewriter.add(Point(insert.first, insert.last, partial(_refuse, str(reason)), rank=_RANK))
            continue
        if upsert is not None:
            _mark(upsert, rewriter)
            render = _as_duplicate_key if target in _MYSQL else _as_merge
            rewriter.add(Point(insert.first, insert.last, partial(_checked, render, upsert), rank=_RANK))
        elif clause_of(insert, "insert-set", rewriter) is not None:
            rewriter.add(Point(insert.first, insert.last, partial(_plain, insert), rank=_RANK))


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)


def _plain(insert: Insert, rewriter: Rewriter) -> str:
    """Write INSERT ... SET with its columns and values in two lists."""
    assert insert.table is not None
    pairs = read_pairs(insert.table.last + 1, insert.last, rewriter)
    names = ", ".join(rewriter.names.write(name) for name, _ in pairs)
    values = ", ".join(rewriter.text(*span) for _, span in pairs)
    return f"INSERT INTO {_table(insert, rewriter)} ({names}) VALUES ({values})"


def _mark(upsert: Upsert, rewriter: Rewriter) -> None:
    """Write the columns of the new row and of the row that is there by the names that they have in the draft."""
    write, target, table = rewriter.names.write, rewriter.target.engine, upsert.insert.table
    assert table is not None
    for node, column in upsert.new_values(rewriter):
        text = f"VALUES({write(column)})" if target in _MYSQL else f"{_NEW}.{write(column)}"
        rewriter.add(Point(node.first, node.last, partial(_text, text), rank=_RANK))
    try:
        old = upsert.old_values(rewriter)
    except CannotDraft as reason:
        rewriter.add(Point(upsert.insert.first, upsert.insert.last, partial(_refuse, str(reason)), rank=_RANK + 1))
        return
    for name, column in old:
        # Rows of a query may have a column of the same name.
        own = write(table_parts(table, rewriter)[-1]) if target in _MYSQL else _OLD
        text = f"{own}.{write(column)}"
        rewriter.add(Point(name.first, name.last, partial(_text, text), rank=_RANK))


def _text(text: str, _: Rewriter) -> str:
    return text


def _checked(render: Callable[[Upsert, Rewriter], str], upsert: Upsert, rewriter: Rewriter) -> str:
    """Refuse what neither form says."""
    insert, words = upsert.insert, rewriter.words
    if insert.into or not _GIVING_BACK.isdisjoint(words[insert.first : insert.last]):
        raise CannotDraft("rows that may run into a key, and that are given back")
    if not _ASKED.isdisjoint(words[rewriter.subject.read.first : rewriter.subject.read.last]):
        raise CannotDraft("rows that may run into a key, where code asks what the change did")
    if upsert.reads_changed(rewriter):
        raise CannotDraft("an update that reads a column after it has changed it")
    if len(upsert.rows) > 1 and not _are_apart(upsert, rewriter):
        raise CannotDraft("rows that may run into each other")
    return render(upsert, rewriter)


def _are_apart(upsert: Upsert, rewriter: Rewriter) -> bool:
    """Whether several rows differ from each other in all keys, by constants."""
    constants = {(node.first, node.last) for node in rewriter.subject.all(Literal)}
    for key in upsert.keys:
        places = [upsert.columns.index(column) for column in key]
        spans = [[row[place] for place in places] for row in upsert.rows]
        if not all(span in constants for row in spans for span in row):
            return False
        values = [tuple(rewriter.tokens.source(*span).lower() for span in row) for row in spans]
        if len(set(values)) < len(values):
            return False
    return True


def _table(insert: Insert, rewriter: Rewriter) -> str:
    assert insert.table is not None
    return rewriter.names.qualified(*table_parts(insert.table, rewriter))


# --- MySQL and MariaDB ---


def _as_duplicate_key(upsert: Upsert, rewriter: Rewriter) -> str:
    write, insert = rewriter.names.write, upsert.insert
    columns = ", ".join(map(write, upsert.columns))
    text = f"{'REPLACE' if upsert.action == 'replace' else 'INSERT'} INTO {_table(insert, rewriter)} ({columns})"
    text += f" {_given(upsert, rewriter)}"
    return (
        text
        if upsert.action == "replace"
        else f"{text}\nON DUPLICATE KEY UPDATE {', '.join(_assigned(upsert, rewriter))}"
    )


def _assigned(upsert: Upsert, rewriter: Rewriter) -> list[str]:
    """Return what becomes of a row that is there; one that stays as it is gets a key again that it has."""
    write, insert = rewriter.names.write, upsert.insert
    assert insert.table is not None
    own = write(table_parts(insert.table, rewriter)[-1])
    if not upsert.sets:
        return [f"{own}.{write(upsert.keys[0][0])} = {own}.{write(upsert.keys[0][0])}"]
    values = [(f"{own}.{write(column)}", rewriter.text(*span).strip()) for column, span in upsert.sets]
    if upsert.condition is None:
        return [f"{column} = {value}" for column, value in values]
    first, last = upsert.condition
    tested = {old for name, old in upsert.old_values(rewriter) if first <= name.first < last}
    if tested & {column for column, _ in upsert.sets[:-1]}:
        raise CannotDraft("an update of some rows by a column that it changes first")
    test = rewriter.text(first, last).strip()
    return [f"{column} = CASE WHEN {test} THEN {value} ELSE {column} END" for column, value in values]


def _given(upsert: Upsert, rewriter: Rewriter) -> str:
    if upsert.query is not None:
        return rewriter.text(*upsert.query)
    rows = (", ".join(rewriter.text(*span) for span in row) for row in upsert.rows)
    return "VALUES " + ", ".join(f"({row})" for row in rows)


# --- Oracle and SQL Server ---


def _as_merge(upsert: Upsert, rewriter: Rewriter) -> str:
    write, is_oracle = rewriter.names.write, rewriter.target.engine == "oracle"
    table = _table(upsert.insert, rewriter)
    head = f"MERGE INTO {table} {_OLD}" if is_oracle else f"MERGE INTO {table} WITH (HOLDLOCK) AS {_OLD}"
    source, values = _source(upsert, rewriter)
    tests = [" AND ".join(f"{_OLD}.{write(c)} = {_NEW}.{write(c)}" for c in key) for key in upsert.keys]
    condition = tests[0] if len(tests) == 1 else " OR ".join(f"({test})" for test in tests)
    text = f"{head}\nUSING {source} ON ({condition})"
    sets = _sets(upsert, rewriter)
    if sets:
        test = rewriter.text(*upsert.condition).strip() if upsert.condition is not None else ""
        text += f"\nWHEN MATCHED{f' AND ({test})' if test and not is_oracle else ''} THEN UPDATE SET {', '.join(sets)}"
        text += f" WHERE {test}" if test and is_oracle else ""
    columns = ", ".join(map(write, upsert.columns))
    text += f"\nWHEN NOT MATCHED THEN INSERT ({columns}) VALUES ({', '.join(values)})"
    return text


def _sets(upsert: Upsert, rewriter: Rewriter) -> list[str]:
    """Return what becomes of a row that is there, by column."""
    write, key = rewriter.names.write, set(upsert.keys[0])
    if upsert.action == "nothing":
        return []
    if upsert.action == "replace":
        others = [c for c in upsert.known.columns if c.name not in key and not c.generated]
        if any(column.identity for column in others):
            raise CannotDraft("a row that is replaced and gets a new number")
        given = {column: _new_value(column, upsert, rewriter) for column in upsert.columns}
        return [f"{write(each.name)} = {given.get(each.name, 'DEFAULT')}" for each in others]
    if rewriter.target.engine == "oracle" and key & {column for column, _ in upsert.sets}:
        raise CannotDraft("a change of the key that the row has run into (ORA-38104)")
    return [f"{_OLD}.{write(column)} = {rewriter.text(*span)}" for column, span in upsert.sets]


def _new_value(column: str, upsert: Upsert, rewriter: Rewriter) -> str:
    if len(upsert.rows) == 1 and column not in _kept(upsert, rewriter):
        return rewriter.text_elsewhere(*upsert.rows[0][upsert.columns.index(column)]).strip()
    return f"{_NEW}.{rewriter.names.write(column)}"


def _kept(upsert: Upsert, rewriter: Rewriter) -> list[str]:
    """Return the columns of the new row that the draft asks for by name: of a single row, keys and what the update takes."""
    if len(upsert.rows) != 1:
        return upsert.columns
    asked = {column for key in upsert.keys for column in key} | {name for _, name in upsert.new_values(rewriter)}
    return [column for column in upsert.columns if column in asked]


def _source(upsert: Upsert, rewriter: Rewriter) -> tuple[str, list[str]]:
    """Return the rows that are merged, and the values that a new row gets."""
    write, is_oracle = rewriter.names.write, rewriter.target.engine == "oracle"
    kept = _kept(upsert, rewriter)
    values = [f"{_NEW}.{write(column)}" for column in upsert.columns]
    if not is_oracle and any(c.identity for c in upsert.known.columns if c.name in upsert.columns):
        raise CannotDraft("a row that brings its own number into a column that counts by itself")
    if upsert.query is not None:
        query = rewriter.text(*upsert.query).strip()
        names = ", ".join(map(write, upsert.columns))
        if is_oracle:
            return f"(WITH hs_rows ({names}) AS ({query}) SELECT {names} FROM hs_rows) {_NEW}", values
        return f"({query}) AS {_NEW} ({names})", values
    selects = list(_selects(upsert, kept, rewriter))
    if len(upsert.rows) == 1:
        row = upsert.rows[0]
        values = [
            value if column in kept else rewriter.text(*row[place]).strip()
            for place, (column, value) in enumerate(zip(upsert.columns, values, strict=True))
        ]
    return f"({' UNION ALL '.join(selects)}) {'' if is_oracle else 'AS '}{_NEW}", values


def _selects(upsert: Upsert, kept: list[str], rewriter: Rewriter) -> Iterator[str]:
    """Yield a query of one row for each row. Raises CannotDraft for values that only INSERT reads."""
    dual = " FROM DUAL" if rewriter.target.engine == "oracle" else ""
    for row in upsert.rows:
        items = []
        for column in kept:
            span = row[upsert.columns.index(column)]
            if rewriter.words[span[0]] in ("DEFAULT", "NULL"):
                raise CannotDraft("NULL or a default in a key, or among several rows that may run into one")
            if _has_column(span, rewriter):
                raise CannotDraft("a value that names a column of its own row")
            items.append(f"{rewriter.text(*span).strip()} AS {rewriter.names.write(column)}")
        yield f"SELECT {', '.join(items)}{dual}"


def _has_column(span: Span, rewriter: Rewriter) -> bool:
    """Whether a value names something that is neither a variable nor a parameter."""
    declared = rewriter.subject.scope.declared
    names: list[Node] = [n for n in rewriter.subject.all(Name) if span[0] <= n.first and n.last <= span[1]]
    return any(
        isinstance(n, Name) and len(n.parts) == 1 and n.parts[0] not in declared and not n.parts[0].startswith("@")
        for n in names
    )
