"""Joins with what a query makes of each row, for MariaDB, which has no LATERAL.

A query that always gives one row becomes a value; others become a derived table with the columns that tie it to the row, of
which a row number keeps the first rows. Source: SQL:1999, "lateral derived table"; MariaDB Server documentation, "Derived Tables".
"""

from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detectors.conditions import conjuncts
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL
from hullsound.sql.tree import (
    Call,
    Clause,
    DerivedTable,
    Join,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Query,
    Select,
    Star,
    TableRef,
)

from .limits import LIMITS, rows_of

_RANK: Final = 7
_INNER: Final = frozenset(("CROSS APPLY", "JOIN", "INNER JOIN", "CROSS JOIN"))
_OUTER: Final = frozenset(("OUTER APPLY", "LEFT JOIN", "LEFT OUTER JOIN"))


@dataclass
class _Parts:
    """The conditions of the query: what ties it to the row, inner value and outer value, and the others."""

    ties: list[tuple[Node, Node]] = field(default_factory=list)
    rest: list[Node] = field(default_factory=list)


class LateralRows:
    """One query in FROM that reads columns of the tables before it."""

    def __init__(self, join: Join, table: DerivedTable, rewriter: Rewriter) -> None:
        self.join, self.table, self.rewriter = join, table, rewriter
        block = table.query.blocks[0] if len(table.query.blocks) == 1 else None
        if not isinstance(block, Select) or table.query.common or not table.alias:
            raise CannotDraft("a lateral join with a query of several parts")
        if join.kind not in _INNER | _OUTER:
            raise CannotDraft(f"a lateral {join.kind}")
        words = rewriter.words[table.query.first : table.query.last]
        if "TIES" in words or "PERCENT" in words:
            raise CannotDraft("a lateral join with a share of the rows, or with ties")
        self.block = block
        outer = rewriter.subject.read.innermost(Select, join)
        if outer is None or any(
            isinstance(i.value, Star) and i.value.parts in ((), (table.alias,)) for i in outer.items
        ):
            raise CannotDraft("all columns of a lateral join")
        self.outer = outer
        self.inside = {each.alias or each.parts[-1]: each for each in self._tables()}

    def _tables(self) -> list[TableRef]:
        found: list[TableRef] = []
        waiting = list(self.block.sources)
        while waiting:
            source = waiting.pop()
            if isinstance(source, Join):
                waiting += [source.left, source.right]
            elif isinstance(source, TableRef):
                found.append(source)
            else:
                raise CannotDraft("a lateral join with a query over other queries")
        return found

    def add(self) -> None:
        if self._is_one_row():
            self._add_values()
        else:
            render = partial(self._as_table, self._parts())
            self.rewriter.add(Point(self.join.left.last, self.join.last, render, rank=_RANK))

    # --- one row: values ---

    def _is_one_row(self) -> bool:
        calls = self.rewriter.subject.read.inside(Call, self.block.first, self.block.last)
        aggregates = [call for call in calls if call.parts[-1] in AGGREGATES_OF_ALL and call.over is None]
        is_cut = bool(self._limits()) or self.block.group or self.block.having is not None
        return not is_cut and all(
            any(item.first <= call.first < item.last for call in aggregates) for item in self.block.items
        )

    def _add_values(self) -> None:
        """Write the query in the place of each of its columns, and leave the join out."""
        titles = {item.title: item.value for item in self.block.items}
        if "" in titles or not self._is_true():
            raise CannotDraft("a lateral join with a condition, or columns without a name")
        query = self.rewriter.subject.read.innermost(Query, self.outer)
        end = query.last if query is not None and len(query.blocks) == 1 else self.outer.last
        for name in self.rewriter.subject.read.inside(Name, self.outer.first, end):
            if self.join.left.last <= name.first < self.join.last:
                continue
            if name.parts[0] == self.table.alias and len(name.parts) > 1:
                if name.parts[1] not in titles:
                    raise CannotDraft("a column of a lateral join that is not named")
                self.rewriter.wrap(name, partial(self._value, titles[name.parts[1]]), rank=_RANK)
            elif len(name.parts) == 1 and name.parts[0] in titles:
                raise CannotDraft("a column of a lateral join without its table")
        for item in self.outer.items:
            if isinstance(item.value, Name) and item.value.parts[0] == self.table.alias and not item.alias:
                title = f"AS {self.rewriter.names.write(item.title)}"
                is_listed = self.rewriter.words[item.last] == ","
                self.rewriter.insert(item.last, f" {title}" if is_listed else f"{title} ")
        self.rewriter.add(Point(self.join.left.last, self.join.last, lambda _: "", rank=_RANK))

    def _value(self, value: Node, rewriter: Rewriter) -> str:
        return f"(SELECT {rewriter.elsewhere(value)} {rewriter.text_elsewhere(self.block.from_at, self.block.last)})"

    def _is_true(self) -> bool:
        condition = self.join.condition
        return condition is None or self.rewriter.words[condition.first : condition.last] == ["TRUE"]

    # --- rows: a derived table ---

    def _limits(self) -> list[Clause]:
        first, last = self.table.query.first, self.table.query.last
        return [each for each in self.rewriter.subject.read.inside(Clause, first, last) if each.name in LIMITS]

    def _parts(self) -> _Parts:
        parts = _Parts()
        for each in conjuncts(self.block.where) if self.block.where is not None else ():
            sides = each.operands if isinstance(each, Operation) and each.operators == ["="] else []
            if not self._asks_outside(each):
                parts.rest.append(each)
            elif len(sides) == 2 and self._asks_outside(sides[0]) != self._asks_outside(sides[1]):
                inner, outer = sides if self._asks_outside(sides[1]) else reversed(sides)
                if any(not self._is_outside(name) for name in self._names(outer)):
                    raise CannotDraft("a lateral join by a value of both sides")
                parts.ties.append((inner, outer))
            else:
                raise CannotDraft("a lateral join by something other than equal values")
        others: list[Node] = [*self.block.items, *self.block.group, *self.table.query.order, *self.block.sources]
        if not parts.ties or any(self._asks_outside(each) for each in others):
            raise CannotDraft("a lateral join whose query takes values of the row")
        return parts

    def _names(self, node: Node) -> list[Name]:
        return self.rewriter.subject.read.inside(Name, node.first, node.last)

    def _asks_outside(self, node: Node) -> bool:
        if self.rewriter.subject.read.inside(Query, node.first, node.last):
            raise CannotDraft("a lateral join with a query inside")
        return any(self._is_outside(name) for name in self._names(node))

    def _is_outside(self, name: Name) -> bool:
        if len(name.parts) > 1:
            return name.parts[-2] not in self.inside
        tables = [self.rewriter.table(each.parts) for each in self.inside.values()]
        columns = {column.name for table in tables if table is not None for column in table.columns}
        titles = {item.alias for item in self.block.items if item.alias}
        if name.parts[0] not in columns | titles and any(table is None for table in tables):
            raise CannotDraft("a lateral join with a column that may belong to several tables")
        return name.parts[0] not in columns | titles

    def _as_table(self, parts: _Parts, rewriter: Rewriter) -> str:
        block, order, alias = self.block, self.table.query.order, rewriter.names.write(self.table.alias)
        if rewriter.words[block.first + 1] == "DISTINCT":
            raise CannotDraft("a lateral join with DISTINCT")
        keys = [rewriter.node(inner) for inner, _ in parts.ties]
        items = [rewriter.text(block.items[0].first, block.items[-1].last)]
        items += [f"{key} AS hs_key{place}" for place, key in enumerate(keys, start=1)]
        found = [f"{alias}.hs_key{n} = {rewriter.elsewhere(outer)}" for n, (_, outer) in enumerate(parts.ties, start=1)]
        limits = self._limits()
        if limits:
            spans = rows_of(limits[0], rewriter)
            if len(limits) > 1 or len(spans) > 1 or limits[0].name == "offset" or block.group:
                raise CannotDraft("a lateral join with a limit behind an offset or of groups")
            by = f" ORDER BY {rewriter.nodes(self._order_values(order))}" if order else ""
            items.append(f"ROW_NUMBER() OVER (PARTITION BY {', '.join(keys)}{by}) AS hs_row")
            found.append(f"{alias}.hs_row <= {rewriter.text(*spans[0])}")
        text = f"SELECT {', '.join(items)} {rewriter.text(block.from_at, block.sources[-1].last)}"
        if parts.rest:
            text += f" WHERE {rewriter.nodes(parts.rest, ' AND ')}"
        if block.group:
            text += f" GROUP BY {', '.join([*keys, *(rewriter.node(each) for each in block.group)])}"
        if block.having is not None:
            text += f" HAVING {rewriter.node(block.having)}"
        if self.join.condition is not None and not self._is_true():
            found.append(f"({rewriter.elsewhere(self.join.condition)})")
        kind = "LEFT JOIN" if self.join.kind in _OUTER else "JOIN"
        return f" {kind} ({text}) AS {alias} ON {' AND '.join(found)}"

    def _order_values(self, order: list[OrderItem]) -> list[OrderItem]:
        """Return the keys of the order; a title of the list is no column of the window."""
        titles = {item.alias for item in self.block.items if item.alias and not isinstance(item.value, Name)}
        for each in order:
            value = getattr(each, "value", each)
            if isinstance(value, Literal) or (isinstance(value, Name) and value.parts[-1] in titles):
                raise CannotDraft("a lateral join in the order of a title")
        return order
