"""The table that a trigger belongs to, with names and types of the target."""

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import choose_type

from .speech import FiringTable


def firing_table(table: Object, rewriter: Rewriter) -> FiringTable:
    """Return what a trigger of SQL Server has to know of its table."""
    write = rewriter.names.write
    kinds: dict[str, str] = {}
    for column in table.columns:
        choice = choose_type(rewriter.catalog.engine, column.type, rewriter.target)
        if choice is not None and choice.text:
            kinds[write(column.name)] = choice.text
    constraints = [each.constraint for each in rewriter.catalog.belonging(table.id) if each.constraint is not None]
    key = next((each.columns for each in constraints if each.form == "primary key"), [])
    free = frozenset(write(each.name) for each in table.columns if each.nullable or each.default)
    name = rewriter.names.qualified(table.schema, table.name)
    return FiringTable(name, kinds, tuple(write(each) for each in key), free)
