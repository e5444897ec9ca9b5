"""INSERT, UPDATE and DELETE of engines other than Oracle, as PostgreSQL writes them."""

from functools import partial
from typing import Final

from hullsound.analyze.local_tables import local_columns
from hullsound.analyze.subject import Subject
from hullsound.catalog.model import Object
from hullsound.draft.conversions.json_values import add_json_values
from hullsound.draft.conversions.values import lone_values
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Clause,
    Delete,
    DerivedTable,
    Insert,
    Join,
    Merge,
    Name,
    Node,
    SelectItem,
    TableFunction,
    TableRef,
    Update,
)

from .through import changed_query, mark_change_through, write_change_through
from .upserts import mark_upsert, rows_of, write_replace, write_upsert
from .versions import versions_of

_RECORDS: Final = ("INSERTED", "DELETED")
SELF: Final = "hs_self"
"""Alias of the changed table where it must be joined with itself, row by row."""


def add_change_points(rewriter: Rewriter) -> None:
    """Add the points of all changes of a statement."""
    subject = rewriter.subject
    through: list[Update | Delete] = [*subject.all(Update), *subject.all(Delete)]
    for node in through:
        query = changed_query(node, rewriter)
        if query is not None:
            mark_change_through(node, query, rewriter)
    changes: list[Update | Delete | Insert | Merge] = [*through, *subject.all(Insert), *subject.all(Merge)]
    for change in changes:
        _mark_output(change, rewriter)
    for merge in subject.all(Merge):
        _mark_merge(merge, rewriter)
        rewriter.add(Point(_verb(merge, rewriter), merge.last, partial(_merge, merge)))
    for update in subject.all(Update):
        rewriter.add(Point(_verb(update, rewriter), update.last, partial(_update, update)))
    for delete in subject.all(Delete):
        rewriter.add(Point(_verb(delete, rewriter), delete.last, partial(_delete, delete)))
    for insert in subject.all(Insert):
        _mark_values(insert, rewriter)
        if rewriter.catalog.engine in ("mysql", "mariadb"):
            add_json_values(insert, rewriter)
        rewriter.add(Point(_verb(insert, rewriter), insert.last, partial(_insert, insert)))


def _verb(node: Update | Delete | Insert | Merge, rewriter: Rewriter) -> int:
    """Return the token at which a change begins, behind the common tables that may stand before it."""
    words = rewriter.words
    if words[node.first] != "WITH":
        return node.first
    depth = 0
    for at in range(node.first, node.last):
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0 and words[at] in ("INSERT", "UPDATE", "DELETE", "REPLACE", "MERGE"):
            return at
    return node.first


class Sources:
    """The tables beside the changed one, and the conditions that join them."""

    def __init__(self, roots: list[Node]) -> None:
        self.leaves: list[Node] = []
        self.conditions: list[Node] = []
        self.is_plain = True
        """Whether every join is an inner one with ON, so that conditions may move into WHERE."""
        self.roots = roots
        for root in roots:
            self._flatten(root)

    def _flatten(self, node: Node) -> None:
        if not isinstance(node, Join):
            self.leaves.append(node)
            return
        self._flatten(node.left)
        self._flatten(node.right)
        inner = node.kind in ("JOIN", "INNER JOIN", "CROSS JOIN", ",", "STRAIGHT_JOIN")
        if not inner or (node.condition is None and node.kind not in ("CROSS JOIN", ",")):
            self.is_plain = False
        if node.condition is not None:
            self.conditions.append(node.condition)

    def find(self, alias: str) -> TableRef | None:
        """Return the table that a name or alias stands for among the sources."""
        tables = [leaf for leaf in self.leaves if isinstance(leaf, TableRef)]
        return next((t for t in tables if t.alias == alias), None) or next(
            (t for t in tables if not t.alias and t.parts[-1] == alias), None
        ) or next((t for t in tables if t.parts[-1] == alias), None)  # fmt: skip


