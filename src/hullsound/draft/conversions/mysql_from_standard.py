"""Parts of texts, replacements and casts of engines that count as standard SQL does, where MySQL and MariaDB do not.

Sources: Db2 12.1 SQL reference, Teradata 17.20 SQL Functions, PostgreSQL 18, the pages of the functions; MySQL 8.4 Reference
Manual and MariaDB 10.11, "String Functions".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Call, Cast, Node

from .mysql_common import add_exact_quotients, is_whole_constant, part, part_of, replaced_or_null


def add_for_standard(rewriter: Rewriter) -> None:
    """Add the points of calls and casts."""
    engine = rewriter.catalog.engine
    if engine == "db2":
        add_exact_quotients(rewriter)
    for call in rewriter.subject.all(Call):
        form = _CALLS.get((engine, call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)
        elif call.parts == ("SUBSTRING",) and len(call.arguments) == 1 and engine in _FROM_ONE:
            rewriter.wrap(call, partial(_part_by_words, call), rank=2)
    for cast in rewriter.subject.all(Cast):
        kinds = {rewriter.types.family(cast.value), rewriter.types.family(cast)}
        scale = cast.type.arguments[1] if len(cast.type.arguments) == 2 else ""
        if engine == "db2" and scale and kinds == {Family.NUMBER}:
            rewriter.wrap(cast.value, lambda r, value=cast.value, n=scale: f"TRUNCATE({r.node(value)}, {n})", rank=4)  # type: ignore[misc]


_FROM_ONE: Final = frozenset(("teradata", "db2", "postgresql"))
"""Engines that count places before the first sign as standard SQL does."""


def _part_by_words(call: Call, rewriter: Rewriter) -> str:
    """SUBSTRING(text FROM place FOR length)."""
    read = rewriter.subject.read
    parts = [node for node in read.inside(Node, call.opening + 1, call.closing) if read.parent(node) is call]
    if len(parts) == 3:
        return part_of(parts[0], parts[1], parts[2], rewriter)
    if len(parts) != 2 or rewriter.types.family(parts[1]) is Family.TEXT:
        raise CannotDraft("SUBSTRING by a pattern")
    return _rest_of(parts[0], parts[1], rewriter)


def _rest(call: Call, rewriter: Rewriter) -> str:
    text, start = call.arguments
    return _rest_of(text, start, rewriter)


def _rest_of(text: Node, start: Node, rewriter: Rewriter) -> str:
    """A text from a place on; from one below 1 it is the whole."""
    place = rewriter.node(start)
    return f"SUBSTR({rewriter.node(text)}, {place if is_whole_constant(start, rewriter) else f'GREATEST({place}, 1)'})"


_CALLS: Final = {
    ("teradata", "SUBSTR", 2): _rest, ("teradata", "SUBSTR", 3): part, ("teradata", "OREPLACE", 3): replaced_or_null,
    ("db2", "REPLACE", 3): replaced_or_null, ("postgresql", "SUBSTR", 2): _rest, ("postgresql", "SUBSTR", 3): part,
    ("postgresql", "SUBSTRING", 3): part, ("postgresql", "SUBSTRING", 2): _rest,
}  # fmt: skip
"""What writes a call anew, by engine, name and number of arguments."""
