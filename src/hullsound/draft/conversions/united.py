"""Columns of UNION and its kin whose blocks give values of different kinds, which few engines bring together by themselves.

Sources: MySQL 8.4 Reference Manual, "UNION Clause" (the result is a text where one block gives one); PostgreSQL 18, "UNION, CASE,
and Related Constructs"; Oracle Database 19c, ORA-01790; Transact-SQL reference, "Data type precedence".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final, NoReturn

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Literal, Node, Query, Select, Star

from .value_texts import add_text

_MYSQL: Final = ("mysql", "mariadb")
_RANK: Final = 9


def add_united_values(rewriter: Rewriter) -> None:
    """Write the values of a column as texts where the source makes texts of them; refuse what else does not go together."""
    for values in _columns(rewriter):
        kinds = {_group(each, rewriter) for each in values} - {Family.UNKNOWN}
        if len(kinds) < 2:
            continue
        if kinds == {Family.BOOLEAN, Family.NUMBER} and rewriter.target.engine != "oracle":
            for value in values if rewriter.target.engine == "postgresql" else ():
                if _group(value, rewriter) is Family.BOOLEAN:
                    rewriter.wrap(value, partial(_as_number, value), rank=_RANK)
        elif Family.TEXT in kinds and rewriter.catalog.engine in _MYSQL and rewriter.target.engine == "postgresql":
            for value in values:
                add_text(value, rewriter, rank=_RANK)
        else:
            rewriter.add(Point(values[-1].first, values[-1].last, _refuse, rank=_RANK))


def _columns(rewriter: Rewriter) -> Iterator[list[Node]]:
    """Yield the values of each column of the queries of several blocks that name all their columns."""
    for query in rewriter.subject.all(Query):
        blocks = [block for block in query.blocks if isinstance(block, Select)]
        widths = {len(block.items) for block in blocks}
        if len(blocks) < 2 or len(blocks) != len(query.blocks) or len(widths) != 1:
            continue
        if not any(isinstance(item.value, Star) for block in blocks for item in block.items):
            yield from (
                [item.value for item in items] for items in zip(*(block.items for block in blocks), strict=True)
            )


def _group(value: Node, rewriter: Rewriter) -> Family:
    """Return the kind of a value, as far as blocks must agree in it; UNKNOWN for NULL and what is not known."""
    if isinstance(value, Literal) and value.form == "null":
        return Family.UNKNOWN
    kind = rewriter.types.family(value)
    if kind in NUMBERS:
        return Family.NUMBER
    return Family.TIMESTAMP if kind in MOMENTS else kind


def _as_number(value: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(value)} AS integer)"


def _refuse(_: Rewriter) -> NoReturn:
    raise CannotDraft("values of different kinds in one column of a UNION")