def roots_of(first: int, last: int, rewriter: Rewriter) -> list[Node]:
    """Return the outermost sources inside a span of tokens."""
    kinds: tuple[type[Node], ...] = (Join, TableRef, DerivedTable, TableFunction)
    nodes = [n for kind in kinds for n in rewriter.subject.all(kind) if first <= n.first and n.last <= last]
    nodes.sort(key=lambda n: (n.first, -n.last))
    roots: list[Node] = []
    for node in nodes:
        if not roots or node.first >= roots[-1].last:
            roots.append(node)
    return roots


def clause_of(node: Node, name: str, rewriter: Rewriter) -> Clause | None:
    subject = rewriter.subject
    found = [c for c in _clauses(subject).get(name, ()) if node.first <= c.first and c.last <= node.last]
    if not found:
        return None
    inner = [n for kind in (Update, Delete, Insert) for n in subject.all(kind)
             if n is not node and node.first <= n.first and n.last <= node.last]  # fmt: skip
    found = [c for c in found if not any(n.first <= c.first < n.last for n in inner)]
    return found[0] if found else None


def _clauses(subject: Subject) -> dict[str, list[Clause]]:
    """Return the clauses of a statement by name, sorted out once."""
    known: dict[str, list[Clause]] = subject.memory.setdefault("clauses", {})  # type: ignore[assignment]
    if not known:
        for clause in subject.all(Clause):
            known.setdefault(clause.name, []).append(clause)
    return known


# --- UPDATE and DELETE ---


def _update(node: Update, rewriter: Rewriter) -> str:
    query = changed_query(node, rewriter)
    if query is not None:
        return _with_output(node, write_change_through(node, query, rewriter), None, rewriter)
    joined = clause_of(node, "update-from", rewriter)
    if isinstance(node.table, Join) or clause_of(node, "change-several-tables", rewriter):
        end = node.assignments[0][0].first - 1
        sources = Sources(roots_of(node.table.first, end, rewriter))
        target = _assigned_table(node, sources, rewriter)
    else:
        sources = Sources(roots_of(joined.first, joined.last, rewriter) if joined is not None else [])
        target = _target(node.table, sources)
    assignments = ", ".join(_assignment(node, target, name, value, rewriter) for name, value in node.assignments)
    return _change(("UPDATE", f" SET {assignments}"), " FROM ", node, target, sources, rewriter)


def _target(table: Node, sources: Sources) -> TableRef:
    if not isinstance(table, TableRef):
        raise CannotDraft("a change of something that is no table")
    return sources.find(table.parts[-1]) or table


def _assigned_table(node: Update, sources: Sources, rewriter: Rewriter) -> TableRef:
    """Return the one table whose columns are assigned."""
    found: list[TableRef] = []
    for name, _ in node.assignments:
        if not isinstance(name, Name):
            raise CannotDraft("an assignment to something that is no column")
        table = sources.find(name.parts[-2]) if len(name.parts) > 1 else _owner(name, sources, rewriter)
        if table is None:
            raise CannotDraft(f"no table has the column {name.parts[-1].lower()}")
        if table not in found:
            found.append(table)
    if len(found) != 1:
        raise CannotDraft("an UPDATE of several tables at once")
    return found[0]


def _owner(name: Name, sources: Sources, rewriter: Rewriter) -> TableRef | None:
    for leaf in sources.leaves:
        if isinstance(leaf, TableRef):
            table = rewriter.table(leaf.parts)
            if table is not None and any(column.name == name.parts[-1] for column in table.columns):
                return leaf
    return None


def _assignment(node: Update, target: TableRef, name: Node, value: Node, rewriter: Rewriter) -> str:
    if not isinstance(name, Name) or name.parts[0].startswith("@"):
        raise CannotDraft("an assignment to something that is no column")
    column = rewriter.names.write(name.parts[-1])
    operator = rewriter.words[name.last]
    if operator not in ("=", ":="):
        return f"{column} = {column} {operator[0]} ({rewriter.node(value)})"
    earlier = {n.parts[-1] for n, _ in node.assignments if isinstance(n, Name) and n.first < name.first}
    if rewriter.catalog.engine in ("mysql", "mariadb"):
        for used in rewriter.subject.read.inside(Name, value.first, value.last):
            if used.parts[-1] in earlier:
                raise CannotDraft("a value made from a column that the same UPDATE has set before")
    return f"{column} = {rewriter.node(value)}"


