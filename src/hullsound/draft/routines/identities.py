"""The number that an INSERT gives its new row: RETURNING in one engine, a function behind the statement in another.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "RETURNING INTO Clause"; Transact-SQL reference, SCOPE_IDENTITY; MySQL
8.4 Reference Manual, LAST_INSERT_ID; PostgreSQL 18, INSERT.
"""

import itertools
from typing import Final, NamedTuple

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Assign, Call, Insert, Name, Node, Operation, Query, QueryStatement, Select, SelectItem

from .key_triggers import KeyFilling, changes_given_rows, filling_of

_ASKING: Final = frozenset(("SCOPE_IDENTITY", "LAST_INSERT_ID", "IDENTITY_VAL_LOCAL"))


class Given(NamedTuple):
    """What a new row's number goes into, the column that it is, and what asks for it behind the INSERT, if anything does."""

    target: Node
    column: str
    asking: Node | None


def number_given(insert: Insert, following: list[Node], rewriter: Rewriter) -> Given | None:
    """Return what takes the number of the new row, by RETURNING or right behind; None where nothing asks for it.

    Raises CannotDraft for RETURNING of anything else.
    """
    if insert.returning:
        names = [each.value if isinstance(each, SelectItem) else each for each in insert.returning]
        asked = names[0] if len(names) == 1 and len(insert.into) == 1 else None
        if taken_from_values(insert, rewriter) or numbered_by_trigger(insert, rewriter) is not None:
            return None
        if rewriter.target.engine == "oracle" and len(names) == len(insert.into) and _rows_of(insert, rewriter) == 1:
            return None  # which gives values back in the same words
        column = identity_filled(insert, rewriter)
        if not isinstance(asked, Name) or asked.parts[-1] != column:
            raise CannotDraft("values that a change gives back, other than the number of a new row")
        return Given(insert.into[0], column, None)
    for asking in _set_with(following[0], rewriter) if following else ():
        target = _asks_for_number(asking)
        column = identity_filled(insert, rewriter) if target is not None else ""
        if target is not None and column:
            return Given(target, column, asking)
    return None


def _set_with(node: Node, rewriter: Rewriter) -> list[Node]:
    """Return the assignments of SET a = 1, b = 2, of which the tree of MySQL has the last; any other statement by itself."""
    if not isinstance(node, Assign):
        return [node]
    return [each for each in rewriter.subject.all(Assign) if each.first == node.first]


def taken_from_values(insert: Insert, rewriter: Rewriter) -> list[tuple[Node, Node]]:
    """Return target and value of each column that RETURNING gives back, where the row's own VALUES give them all.

    [] where one is given by the table, or where a trigger may change the row.
    """
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    values = _values_of(insert, rewriter)
    if table is None or len(values) != len(insert.columns) or len(insert.into) != len(insert.returning):
        return []
    if changes_given_rows(table, rewriter):
        return []
    by_name = {name.parts[-1]: value for name, value in zip(insert.columns, values, strict=True)}
    found: list[tuple[Node, Node]] = []
    for asked, target in zip(insert.returning, insert.into, strict=True):
        name = asked.value if isinstance(asked, SelectItem) else asked
        value = by_name.get(name.parts[-1]) if isinstance(name, Name) else None
        if not isinstance(value, Name) or value.parts[-1] != "NEXTVAL" or not isinstance(target, Name):
            return []
        found.append((target, value))
    return found


def numbered_by_trigger(insert: Insert, rewriter: Rewriter) -> KeyFilling | None:
    """Return what a trigger numbers the row of an INSERT by, where RETURNING asks for this number alone."""
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    asked = insert.returning[0] if len(insert.returning) == len(insert.into) == 1 else None
    name = asked.value if isinstance(asked, SelectItem) else asked
    if table is None or not isinstance(name, Name) or not insert.columns or _rows_of(insert, rewriter) != 1:
        return None
    fills = filling_of(table, rewriter)
    given = {each.parts[-1] for each in insert.columns}
    return fills if fills is not None and name.parts[-1] == fills.column and fills.column not in given else None


def _values_of(insert: Insert, rewriter: Rewriter) -> list[Node]:
    """Return the values of the one row that VALUES gives, as far as they are names; others stand as they are."""
    if _rows_of(insert, rewriter) != 1:
        return []
    words, depth, starts = rewriter.words, 0, []
    first = next(at for at in range(insert.first, insert.last) if words[at] == "VALUES") + 1
    for at in range(first, insert.last):
        if depth == 1 and (words[at] == "," or at == first + 1):
            starts.append(at + (words[at] == ","))
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0:
            starts.append(at + 1)
            break
    spans = [(a, b - 1) for a, b in itertools.pairwise(starts)]
    names = {(each.first, each.last): each for each in rewriter.subject.read.inside(Name, insert.first, insert.last)}
    return [names.get(span, insert) for span in spans]


def identity_filled(insert: Insert, rewriter: Rewriter) -> str:
    """Return the column that numbers the one row of an INSERT by itself; '' where there is none, or the row gives it."""
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    names = {name.parts[-1] for name in insert.columns}
    column = next((each for each in table.columns if each.identity), None) if table is not None else None
    if column is None or not names or column.name in names or _rows_of(insert, rewriter) != 1:
        return ""
    return column.name


def _rows_of(insert: Insert, rewriter: Rewriter) -> int:
    """Return how many rows VALUES gives; 0 for a query."""
    if insert.query is not None:
        return 0
    words, depth, rows = rewriter.words, 0, 0
    start = next((at for at in range(insert.first, insert.last) if words[at] == "VALUES"), insert.last)
    for at in range(start, insert.last):
        depth += (words[at] == "(") - (words[at] == ")")
        rows += words[at] == "(" and depth == 1
        if depth == 0 and words[at] not in ("VALUES", ")", ","):
            break
    return rows


def _asks_for_number(node: Node) -> Node | None:
    """Return the variable that a statement gives the last number; None for another statement."""
    if isinstance(node, Assign):
        return node.target if _is_number(node.value) else None
    query = node.query if isinstance(node, QueryStatement) else None
    block = query.blocks[0] if isinstance(query, Query) and len(query.blocks) == 1 else None
    value = block.items[0].value if isinstance(block, Select) and len(block.items) == 1 and not block.sources else None
    if isinstance(value, Operation) and value.operators == ["="] and _is_number(value.operands[1]):
        return value.operands[0]
    return None


def _is_number(value: Node) -> bool:
    return isinstance(value, Call) and value.parts[-1] in _ASKING and not value.arguments


def drop_returning(rewriter: Rewriter) -> None:
    """Leave RETURNING out of each INSERT: what it gave is written by the routine around it, but by Oracle, which has it."""
    for insert in rewriter.subject.all(Insert) if rewriter.target.engine != "oracle" else ():
        if insert.returning:
            words = rewriter.words
            at = next(i for i in range(insert.last - 1, insert.first, -1) if words[i] in ("RETURNING", "RETURN"))
            rewriter.put_over(at, insert.last, "")
            rewriter.take_span(at, insert.last)
