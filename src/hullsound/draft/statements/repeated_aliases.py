"""Aliases of a query's list in GROUP BY and HAVING, where a target asks for the expression that they stand for."""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detectors.meaning import AGGREGATES
from hullsound.sql.tree import Call, Comparison, Literal, Name, Node, Operation, Query, Select, TableRef

from .row_locks import flat_sources

_ALIAS_IN_HAVING: Final = frozenset(("mysql", "mariadb", "sqlite"))


def add_group_aliases(rewriter: Rewriter) -> None:
    """Put the expression for each alias in GROUP BY, of which a source knows that no column is called so: it comes first."""
    for select in rewriter.subject.all(Select):
        made = _expressions(select)
        for key in select.group:
            title = key.parts[0] if isinstance(key, Name) and len(key.parts) == 1 else ""
            if title in made and _is_no_column(title, select, rewriter):
                rewriter.add(Point(key.first, key.last, partial(_grouped, made[title])))


def add_having(select: Select, rewriter: Rewriter) -> None:
    """Put the expression for each alias in HAVING, and make a condition on rows of what filters no groups."""
    if select.having is None:
        return
    made = _expressions(select) if rewriter.catalog.engine in _ALIAS_IN_HAVING else {}
    for key in select.group:
        if isinstance(key, Name) and len(key.parts) == 1 and _is_column(key.parts[0], select, rewriter):
            made.pop(key.parts[0], None)
    for name in rewriter.subject.all(Name):
        inside = select.having.first <= name.first < select.having.last
        if inside and len(name.parts) == 1 and name.parts[0] in made:
            rewriter.add(Point(name.first, name.last, partial(_operand, made[name.parts[0]])))
    if not select.group and not _aggregates(select, rewriter):
        _add_second_where(select, select.having, rewriter)


def _expressions(select: Select) -> dict[str, Node]:
    """Return what each alias stands for, without columns that keep their name."""
    items = ((item.alias, item.value) for item in select.items if item.alias)
    return {title: value for title, value in items if not (isinstance(value, Name) and value.parts[-1] == title)}


def _is_column(title: str, select: Select, rewriter: Rewriter) -> bool:
    return any(title in names for names in _columns_read(select, rewriter))


def _is_no_column(title: str, select: Select, rewriter: Rewriter) -> bool:
    """Whether all that the query reads are known tables, none of which has a column of this name."""
    return all(names and title not in names for names in _columns_read(select, rewriter))


def _columns_read(select: Select, rewriter: Rewriter) -> list[set[str]]:
    """Return the columns of each table that a query reads, empty where they are not known."""
    tables = [
        rewriter.table(each.parts) if isinstance(each, TableRef) else None for each in flat_sources(select.sources)
    ]
    return [{column.name for column in table.columns} if table is not None else set() for table in tables]


def _grouped(value: Node, rewriter: Rewriter) -> str:
    """Write an expression that is grouped by. Raises CannotDraft for a constant and for a query in brackets."""
    if isinstance(value, Literal) or any(
        value.first <= each.first < value.last for each in rewriter.subject.all(Query)
    ):
        raise CannotDraft("a group by an alias of a constant or of a query")
    return _repeated(value, rewriter)


def _repeated(value: Node, rewriter: Rewriter) -> str:
    """Write an expression once more, without what is put between SELECT and the first of its list, such as TOP."""
    return rewriter.elsewhere(value).removeprefix(rewriter.before(value.first))


def _operand(value: Node, rewriter: Rewriter) -> str:
    text = _repeated(value, rewriter)
    return f"({text})" if isinstance(value, (Operation, Comparison)) else text


def _aggregates(select: Select, rewriter: Rewriter) -> bool:
    calls = (call for call in rewriter.subject.all(Call) if select.first <= call.first < select.last)
    return any(call.parts[-1] in AGGREGATES for call in calls)


def _add_second_where(select: Select, having: Node, rewriter: Rewriter) -> None:
    """Make conditions on rows of HAVING, which MySQL takes where nothing is grouped."""
    at = having.first - 1
    if rewriter.words[at] != "HAVING" or rewriter.catalog.engine not in ("mysql", "mariadb"):
        return
    rewriter.replace(at, at + 1, "AND" if select.where is not None else "WHERE")
    for condition in (select.where, having):
        if condition is not None and select.where is not None:
            rewriter.wrap(condition, partial(_in_brackets, condition), rank=6)


def _in_brackets(node: Node, rewriter: Rewriter) -> str:
    return f"({rewriter.node(node)})"