def _delete(node: Delete, rewriter: Rewriter) -> str:
    joined = clause_of(node, "delete-join", rewriter)
    sources = Sources(roots_of(joined.first, joined.last, rewriter) if joined is not None else [])
    if not isinstance(node.table, TableRef):
        raise CannotDraft("a DELETE from several tables at once")
    if clause_of(node, "change-several-tables", rewriter):
        raise CannotDraft("a DELETE from several tables at once")
    query = changed_query(node, rewriter)
    if query is not None:
        return _with_output(node, write_change_through(node, query, rewriter), None, rewriter)
    return _change(("DELETE FROM", ""), " USING ", node, _target(node.table, sources), sources, rewriter)


def _change(
    around: tuple[str, str], link: str, node: Update | Delete, target: TableRef, sources: Sources, rewriter: Rewriter
) -> str:
    """Put together a change with its other tables, its conditions, its limit and what it gives out.

    `around` is what stands before and behind the table that is changed.
    """
    verb, rest = around
    table = rewriter.names.qualified(*_table_parts(target, rewriter))
    alias = f" AS {rewriter.names.write(target.alias)}" if target.alias else ""
    head = f"{verb} {table}{alias}{rest}"
    where = [rewriter.node(node.where)] if node.where is not None else []
    if node.where is not None and rewriter.words[node.where.first] == "CURRENT":
        where = [rewriter.text(node.where.first, node.where.last)]
    elif node.where is not None and rewriter.words[node.where.first - 2 : node.where.first] == ["CURRENT", "OF"]:
        where = [f"CURRENT OF {where[0]}"]
    others = [leaf for leaf in sources.leaves if leaf is not target]
    limit = _limit(node, rewriter)
    if limit:
        if others:
            raise CannotDraft("a limit on a change of joined tables")
        condition = f" WHERE {where[0]}" if where else ""
        text = f"{head}\n WHERE ctid IN (SELECT ctid FROM {table}{alias}{condition}{limit})"
    elif not others:
        text = head + (f"\n WHERE {where[0]}" if where else "")
    elif sources.is_plain:
        conditions = [_bracketed(rewriter.node(each)) for each in sources.conditions] + [_bracketed(w) for w in where]
        text = head + link + ", ".join(rewriter.node(leaf) for leaf in others)
        text += "\n WHERE " + "\n   AND ".join(conditions) if conditions else ""
    else:
        # An outer join needs the table itself among the sources: its rows are found again by their address.
        own = rewriter.names.write(target.alias or target.parts[-1])
        text = f"{verb} {table} AS {SELF}{rest}" + link + ", ".join(rewriter.node(root) for root in sources.roots)
        conditions = [f"{SELF}.ctid = {own}.ctid", *map(_bracketed, where)]
        text += "\n WHERE " + "\n   AND ".join(conditions)
    if "RETURNING" in rewriter.words[node.first : node.last]:
        raise CannotDraft("RETURNING of a change that is written anew")
    return _with_output(node, text, target, rewriter)


def _bracketed(text: str) -> str:
    return f"({text})" if " or " in f" {text.lower()} " else text


def _table_parts(table: TableRef, rewriter: Rewriter) -> tuple[str, ...]:
    if len(table.parts) > 2:
        return table.parts[-2:]
    if table.parts[0] == rewriter.catalog.default_schema_alias and (item := rewriter.table(table.parts)) is not None:
        return (item.schema, item.name) if item.schema else (item.name,)
    if table.parts[0] == "SESSION" and rewriter.catalog.engine == "db2":  # a temporary table of the session
        return table.parts[-1:]
    return (*table.parts[:-1], local_table(table.parts[-1]))


def local_table(name: str) -> str:
    """Return the stored name of the temporary table that stands for #name or @name; other names stay."""
    return f"TEMP_{name.lstrip('@#')}" if name[:1] in ("@", "#") else name


