"""FULL JOIN for MySQL and MariaDB, which have none: a LEFT JOIN, and by UNION ALL the rows of the right side that meet none.

Where a query groups, orders or numbers the joined rows, they are put together in a derived table first.
Source: SQL:1992, "joined table"; MySQL 8.4 Reference Manual, "JOIN Clause"; MariaDB 10.11, "JOIN Syntax".
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detectors.meaning import AGGREGATES_OF_ALL
from hullsound.sql.tree import Call, DerivedTable, Join, Name, Node, Query, Select, Star, TableRef

_JOINED: Final = "hs_joined"
_OUTERMOST: Final = 13
_INSIDE: Final = 8
"""Rank of what stands for a column: inside of what says where NULL sorts."""


@dataclass(frozen=True)
class _Full:
    """A FULL JOIN, what is joined to its rows behind it, and where it stands."""

    join: Join
    source: Node
    block: Select
    query: Query

    def rows(self, items: str, where: str, rewriter: Rewriter) -> str:
        """Write the two queries that give the rows of both sides."""
        left, right = rewriter.node(self.join.left), rewriter.node(self.join.right)
        assert self.join.condition is not None
        condition = rewriter.node(self.join.condition)
        rest = rewriter.text(self.join.last, self.source.last)
        rest = f"\n{rest.strip()}" if rest.strip() else ""
        first = f"SELECT {items}\nFROM {left} LEFT JOIN {right} ON {condition}{rest}"
        alone = f"NOT EXISTS (SELECT 1 FROM {left} WHERE {condition})"
        second = f"SELECT {items}\nFROM {right} LEFT JOIN {left} ON FALSE{rest}\nWHERE {alone}"
        if where:
            first += f"\nWHERE {where}"
            second += f" AND ({where})"
        return f"{first}\nUNION ALL\n{second}"


def add_full_joins(rewriter: Rewriter) -> None:
    """Write each FULL JOIN of a query as a LEFT JOIN and the rows that are left; refuse others."""
    for join in rewriter.subject.all(Join):
        if "FULL" in join.kind:
            rewriter.add(_point(join, rewriter))


def _point(join: Join, rewriter: Rewriter) -> Point:
    try:
        full = _find(join, rewriter)
        if _is_plain(full, rewriter):
            return Point(full.block.first, full.block.last, partial(_as_two, full), rank=_OUTERMOST)
        columns = _Columns(full, rewriter)
        columns.add_points()
        return Point(full.source.first, full.source.last, partial(_as_table, full, columns), rank=_OUTERMOST)
    except CannotDraft as reason:
        return Point(join.first, join.last, partial(_refuse, str(reason)), rank=_OUTERMOST)


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)


def _find(join: Join, rewriter: Rewriter) -> _Full:
    """Return where a join stands. Raises CannotDraft outside of queries, and beside other tables or full joins."""
    block = rewriter.subject.read.innermost(Select, join)
    query = rewriter.subject.read.innermost(Query, join)
    if block is None or query is None or block not in query.blocks or len(block.sources) != 1:
        raise CannotDraft("a FULL JOIN beside other tables or outside of a query")
    source = block.sources[0]
    around: Node = source
    while around is not join and isinstance(around, Join):
        if not set(around.kind.split()) <= {"LEFT", "INNER", "OUTER", "JOIN", "CROSS"}:
            raise CannotDraft("several FULL JOINs in a row")
        around = around.left
    if around is not join or join.condition is None or "USING" in rewriter.words[join.right.last : join.last]:
        raise CannotDraft("a FULL JOIN within another join, or by the columns that both sides have")
    if any(
        "FULL" in each.kind for each in rewriter.subject.read.inside(Join, join.first, join.last) if each is not join
    ):
        raise CannotDraft("several FULL JOINs in a row")
    return _Full(join, source, block, query)


def _is_plain(full: _Full, rewriter: Rewriter) -> bool:
    """Whether a query asks nothing of all rows together, so that each of its two halves can be a query."""
    block, query = full.block, full.query
    words = rewriter.words
    read = rewriter.subject.read
    inner = [each for item in block.items for each in read.inside(Query, item.first, item.last)]
    calls = (
        each
        for item in block.items
        for each in read.inside(Call, item.first, item.last)
        if not any(query.first <= each.first < query.last for query in inner)
    )
    counts = any(call.over is not None or call.parts[-1] in AGGREGATES_OF_ALL for call in calls)
    is_alone = query.last == block.last and all(operator == "UNION ALL" for operator, _ in query.operators)
    is_bare = words[block.first + 1] not in ("DISTINCT", "TOP", "UNIQUE") and not block.into
    return is_alone and is_bare and not (counts or block.group or block.having is not None)


def _as_two(full: _Full, rewriter: Rewriter) -> str:
    block = full.block
    where = rewriter.node(block.where) if block.where is not None else ""
    return full.rows(rewriter.text(block.first + 1, block.items[-1].last), where, rewriter)


def _as_table(full: _Full, columns: "_Columns", rewriter: Rewriter) -> str:
    return f"(\n{full.rows(columns.items(rewriter), '', rewriter)}\n) AS {_JOINED}"


class _Columns:
    """The columns of the joined tables that a query names, each with the one that stands for it."""

    def __init__(self, full: _Full, rewriter: Rewriter) -> None:
        self.full = full
        self.rewriter = rewriter
        self.aliases = dict(_tables(full.source))
        self.used: dict[tuple[str, str], str] = {}

    def add_points(self) -> None:
        """Write the columns as those of the table of joined rows. Raises CannotDraft where one belongs to no table for sure."""
        block, read = self.full.block, self.rewriter.subject.read
        titles = {item.alias for item in block.items if item.alias}
        for first, last in self._spans():
            if read.inside(Query, first, last) or any(not s.parts for s in self._whole_rows(first, last)):
                raise CannotDraft("a FULL JOIN whose rows are grouped or ordered, with a query inside or all columns")
            for name in read.inside(Name, first, last):
                own = self._own(name, titles if first >= block.last else set())
                if own:
                    self.rewriter.wrap(name, partial(_written, own), rank=_INSIDE)
        for item in block.items:
            if isinstance(item.value, Name) and not item.alias:
                title = f"AS {self.rewriter.names.write(item.title)}"
                self.rewriter.insert(item.last, f" {title}" if self.rewriter.words[item.last] == "," else f"{title} ")

    def _whole_rows(self, first: int, last: int) -> list[Star]:
        counted = {id(call.arguments[0]) for call in self.rewriter.subject.all(Call) if call.arguments}
        return [star for star in self.rewriter.subject.read.inside(Star, first, last) if id(star) not in counted]

    def _spans(self) -> Iterator[tuple[int, int]]:
        block, query = self.full.block, self.full.query
        parts: list[Node] = [*block.items, *block.group]
        parts += [each for each in (block.where, block.having) if each is not None]
        if len(query.blocks) == 1:
            parts += query.order
        for part in parts:
            yield part.first, part.last

    def _own(self, name: Name, titles: set[str]) -> str:
        """Return the column that stands for a name, '' for a variable, a function or a title of the list."""
        column = name.parts[-1]
        if len(name.parts) > 1:
            alias = name.parts[-2]
            if alias not in self.aliases:
                return ""
        else:
            if column in titles:
                return ""
            holding = [alias for alias, table in self.aliases.items() if self._has(table, column)]
            if len(holding) > 1 or (not holding and any(not self._is_known(each) for each in self.aliases.values())):
                raise CannotDraft("a FULL JOIN whose rows are grouped or ordered, and a column without its table")
            if not holding:
                return ""
            alias = holding[0]
        new = f"{alias}_{column}".lower()
        self.used[(alias, column)] = new
        return f"{_JOINED}.{self.rewriter.names.write(new.upper())}"

    def _is_known(self, source: Node) -> bool:
        if isinstance(source, TableRef):
            return self.rewriter.table(source.parts) is not None
        return all(_titles(source))

    def _has(self, source: Node, column: str) -> bool:
        if isinstance(source, TableRef):
            table = self.rewriter.table(source.parts)
            return table is not None and any(each.name == column for each in table.columns)
        return column in _titles(source)

    def items(self, rewriter: Rewriter) -> str:
        write = rewriter.names.write
        shown = [f"{write(a)}.{write(c)} AS {write(new.upper())}" for (a, c), new in self.used.items()]
        return ", ".join(shown) or "1"


def _written(text: str, _: Rewriter) -> str:
    return text


def _tables(source: Node) -> Iterator[tuple[str, Node]]:
    if isinstance(source, Join):
        yield from _tables(source.left)
        yield from _tables(source.right)
    elif isinstance(source, TableRef):
        yield source.alias or source.parts[-1], source
    elif isinstance(source, DerivedTable) and source.alias:
        yield source.alias, source
    else:
        raise CannotDraft("a FULL JOIN of something other than tables and queries")


def _titles(source: Node) -> list[str]:
    block = source.query.blocks[0] if isinstance(source, DerivedTable) and isinstance(source.query, Query) else None
    return [item.title for item in block.items] if isinstance(block, Select) else [""]
