"""NULL in a derived table whose rows an INSERT keeps: PostgreSQL makes a text of it, unless it is given the column's type.

PostgreSQL 18, "SELECT Output Columns".
"""

from functools import partial

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import DerivedTable, Insert, Literal, Node, Select, Star

from .row_values import inserted_types


def add_typed_nulls(rewriter: Rewriter) -> None:
    """Cast each NULL of `INSERT ... SELECT * FROM (SELECT ..., NULL, ...)` to the type of the column that gets it."""
    for insert in rewriter.subject.all(Insert):
        block = insert.query.blocks[0] if insert.query is not None and len(insert.query.blocks) == 1 else None
        if not isinstance(block, Select) or len(block.sources) != 1 or len(block.items) != 1:
            continue
        derived = block.sources[0]
        if not isinstance(block.items[0].value, Star) or not isinstance(derived, DerivedTable):
            continue
        types = inserted_types(insert, rewriter)
        for inner in derived.query.blocks:
            if not isinstance(inner, Select) or len(inner.items) != len(types):
                continue
            for kind, item in zip(types, inner.items, strict=True):
                choice = choose_type(rewriter.catalog.engine, kind, rewriter.target)
                if isinstance(item.value, Literal) and item.value.form == "null" and choice is not None and choice.text:
                    rewriter.wrap(item.value, partial(_cast, item.value, choice.text), rank=5)


def _cast(node: Node, kind: str, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS {kind})"
