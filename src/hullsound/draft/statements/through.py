"""Changes through a common or derived table of SQL Server: the rows of the table behind it, found by their address."""

from functools import partial

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    CommonTable,
    Delete,
    DerivedTable,
    Join,
    Name,
    Node,
    Query,
    Select,
    Subquery,
    TableRef,
    Update,
)

_ADDRESS = "hs_address"
"""Column that carries the address of a row out of the query."""


def changed_query(node: Update | Delete, rewriter: Rewriter) -> CommonTable | DerivedTable | None:
    """Return the query whose rows a change names instead of a table."""
    if not isinstance(node.table, TableRef) or len(node.table.parts) != 1:
        return None
    name = node.table.parts[0]
    queries: list[CommonTable | DerivedTable] = [c for c in rewriter.subject.all(CommonTable) if c.name == name]
    queries += [d for d in rewriter.subject.all(DerivedTable) if d.alias == name]
    found = [query for query in queries if node.first <= query.first < node.last]
    return found[0] if found else None


def mark_change_through(node: Update | Delete, query: CommonTable | DerivedTable, rewriter: Rewriter) -> None:
    """Let the query give the address of each row beside its columns, and say of bare names that they are its columns."""
    block, table = block_behind(query), table_behind(query)
    if block is None or table is None:
        return
    write = rewriter.names.write
    rewriter.insert(block.items[0].first, f"{write(table.alias or table.parts[-1])}.ctid AS {_ADDRESS}, ")
    qualify_bare_names(node, query, rewriter)


def alias_of(query: CommonTable | DerivedTable, rewriter: Rewriter) -> str:
    return rewriter.names.write(query.name if isinstance(query, CommonTable) else query.alias)


def qualify_bare_names(node: Update | Delete, query: CommonTable | DerivedTable, rewriter: Rewriter) -> None:
    """Say of bare names in the conditions and values of a change that they are columns of the query."""
    values = [value for _, value in node.assignments] if isinstance(node, Update) else []
    for value in [*values, *([node.where] if node.where is not None else [])]:
        for name in _bare_names(value, rewriter):
            rewriter.wrap(name, partial(_qualified, name, alias_of(query, rewriter)))


def _qualified(name: Name, alias: str, rewriter: Rewriter) -> str:
    return f"{alias}.{rewriter.text(name.first, name.last)}"


def _bare_names(node: Node, rewriter: Rewriter) -> list[Name]:
    """Return the names of columns without a table in an expression, outside of its subqueries."""
    inner = [s for s in rewriter.subject.all(Subquery) if node.first <= s.first and s.last <= node.last]
    return [
        name
        for name in rewriter.subject.all(Name)
        if node.first <= name.first < node.last
        and len(name.parts) == 1
        and not name.parts[0].startswith("@")
        and not any(s.first < name.first < s.last for s in inner)
    ]


def block_behind(query: CommonTable | DerivedTable) -> Select | None:
    inner = query.query
    block = inner.blocks[0] if isinstance(inner, Query) and len(inner.blocks) == 1 else None
    return block if isinstance(block, Select) and block.items and not block.group else None


def table_behind(query: CommonTable | DerivedTable) -> TableRef | None:
    """Return the one table whose rows the query gives: the first of its joins."""
    block = block_behind(query)
    source = block.sources[0] if block is not None and len(block.sources) == 1 else None
    while isinstance(source, Join):
        source = source.left
    return source if isinstance(source, TableRef) else None


def write_change_through(node: Update | Delete, query: CommonTable | DerivedTable, rewriter: Rewriter) -> str:
    """Write the change on the table behind. Raises CannotDraft where the query is no plain one of one table."""
    block, table = block_behind(query), table_behind(query)
    if block is None or table is None or rewriter.words[block.first + 1] == "DISTINCT":
        raise CannotDraft("a change of rows that the query does not take from one table")
    alias = alias_of(query, rewriter)
    head = ""
    if isinstance(query, DerivedTable):
        head = f"WITH {alias} AS ({rewriter.node(query.query)})\n"
    name = rewriter.names.qualified(*table.parts[-2:])
    found = f"hs_self.ctid = {alias}.{_ADDRESS}"
    where = f" AND ({rewriter.node(node.where)})" if node.where is not None else ""
    if isinstance(node, Delete):
        return f"{head}DELETE FROM {name} AS hs_self\n USING {alias}\n WHERE {found}{where}"
    sets = ", ".join(_assignment(target, value, block, alias, rewriter) for target, value in node.assignments)
    return f"{head}UPDATE {name} AS hs_self SET {sets}\n  FROM {alias}\n WHERE {found}{where}"


def column_behind(target: Node, block: Select) -> str:
    """Return the column of the table which an assignment to one of the query means. Raises CannotDraft where there is none."""
    if not isinstance(target, Name):
        raise CannotDraft("an assignment to something that is no column")
    column = target.parts[-1]
    for item in block.items:
        if item.alias == column:
            if not isinstance(item.value, Name):
                raise CannotDraft("an assignment to a value that the query computes")
            return item.value.parts[-1]
    return column


def _assignment(target: Node, value: Node, block: Select, alias: str, rewriter: Rewriter) -> str:
    column = column_behind(target, block)
    assert isinstance(target, Name)
    operator = rewriter.words[target.last]
    text = rewriter.node(value)
    name = rewriter.names.write(column)
    return f"{name} = {text}" if operator == "=" else f"{name} = {alias}.{name} {operator[0]} ({text})"
