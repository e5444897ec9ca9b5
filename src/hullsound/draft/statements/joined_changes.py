"""UPDATE and DELETE through other tables, or of a table with an alias, as MySQL, MariaDB, SQL Server and Oracle write them.

Sources: MySQL 8.4 Reference Manual, "UPDATE Statement" and "DELETE Statement" (multiple-table syntax); Transact-SQL reference,
"UPDATE"; Oracle Database 19c, "SQL Language Reference", MERGE.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Delete, Join, Name, Node, Query, Row, TableRef, Update

from .change_parts import Sources, changed_among, clause_of, roots_of

_MYSQL: Final = ("mysql", "mariadb")
_PRIORITIES: Final = frozenset(("change-low-priority", "change-high-priority", "change-delayed", "change-quick"))
_OUTERMOST: Final = 12
_ADDING: Final = frozenset(("+=", "-="))
_ODD: Final = frozenset(("change-several-tables", "top", "output", "limit", "returning", "output-into"))


def add_joined_changes(rewriter: Rewriter) -> None:
    """Add a point for each UPDATE and DELETE with a join or an alias, and for those whose assignments depend on each other."""
    target = rewriter.target.engine
    for clause in rewriter.subject.all(Clause):
        if clause.name == "change-several-tables" and target not in _MYSQL:
            rewriter.add(Point(clause.first, clause.last, _refuse_several))
        elif clause.name in _PRIORITIES and target not in _MYSQL:
            rewriter.put_over(clause.first, clause.last, "")
    for update in rewriter.subject.all(Update):
        is_joined = isinstance(update.table, Join) or clause_of(update, "update-from", rewriter) is not None
        if is_joined or (target == "sqlserver" and _has_alias(update.table)):
            rewriter.add(Point(update.first, update.last, partial(_update, update)))
        elif (target in _MYSQL) != (rewriter.catalog.engine in _MYSQL) and _depends(update, rewriter):
            rewriter.add(Point(update.first, update.last, _refuse_order))
        else:
            _add_sums(update, rewriter)
    for delete in rewriter.subject.all(Delete):
        is_joined = isinstance(delete.table, Join) or clause_of(delete, "delete-join", rewriter) is not None
        # MariaDB takes an alias behind DELETE FROM since 11.6, MySQL since 8.0.16, SQL Server never.
        if is_joined or (target != "oracle" and _has_alias(delete.table)):
            rewriter.add(Point(delete.first, delete.last, partial(_delete, delete)))
        elif delete.table.first == delete.first + 1 and target in _MYSQL:
            rewriter.insert(delete.table.first, "FROM ")


def _add_sums(update: Update, rewriter: Rewriter) -> None:
    """Write column += value in full, of numbers; a text that something is put behind stays for a person."""
    for column, value in update.assignments:
        operator = rewriter.words[column.last]
        if operator in _ADDING and isinstance(column, Name) and _keeps_sum(column, value, rewriter):
            rewriter.put_over(column.last, value.first, f"= {rewriter.node(column)} {operator[0]} (")
            rewriter.wrap(value, partial(_closed, value), rank=_OUTERMOST)


def _keeps_sum(column: Node, value: Node, rewriter: Rewriter) -> bool:
    """Whether column + value fits the column as it is: engines cut or round what a whole number does not hold."""
    kinds = rewriter.types.family(column), rewriter.types.family(value)
    return kinds in ((Family.INTEGER, Family.INTEGER), (Family.NUMBER, Family.INTEGER), (Family.NUMBER, Family.NUMBER))


def _closed(value: Node, rewriter: Rewriter) -> str:
    return f"{rewriter.node(value)})"


def _has_alias(table: Node) -> bool:
    return isinstance(table, TableRef) and bool(table.alias)


def _refuse_order(rewriter: Rewriter) -> str:
    raise CannotDraft(
        "an UPDATE that reads a column which it has set before: MySQL means its new value, others the old"
    )


def _refuse_several(rewriter: Rewriter) -> str:
    raise CannotDraft("a change of several tables at once")


def _depends(update: Update, rewriter: Rewriter) -> bool:
    """Whether a value is made from a column that the same UPDATE has set before: MySQL takes the new value, others the old."""
    seen: set[str] = set()
    read = rewriter.subject.read
    for column, value in update.assignments:
        inner = read.inside(Query, value.first, value.last)
        names = [
            name
            for name in read.inside(Name, value.first, value.last)
            if not any(query.first <= name.first < query.last for query in inner)
        ]
        if any(name.parts[-1] in seen for name in names):
            return True
        columns = column.items if isinstance(column, Row) else [column]
        seen |= {each.parts[-1] for each in columns if isinstance(each, Name)}
    return False


def _read(change: Update | Delete, name: str, rewriter: Rewriter) -> tuple[TableRef, Sources, bool]:
    """Return the table that is changed, what is read, and whether the table stands among it."""
    if any(change.first <= each.first < change.last and each.name in _ODD for each in rewriter.subject.all(Clause)) or (
        change.returning or change.into
    ):
        raise CannotDraft("a change through a join that is cut, or gives out rows")
    joined = clause_of(change, name, rewriter)
    if joined is None:
        sources = Sources([change.table])
        if isinstance(change.table, TableRef):
            return change.table, sources, True
        assigned = {
            each.parts[-2]
            for each, _ in getattr(change, "assignments", [])
            if isinstance(each, Name) and len(each.parts) > 1
        }
        target = sources.find(next(iter(assigned))) if len(assigned) == 1 else None
        if target is None:
            raise CannotDraft("a change of several tables at once")
        return target, sources, True
    sources = Sources(roots_of(joined.first, joined.last, rewriter))
    if not isinstance(change.table, TableRef):
        raise CannotDraft("a change of something that is no table")
    found = changed_among(change.table, sources, rewriter)
    return found or change.table, sources, found is not None


def _update(node: Update, rewriter: Rewriter) -> str:
    target, sources, is_among = _read(node, "update-from", rewriter)
    if rewriter.target.engine == "oracle":
        return _merged(node, target, sources, is_among, rewriter)
    if rewriter.target.engine in _MYSQL and _depends(node, rewriter):
        raise CannotDraft("an UPDATE that reads a column which it has set before")
    alias = rewriter.names.write(target.alias or target.parts[-1])
    pairs = []
    for column, value in node.assignments:
        if isinstance(column, Row):
            pairs.append(rewriter.text(column.first, value.last))
            continue
        pairs.append(
            _pair(f"{alias}.{rewriter.names.write(_assigned(column, value, rewriter))}", column, value, rewriter)
        )
    read = _tables(target, sources, is_among, rewriter)
    where = f" WHERE {rewriter.node(node.where)}" if node.where is not None else ""
    if rewriter.target.engine == "sqlserver":
        return f"UPDATE {alias} SET {', '.join(pairs)} FROM {read}{where}"
    return f"UPDATE {read} SET {', '.join(pairs)}{where}"


def _pair(written: str, column: Node, value: Node, rewriter: Rewriter) -> str:
    """Write column = value; column += value adds to it."""
    operator = rewriter.words[column.last]
    if operator == "=":
        return f"{written} = {rewriter.node(value)}"
    return f"{written} = {written} {operator[0]} ({rewriter.node(value)})"


def _tables(target: TableRef, sources: Sources, is_among: bool, rewriter: Rewriter) -> str:
    texts = [rewriter.node(each) for each in sources.roots]
    return ", ".join(texts if is_among else [rewriter.node(target), *texts])


def _merged(node: Update, target: TableRef, sources: Sources, is_among: bool, rewriter: Rewriter) -> str:
    """Write an UPDATE through other tables as MERGE, which refuses rows that match several times."""
    others = [each for each in sources.leaves if each is not target]
    conditions = [*sources.conditions, *([node.where] if node.where is not None else [])]
    columns = [_assigned(column, value, rewriter) for column, value in node.assignments]
    if not others and is_among:
        return _updated_alone(node, target, rewriter)
    if not others or not conditions:
        raise CannotDraft("an UPDATE that joins without a condition")
    is_one = len(others) == 1 and (isinstance(others[0], TableRef) or bool(getattr(others[0], "alias", "")))
    if not is_one or not sources.is_plain or _finds_by(set(columns), target, conditions, rewriter):
        return _merged_by_row(node, target, sources, is_among, columns, rewriter)
    found = " AND ".join(f"({rewriter.node(each)})" for each in conditions)
    alias = rewriter.names.write(target.alias or target.parts[-1])
    pairs = [_pair(f"{alias}.{rewriter.names.write(_assigned(column, value, rewriter))}", column, value, rewriter)
             for column, value in node.assignments]  # fmt: skip
    head = f"MERGE INTO {rewriter.node(target)} USING {rewriter.node(others[0])} ON ({found})"
    return f"{head} WHEN MATCHED THEN UPDATE SET {', '.join(pairs)}"


def _updated_alone(node: Update, target: TableRef, rewriter: Rewriter) -> str:
    pairs = [_pair(rewriter.names.write(_assigned(column, value, rewriter)), column, value, rewriter)
             for column, value in node.assignments]  # fmt: skip
    where = f" WHERE {rewriter.node(node.where)}" if node.where is not None else ""
    return f"UPDATE {rewriter.node(target)} SET {', '.join(pairs)}{where}"


def _assigned(column: Node, value: Node, rewriter: Rewriter) -> str:
    """Return the column that is set. Raises CannotDraft for what is none, and for texts that something is put behind."""
    is_plain = rewriter.words[column.last] == "="
    adds = rewriter.words[column.last] in _ADDING and _keeps_sum(column, value, rewriter)
    if not isinstance(column, Name) or not (is_plain or adds):
        raise CannotDraft("an assignment to something that is no column, or that adds to it")
    return column.parts[-1]


def _finds_by(columns: set[str], target: TableRef, conditions: list[Node], rewriter: Rewriter) -> bool:
    """Whether the conditions read a column that is changed, which ON of MERGE may not."""
    alias = target.alias or target.parts[-1]
    read = rewriter.subject.read
    names = (name for each in conditions for name in read.inside(Name, each.first, each.last))
    return any(name.parts[-1] in columns and (len(name.parts) == 1 or name.parts[-2] == alias) for name in names)


def _merged_by_row(
    node: Update, target: TableRef, sources: Sources, is_among: bool, columns: list[str], rewriter: Rewriter
) -> str:
    """Work out the new values in a query over all tables, and find the rows again by their address."""
    write = rewriter.names.write
    alias = write(target.alias or target.parts[-1])
    if any(rewriter.words[column.last] != "=" for column, _ in node.assignments):
        raise CannotDraft("an UPDATE through several tables that adds to a column")
    values = [f"{rewriter.node(value)} AS hs_value{n}" for n, (_, value) in enumerate(node.assignments, start=1)]
    where = f" WHERE {rewriter.node(node.where)}" if node.where is not None else ""
    read = f"SELECT {alias}.ROWID AS hs_row, {', '.join(values)} FROM {_tables(target, sources, is_among, rewriter)}{where}"
    pairs = [f"{alias}.{write(column)} = hs_read.hs_value{n}" for n, column in enumerate(columns, start=1)]
    head = f"MERGE INTO {rewriter.node(target)} USING ({read}) hs_read ON ({alias}.ROWID = hs_read.hs_row)"
    return f"{head} WHEN MATCHED THEN UPDATE SET {', '.join(pairs)}"


def _delete(node: Delete, rewriter: Rewriter) -> str:
    target, sources, is_among = _read(node, "delete-join", rewriter)
    if rewriter.target.engine == "oracle":
        return _deleted_where(node, target, sources, is_among, rewriter)
    alias = rewriter.names.write(target.alias or target.parts[-1])
    where = f" WHERE {rewriter.node(node.where)}" if node.where is not None else ""
    return f"DELETE {alias} FROM {_tables(target, sources, is_among, rewriter)}{where}"


def _deleted_where(node: Delete, target: TableRef, sources: Sources, is_among: bool, rewriter: Rewriter) -> str:
    """Write a DELETE through other tables as one of the rows for which they have a match."""
    others: list[Node] = [each for each in sources.leaves if each is not target]
    conditions = [*sources.conditions, *([node.where] if node.where is not None else [])]
    if not others or not conditions:
        raise CannotDraft("a DELETE through a join without a condition")
    if not sources.is_plain:
        alias = rewriter.names.write(target.alias or target.parts[-1])
        where = f" WHERE {rewriter.node(node.where)}" if node.where is not None else ""
        read = f"SELECT {alias}.ROWID FROM {_tables(target, sources, is_among, rewriter)}{where}"
        return f"DELETE FROM {rewriter.node(target)} WHERE {alias}.ROWID IN ({read})"
    found = " AND ".join(f"({rewriter.node(each)})" for each in conditions)
    return f"DELETE FROM {rewriter.node(target)} WHERE EXISTS (SELECT 1 FROM {rewriter.nodes(others)} WHERE {found})"
