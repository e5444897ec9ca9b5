"""Texts that the source groups, counts or tells apart without case, where PostgreSQL and Oracle tell case apart.

No draft is written for them: the source shows one of the equal texts, whichever it meets. They are for a person to look at.
"""

from collections.abc import Iterator
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Literal, Name, Node, Query, Select, Star, Window

from .case import folding, ignores_case, tables_of, tells_case

_GROUPED: Final = "convert.text-groups"
_ORDERED: Final = "convert.text-order"
_EXTREMES: Final = ("MIN", "MAX", "GREATEST", "LEAST")


def add_case_groups(rewriter: Rewriter) -> None:
    """Note each place at which texts that differ in case alone are one in the source."""
    if not ignores_case(rewriter):
        return
    noted: set[int] = set()
    for place, values in _grouped(rewriter):
        if place not in noted and any(_is_loose(value, rewriter) for value in values):
            noted.add(place)
            rewriter.rendered.append((_GROUPED, place))
    for call in rewriter.subject.all(Call):
        if (
            len(call.parts) == 1
            and call.parts[0] in _EXTREMES
            and any(_is_loose(each, rewriter) for each in call.arguments)
        ):
            rewriter.rendered.append((_ORDERED, call.first))


def _grouped(rewriter: Rewriter) -> Iterator[tuple[int, list[Node]]]:
    """Yield the first token of each grouping, DISTINCT, set operation and partition, and its values."""
    words = rewriter.words
    for select in rewriter.subject.all(Select):
        if select.group:
            yield select.group[0].first, [_meant(each, select, rewriter) for each in select.group]
        if words[select.first + 1] in ("DISTINCT", "UNIQUE"):
            yield select.first + 1, [item.value for item in select.items]
    for query in rewriter.subject.all(Query):
        first = query.blocks[0]
        for name, at in query.operators:
            if not name.endswith("ALL") and isinstance(first, Select):
                yield at, [item.value for item in first.items]
    for call in rewriter.subject.all(Call):
        if call.opening >= 0 and words[call.opening + 1] == "DISTINCT":
            yield call.first, list(call.arguments)
    for window in rewriter.subject.all(Window):
        yield window.first, list(window.partition)


def _meant(node: Node, select: Select, rewriter: Rewriter) -> Node:
    """Return what a number or a title in GROUP BY stands for."""
    source = rewriter.subject.source(node)
    if isinstance(node, Literal) and source.isdigit() and 0 < int(source) <= len(select.items):
        return select.items[int(source) - 1].value
    if isinstance(node, Name) and len(node.parts) == 1:
        return next((item.value for item in select.items if item.alias.upper() == node.parts[0].upper()), node)
    return node


def _is_loose(value: Node, rewriter: Rewriter) -> bool:
    """Whether a value is made of text columns without case, none of which is a key by itself."""
    if isinstance(value, Star) or folding(value) is not None or rewriter.types.family(value) is not Family.TEXT:
        return False
    names = rewriter.subject.read.inside(Name, value.first, value.last)
    return any(rewriter.types.family(each) is Family.TEXT and not tells_case(each, rewriter) and not _is_key(each, rewriter)
               for each in names)  # fmt: skip


def _is_key(name: Name, rewriter: Rewriter) -> bool:
    """Whether a key of its table holds a column alone, so that no two of its values differ in case alone."""
    column = name.parts[-1].upper()
    keys = (key for table in tables_of(name, rewriter) for key in rewriter.catalog.keys_of(table))
    return any([each.upper() for each in key] == [column] for key in keys)
