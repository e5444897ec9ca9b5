"""Joins by the columns that both sides have, for SQL Server: USING and NATURAL become ON, and the columns get their table.

Source: SQL:1992, "joined table"; PostgreSQL 18, "Table Expressions"; Transact-SQL reference, "FROM".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import DerivedTable, Join, Name, Node, Query, Select, Star, TableRef

_RANK: Final = 3


def add_common_columns(rewriter: Rewriter) -> None:
    """Write ON for each such join, and the table before each column that the sides share."""
    joins = [join for join in rewriter.subject.all(Join) if _is_by_columns(join, rewriter)]
    for join in sorted(joins, key=lambda each: each.last):
        try:
            _add_join(join, rewriter)
        except CannotDraft as reason:
            rewriter.add(Point(join.first, join.last, partial(_refuse, str(reason)), rank=_RANK))


def _is_by_columns(join: Join, rewriter: Rewriter) -> bool:
    return join.kind.startswith("NATURAL") or rewriter.words[join.right.last : join.right.last + 1] == ["USING"]


def _refuse(reason: str, _: Rewriter) -> str:
    raise CannotDraft(reason)


def _add_join(join: Join, rewriter: Rewriter) -> None:
    if "FULL" in join.kind:
        raise CannotDraft("a FULL JOIN by the columns that both sides have")
    write = rewriter.names.write
    right = _only(join.right)
    columns = _shared(join, rewriter) if join.kind.startswith("NATURAL") else _listed(join, rewriter)
    if not columns:
        raise CannotDraft("a NATURAL JOIN of tables without a column in common")
    holders = {column: _holder(join.left, column, rewriter) for column in columns}
    pairs = [f"{write(holders[column])}.{write(column)} = {write(right)}.{write(column)}" for column in columns]
    rewriter.put_over(join.right.last, join.last, f" ON {' AND '.join(pairs)}") if join.last > join.right.last else (
        rewriter.insert_behind(join, f" ON {' AND '.join(pairs)}")
    )
    if join.kind.startswith("NATURAL"):
        at = next(i for i in range(join.left.last, join.right.first) if rewriter.words[i] == "NATURAL")
        rewriter.put_over(at, at + 1, "")
    _add_tables(join, {c: right if "RIGHT" in join.kind else holder for c, holder in holders.items()}, rewriter)


def _listed(join: Join, rewriter: Rewriter) -> list[str]:
    opening = join.right.last + 1
    closing = closing_of(rewriter, opening)
    if closing != join.last - 1:
        raise CannotDraft("a join by columns with a name of its own")
    return [rewriter.words[at] for at in range(opening + 1, closing) if rewriter.words[at] != ","]


def _only(source: Node) -> str:
    """Return the name of a table or query that is joined."""
    if isinstance(source, TableRef):
        return source.alias or source.parts[-1]
    if isinstance(source, DerivedTable) and source.alias:
        return source.alias
    raise CannotDraft("a join by columns of something other than tables and queries")


def _leaves(source: Node) -> list[Node]:
    return [*_leaves(source.left), *_leaves(source.right)] if isinstance(source, Join) else [source]


def _joins(source: Node) -> list[Join]:
    return [source, *_joins(source.left), *_joins(source.right)] if isinstance(source, Join) else []


def _columns(source: Node, rewriter: Rewriter) -> list[str]:
    """Return the columns of a table or query; none where they are not known."""
    if isinstance(source, TableRef):
        table = rewriter.table(source.parts)
        return [column.name for column in table.columns] if table is not None else []
    block = source.query.blocks[0] if isinstance(source, DerivedTable) and isinstance(source.query, Query) else None
    titles = [item.title for item in block.items] if isinstance(block, Select) else []
    return titles if all(titles) else []


def _shared(join: Join, rewriter: Rewriter) -> list[str]:
    left, right = _leaves(join.left), _columns(join.right, rewriter)
    known = [_columns(each, rewriter) for each in left]
    if not right or not all(known):
        raise CannotDraft("a NATURAL JOIN of tables whose columns are not known")
    return [column for column in right if any(column in each for each in known)]


def _holder(source: Node, column: str, rewriter: Rewriter) -> str:
    """Return the name of the first table on the left that has a column."""
    if any("RIGHT" in each.kind or "FULL" in each.kind for each in _joins(source)):
        raise CannotDraft("a join by columns behind one whose left side may be missing")
    leaves = _leaves(source)
    if len(leaves) == 1:
        return _only(leaves[0])
    holding = [each for each in leaves if column in _columns(each, rewriter)]
    if not holding:
        raise CannotDraft("a join by columns of tables that are not known")
    return _only(holding[0])


def _add_tables(join: Join, holders: dict[str, str], rewriter: Rewriter) -> None:
    """Put the table before each of the columns that stands alone. Raises CannotDraft for all columns at once."""
    read = rewriter.subject.read
    block, query = read.innermost(Select, join), read.innermost(Query, join)
    if block is None or query is None:
        raise CannotDraft("a join by columns outside of a query")
    if any(isinstance(item.value, Star) and not item.value.parts for item in block.items):
        raise CannotDraft("all columns of a join by columns, of which each shared one comes once")
    end = query.last if len(query.blocks) == 1 else block.last
    inner = [q for q in read.inside(Query, block.first, end) if q is not query]
    titles = {item.alias for item in block.items if item.alias}
    for name in read.inside(Name, block.first, end):
        is_inner = any(q.first <= name.first < q.last for q in inner)
        is_title = name.first >= block.last and name.parts[-1] in titles
        if len(name.parts) == 1 and name.parts[0] in holders and not is_inner and not is_title:
            text = f"{rewriter.names.write(holders[name.parts[0]])}.{rewriter.names.write(name.parts[0])}"
            rewriter.put_point(Point(name.first, name.last, lambda _, text=text: text))  # type: ignore[misc]