def add_temporary_names(rewriter: Rewriter, *, over: bool = False) -> None:
    """Write #name and @name of temporary tables as the tables that stand for them; `over` what was to be written there."""
    write = rewriter.put_over if over else rewriter.replace
    for table in rewriter.subject.all(TableRef):
        if table.parts[-1][:1] in ("@", "#"):
            new = rewriter.names.write(local_table(table.parts[-1]))
            write(table.first, table.first + 2 * len(table.parts) - 1, new)
    for name in rewriter.subject.all(Name):
        if len(name.parts) > 1 and name.parts[0][:1] == "#":
            write(name.first, name.first + 1, rewriter.names.write(local_table(name.parts[0])))


def _limit(node: Update | Delete, rewriter: Rewriter) -> str:
    """Return ORDER BY and LIMIT of a change, or what TOP means, as they stand in the query for its rows."""
    top = clause_of(node, "top", rewriter)
    if top is not None and top.first <= _verb(node, rewriter) + 2:
        if rewriter.words[top.last - 1] == "PERCENT":
            raise CannotDraft("TOP n PERCENT of a change")
        return f" LIMIT {rewriter.text(top.first + 1, top.last)}{_lock(node, rewriter)}"
    start = node.where.last if node.where is not None else -1
    if start < 0:
        start = node.assignments[-1][1].last if isinstance(node, Update) else node.table.last
    joined = rewriter.words[start : start + 1]
    if joined and joined[0] in ("ORDER", "LIMIT") and start < node.last:
        return " " + rewriter.text(start, node.last)
    return ""


def _lock(node: Update | Delete, rewriter: Rewriter) -> str:
    """Pass over rows that others hold where the source says so, as work queues do."""
    hints = [c for c in rewriter.subject.all(Clause) if c.name == "table-hint" and node.first < c.first < node.last]
    passes = any("READPAST" in rewriter.words[hint.first : hint.last] for hint in hints)
    return " FOR UPDATE SKIP LOCKED" if passes else ""


# --- OUTPUT ---


def _with_output(node: Update | Delete | Insert | Merge, text: str, target: TableRef | None, rewriter: Rewriter) -> str:
    """Add RETURNING for OUTPUT, and put its rows into the table that OUTPUT INTO names."""
    output = clause_of(node, "output", rewriter)
    if output is None:
        return text
    words = rewriter.words
    into = next((i for i in range(output.first, output.last) if words[i] == "INTO"), output.last)
    items = [i for i in rewriter.subject.all(SelectItem) if output.first < i.first and i.last <= into]
    items = [i for i in items if not any(o is not i and o.first <= i.first and i.last <= o.last for o in items)]
    values = ", ".join(_output_item(node, item, target, rewriter) for item in items)
    text = f"{text}\nRETURNING {values}"
    if into == output.last:
        return text
    table = next(t for t in rewriter.subject.all(TableRef) if t.first == into + 1)
    columns = rewriter.text(table.last, output.last)
    name = rewriter.names.qualified(*_table_parts(table, rewriter))
    opening = "WITH" if rewriter.words[node.first] != "WITH" else ","  # behind the common tables that stand before it
    return f"{opening} hs_changed AS (\n{text}\n)\nINSERT INTO {name}{' ' + columns if columns else ''} SELECT * FROM hs_changed"


def _output_item(node: Node, item: SelectItem, target: TableRef | None, rewriter: Rewriter) -> str:
    value = item.value
    alias = f" AS {rewriter.names.write(item.alias)}" if item.alias else ""
    source = rewriter.subject.source(value).upper()
    if source in ("INSERTED.*", "DELETED.*"):
        return f"{rewriter.names.write(target.alias or target.parts[-1])}.*" if target is not None else "*"
    if source == "$ACTION":
        if rewriter.target.version < 17:
            raise CannotDraft("what a MERGE did to a row, which RETURNING knows since version 17")
        return f"merge_action(){alias}"
    return rewriter.node(value) + alias


