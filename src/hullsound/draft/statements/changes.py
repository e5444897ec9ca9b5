"""INSERT, UPDATE and DELETE of engines other than Oracle, as PostgreSQL writes them."""

from functools import partial

from hullsound.draft.conversions.json_values import add_json_values
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Clause,
    Delete,
    Insert,
    Join,
    Merge,
    Name,
    Node,
    Row,
    Subquery,
    TableRef,
    Update,
)

from .change_parts import SELF, Sources, changed_among, clause_of, roots_of, table_parts, verb_at
from .insert_points import mark_values, write_insert
from .outputs import mark_output, with_output
from .through import changed_query, mark_change_through, write_change_through


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
        mark_output(change, rewriter)
    for merge in subject.all(Merge):
        _mark_merge(merge, rewriter)
        rewriter.add(Point(verb_at(merge, rewriter), merge.last, partial(_merge, merge)))
    for update in subject.all(Update):
        rewriter.add(Point(verb_at(update, rewriter), update.last, partial(_update, update)))
    for delete in subject.all(Delete):
        rewriter.add(Point(verb_at(delete, rewriter), delete.last, partial(_delete, delete)))
    for insert in subject.all(Insert):
        mark_values(insert, rewriter)
        if rewriter.catalog.engine in ("mysql", "mariadb"):
            add_json_values(insert, rewriter)
        rewriter.add(Point(verb_at(insert, rewriter), insert.last, partial(write_insert, insert)))


# --- UPDATE and DELETE ---


def _update(node: Update, rewriter: Rewriter) -> str:
    if clause_of(node, "or-action", rewriter) is not None:
        raise CannotDraft("UPDATE OR with an action")
    query = changed_query(node, rewriter)
    if query is not None:
        return with_output(node, write_change_through(node, query, rewriter), None, rewriter)
    joined = clause_of(node, "update-from", rewriter)
    if isinstance(node.table, Join) or clause_of(node, "change-several-tables", rewriter):
        end = node.assignments[0][0].first - 1
        sources = Sources(roots_of(node.table.first, end, rewriter))
        target = _assigned_table(node, sources, rewriter)
    else:
        sources = Sources(roots_of(joined.first, joined.last, rewriter) if joined is not None else [])
        target = _target(node.table, sources, rewriter)
    assignments = ", ".join(_assignment(node, target, name, value, rewriter) for name, value in node.assignments)
    return _change(("UPDATE", f" SET {assignments}"), " FROM ", node, target, sources, rewriter)


def _target(table: Node, sources: Sources, rewriter: Rewriter) -> TableRef:
    if not isinstance(table, TableRef):
        raise CannotDraft("a change of something that is no table")
    return changed_among(table, sources, rewriter) or table


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


def _assigned_column(name: Node, rewriter: Rewriter) -> str:
    if not isinstance(name, Name):
        raise CannotDraft("an assignment to something that is no column")
    return rewriter.names.write(name.parts[-1])


def _assignment(node: Update, target: TableRef, name: Node, value: Node, rewriter: Rewriter) -> str:
    if (
        isinstance(name, Row)
        and isinstance(value, Row | Subquery)
        and rewriter.catalog.engine not in ("mysql", "mariadb")
    ):
        columns = ", ".join(_assigned_column(each, rewriter) for each in name.items)
        return f"({columns}) = {rewriter.node(value)}"
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
        return with_output(node, write_change_through(node, query, rewriter), None, rewriter)
    return _change(("DELETE FROM", ""), " USING ", node, _target(node.table, sources, rewriter), sources, rewriter)


def _change(
    around: tuple[str, str], link: str, node: Update | Delete, target: TableRef, sources: Sources, rewriter: Rewriter
) -> str:
    """Put together a change with its other tables, its conditions, its limit and what it gives out.

    `around` is what stands before and behind the table that is changed.
    """
    verb, rest = around
    table = rewriter.names.qualified(*table_parts(target, rewriter))
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
    returning = _returning_at(node, rewriter)
    if returning and others:
        raise CannotDraft("RETURNING of a change through other tables")
    if returning:
        text += f"\n{rewriter.text(returning, node.last)}"
    return with_output(node, text, target, rewriter)


def _bracketed(text: str) -> str:
    return f"({text})" if " or " in f" {text.lower()} " else text


def _limit(node: Update | Delete, rewriter: Rewriter) -> str:
    """Return ORDER BY and LIMIT of a change, or what TOP means, as they stand in the query for its rows."""
    top = clause_of(node, "top", rewriter)
    if top is not None and top.first <= verb_at(node, rewriter) + 2:
        if rewriter.words[top.last - 1] == "PERCENT":
            raise CannotDraft("TOP n PERCENT of a change")
        return f" LIMIT {rewriter.text(top.first + 1, top.last)}{_lock(node, rewriter)}"
    start = node.where.last if node.where is not None else -1
    if start < 0:
        start = node.assignments[-1][1].last if isinstance(node, Update) else node.table.last
    joined = rewriter.words[start : start + 1]
    if joined and joined[0] in ("ORDER", "LIMIT") and start < node.last:
        return " " + rewriter.text(start, _returning_at(node, rewriter) or node.last)
    return ""


def _returning_at(node: Update | Delete, rewriter: Rewriter) -> int:
    """Return where RETURNING stands; 0 for nowhere. Raises CannotDraft where a limit follows it."""
    if not node.returning:
        return 0
    at = rewriter.words.index("RETURNING", node.first, node.last)
    if "LIMIT" in rewriter.words[node.returning[-1].last : node.last]:
        raise CannotDraft("a limit behind RETURNING")
    return at


def _lock(node: Update | Delete, rewriter: Rewriter) -> str:
    """Pass over rows that others hold where the source says so, as work queues do."""
    hints = [c for c in rewriter.subject.all(Clause) if c.name == "table-hint" and node.first < c.first < node.last]
    passes = any("READPAST" in rewriter.words[hint.first : hint.last] for hint in hints)
    return " FOR UPDATE SKIP LOCKED" if passes else ""


# --- OUTPUT ---


# --- MERGE ---


def _merge(node: Merge, rewriter: Rewriter) -> str:
    """Write a MERGE: INTO is said, hints and the end of T-SQL's BY TARGET go, and columns are set without a table's name."""
    if rewriter.target.version < 15:
        raise CannotDraft("MERGE, which is there since version 15")
    output = clause_of(node, "output", rewriter)
    verb = verb_at(node, rewriter)
    end = output.first if output is not None else node.last
    words = rewriter.words
    if words[end - 2 : end] == ["ELSE", "IGNORE"]:
        end -= 2
    start = node.table.first
    text = f"MERGE INTO {rewriter.text(start, end).rstrip()}"
    if any(words[i] == "TOP" for i in range(verb, start)):
        raise CannotDraft("a limit on MERGE")
    return with_output(node, text, node.table, rewriter)


def _mark_merge(node: Merge, rewriter: Rewriter) -> None:
    words = rewriter.words
    name = rewriter.names.qualified(*table_parts(node.table, rewriter))
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
