"""Columns whose values code compares, so that a rule of comparing matters for them, and those that it searches.

A key compares as well: its values differ by the rule. Names are taken widely: a name without a table, or with that of a
view, means every column of that name that the statement may mean.
"""

from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

from hullsound.analyze.choices import compared_choices
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, Object, ObjectType
from hullsound.catalog.references import Scope
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import Call, Comparison, Name, Node, Operation, OrderItem, Paren, Query, Row, Select

Columns = frozenset[tuple[str, str]]
"""Ids of tables with names of columns."""

_SIGNS: Final = frozenset(("=", "==", "<>", "!=", "<", ">", "<=", ">=", "<=>", "*=", "=*", "!<", "!>"))
_SEARCHING: Final = frozenset(
    ("INSTR", "LOCATE", "POSITION", "CHARINDEX", "PATINDEX", "REPLACE", "STRPOS", "FIND_IN_SET")
)
_WITH_QUERIES: Final = CODE_TYPES | {
    ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE,
}  # fmt: skip


class Compared(NamedTuple):
    """What code and keys compare, and of that what LIKE and functions that search look into."""

    columns: Columns
    searched: Columns


def read_compared(catalog: Catalog) -> Compared:
    """Find the compared columns of all tables, from keys and from every statement that could be read."""
    columns = set(_keys(catalog))
    searched: set[tuple[str, str]] = set()
    for item in catalog.objects.values():
        if item.type not in _WITH_QUERIES or not item.text:
            continue
        for read in read_script(item.text, load_dialect(catalog.engine)).statements():
            meant = _Meant(item, read, catalog)
            for node in _compared_nodes(read):
                columns.update(meant.columns(node))
            for node in _searched_nodes(read):
                searched.update(meant.columns(node))
    return Compared(frozenset(columns | searched), frozenset(searched))


def _keys(catalog: Catalog) -> Iterator[tuple[str, str]]:
    for item in catalog.objects.values():
        key = item.constraint
        if key is not None and key.form in ("primary key", "unique", "foreign key"):
            yield from ((item.table, column) for column in key.columns)
            parent = catalog.table(key.references, item.default_schema) if key.form == "foreign key" else None
            if parent is not None:
                yield from ((parent.id, column) for column in key.reference_columns)
        elif item.index is not None and item.index.unique and item.table in catalog.objects:
            named = {name.upper() for name in item.index.columns()}
            table = catalog.objects[item.table]
            yield from ((table.id, column.name) for column in table.columns if column.name.upper() in named)


def _compared_nodes(read: ReadStatement) -> Iterator[Node]:
    for operation in read.all(Operation):
        if set(operation.operators) & _SIGNS:
            yield from operation.operands
    for comparison in read.all(Comparison):
        if comparison.operator.split(" ")[0] in ("IN", "BETWEEN", *_SIGNS):
            yield from comparison.operands
    for _, subject, tests in compared_choices(read):
        yield from (subject, *tests)
    for order in read.all(OrderItem):
        yield order.value
    for select in read.all(Select):
        yield from select.group
        if "DISTINCT" in read.tokens.words[select.first : select.first + 2]:
            yield from (item.value for item in select.items)
    for query in read.all(Query):
        if query.operators:  # UNION compares rows
            yield from (item.value for block in query.blocks if isinstance(block, Select) for item in block.items)


def _searched_nodes(read: ReadStatement) -> Iterator[Node]:
    for comparison in read.all(Comparison):
        if comparison.operator in ("LIKE", "MATCH"):
            yield from comparison.operands
    for call in read.all(Call):
        if call.parts[-1] in _SEARCHING:
            yield from call.arguments


class _Meant:
    """Says which columns of tables a name in one statement may mean."""

    def __init__(self, item: Object, read: ReadStatement, catalog: Catalog) -> None:
        schema = item.default_schema or item.schema
        self.catalog = catalog
        self.tables: list[tuple[tuple[str, ...], Object | None]] = [
            ((ref.alias, ref.parts[-1]), catalog.table(ref.parts, schema)) for ref in Scope(read).tables
        ]
        if item.table in catalog.objects:
            self.tables.append((("NEW", "OLD", "INSERTED", "DELETED"), catalog.objects[item.table]))

    def columns(self, node: Node) -> Iterable[tuple[str, str]]:
        """Return the columns that an operand is; none for what is no plain column."""
        while isinstance(node, Paren):
            node = node.inner
        if isinstance(node, Row):
            return [each for item in node.items for each in self.columns(item)]
        if not isinstance(node, Name):
            return []
        alias = node.parts[-2] if len(node.parts) > 1 else ""
        tables = [table for names, table in self.tables if not alias or alias in names]
        plain = [table for table in tables if table is not None and table.type is ObjectType.TABLE]
        if len(plain) < len(tables) or not tables:
            plain = [each for each in self.catalog.objects.values() if each.type is ObjectType.TABLE]
        return [(table.id, c.name) for table in plain for c in table.columns if c.name == node.parts[-1]]