def _mark_output(node: Update | Delete | Insert | Merge, rewriter: Rewriter) -> None:
    """Name the changed table, or its rows from before, where OUTPUT says INSERTED and DELETED."""
    output = clause_of(node, "output", rewriter)
    if output is None:
        return
    table = node.table if isinstance(node.table, TableRef) else None
    owner = f"{rewriter.names.write(table.alias or table.parts[-1])}." if table is not None and len(table.parts) else ""
    if isinstance(node, Update | Delete) and changed_query(node, rewriter) is not None:
        owner = "hs_self."
    for name in rewriter.subject.all(Name):
        if output.first <= name.first < output.last and name.parts[0] in _RECORDS and len(name.parts) == 2:
            rewriter.add(Point(name.first, name.last, partial(_output_name, node, name, owner)))


def _output_name(node: Node, name: Name, owner: str, rewriter: Rewriter) -> str:
    column = rewriter.names.write(name.parts[-1])
    if name.parts[0] == "DELETED" and isinstance(node, Update | Merge):
        if rewriter.target.version < 18:
            raise CannotDraft("the rows from before a change, which RETURNING knows since version 18")
        return f"old.{column}"
    return owner + column


# --- MERGE ---


def _merge(node: Merge, rewriter: Rewriter) -> str:
    """Write a MERGE: INTO is said, hints and the end of T-SQL's BY TARGET go, and columns are set without a table's name."""
    if rewriter.target.version < 15:
        raise CannotDraft("MERGE, which is there since version 15")
    output = clause_of(node, "output", rewriter)
    verb = _verb(node, rewriter)
    end = output.first if output is not None else node.last
    words = rewriter.words
    if words[end - 2 : end] == ["ELSE", "IGNORE"]:
        end -= 2
    start = node.table.first
    text = f"MERGE INTO {rewriter.text(start, end).rstrip()}"
    if any(words[i] == "TOP" for i in range(verb, start)):
        raise CannotDraft("a limit on MERGE")
    return _with_output(node, text, node.table, rewriter)


def _mark_merge(node: Merge, rewriter: Rewriter) -> None:
    words = rewriter.words
    name = rewriter.names.qualified(*_table_parts(node.table, rewriter))
    rewriter.replace(node.table.first, node.table.first + 2 * len(node.table.parts) - 1, name)
    for at in range(node.first, node.last - 1):
        if words[at : at + 2] == ["BY", "TARGET"]:
            rewriter.replace(at, at + 2, "")
    for target, _ in node.assignments:
        if isinstance(target, Name):
            rewriter.replace(target.first, target.last, rewriter.names.write(target.parts[-1]))
            operator = words[target.last]
            if operator in ("+=", "-=", "*=", "/="):
                column = rewriter.names.qualified(node.table.alias or node.table.parts[-1], target.parts[-1])
                rewriter.replace(target.last, target.last + 1, f"= {column} {operator[0]}")


# --- INSERT ---


def _insert(node: Insert, rewriter: Rewriter) -> str:
    words = rewriter.words
    if node.table is None:
        raise CannotDraft("an INSERT into something that is no table")
    table = rewriter.names.qualified(*_table_parts(node.table, rewriter))
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
    if words[_verb(node, rewriter)] == "REPLACE":
        text += write_replace(rows, given, rewriter)
    elif duplicate is not None:
        text += write_upsert(duplicate, rows, given, rewriter)
    elif "IGNORE" in words[node.first : node.table.first]:
        text += "\nON CONFLICT DO NOTHING"
    elif clause_of(node, "or-action", rewriter):
        raise CannotDraft("INSERT OR with an action")
    return _with_output(node, text, node.table, rewriter)


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


def _mark_values(node: Insert, rewriter: Rewriter) -> None:
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


def _mark_counted(start: int, end: int, place: int, rewriter: Rewriter) -> None:
    """Turn NULL or 0 for a column that counts by itself into DEFAULT."""
    for column, at in lone_values(rewriter.words, start + 1, end):
        if column == place and rewriter.words[at] in ("NULL", "0"):
            rewriter.replace(at, at + 1, "DEFAULT")
