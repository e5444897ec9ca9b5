"""Triggers of Oracle that number the rows of a table from a sequence, where a row brings no number of its own.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "Correlation Names and Pseudorecords"; Transact-SQL reference, ALTER
TABLE, "DEFAULT" and NEXT VALUE FOR.
"""

from typing import NamedTuple

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.constructs.sequences import sequence_value
from hullsound.draft.edits.reading import read_again
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    Assign,
    Block,
    Comparison,
    CreateTrigger,
    If,
    Name,
    Node,
    Parts,
    QueryStatement,
    Select,
)

NOTE = "convert.trigger-to-default"


class KeyFilling(NamedTuple):
    """The column that a trigger fills, and the sequence it takes the numbers from."""

    column: str
    sequence: Parts


def key_filling(tree: Node | None) -> KeyFilling | None:
    """Return what a trigger fills that does nothing but to number new rows without a number; None for another one."""
    if not isinstance(tree, CreateTrigger) or not isinstance(tree.block, Block) or tree.disabled:
        return None
    if (tree.timing, tree.level, tree.events) != ("before", "row", ["insert"]) or tree.block.handlers:
        return None
    body, asked = tree.block.body, tree.condition
    if len(body) == 1 and isinstance(body[0], If) and len(body[0].branches) == 1 and not body[0].otherwise:
        if asked is not None:
            return None
        asked, body = body[0].branches[0]
    filled = _filled(body[0]) if len(body) == 1 else None
    is_guarded = isinstance(asked, Comparison) and asked.operator == "IS NULL" and not asked.negated
    if filled is None or not is_guarded or _new_column(asked.operands[0]) != filled.column:  # type: ignore[union-attr]
        return None
    return filled


def _filled(node: Node) -> KeyFilling | None:
    target: Node | None = None
    value: Node | None = None
    if isinstance(node, Assign):
        target, value = node.target, node.value
    elif isinstance(node, QueryStatement) and isinstance(node.query.blocks[0], Select):
        block = node.query.blocks[0]
        if len(block.items) == len(block.into) == 1:
            target, value = block.into[0], block.items[0].value
    column = _new_column(target)
    if not column or not isinstance(value, Name) or value.parts[-1] != "NEXTVAL":
        return None
    return KeyFilling(column, value.parts[:-1])


def _new_column(node: Node | None) -> str:
    """Return the column of the new row that a name stands for; '' for another name."""
    is_new = isinstance(node, Name) and len(node.parts) == 2 and node.parts[0] == "NEW"
    return node.parts[1] if is_new else ""  # type: ignore[union-attr]


def filling_of(table: Object, rewriter: Rewriter) -> KeyFilling | None:
    """Return what numbers the rows of a table, where a trigger does, and no other one changes new rows."""
    triggers = [each for each in rewriter.catalog.belonging(table.id) if each.type is ObjectType.TRIGGER]
    found = None
    for trigger in triggers:
        read = read_again(trigger, rewriter.catalog.engine)
        tree = read.tree if read is not None else None
        fills = key_filling(tree)
        changes_rows = not isinstance(tree, CreateTrigger) or (tree.timing != "after" and "insert" in tree.events)
        if fills is None and changes_rows:
            return None
        found = fills or found
    return found


def changes_given_rows(table: Object, rewriter: Rewriter) -> bool:
    """Whether a trigger may change a new row that brings a number of its own."""
    before = [
        each for each in rewriter.catalog.belonging(table.id)
        if each.type is ObjectType.TRIGGER and "BEFORE" in each.text.upper()
    ]  # fmt: skip
    return bool(before) and filling_of(table, rewriter) is None


def sequence_name(parts: Parts, rewriter: Rewriter) -> str:
    item = rewriter.catalog.resolve(parts, rewriter.default_schema)
    return rewriter.names.qualified(*((item.schema, item.name) if item is not None else parts))


def write_default(item: Object, tree: CreateTrigger, rewriter: Rewriter) -> str:
    """Return the default that numbers new rows on SQL Server; '' for a trigger that does something else.

    Raises CannotDraft where the column has a default of its own.
    """
    fills, table = key_filling(tree), rewriter.table(tree.table)
    if fills is None or table is None or rewriter.target.engine != "sqlserver":
        return ""
    column = next((each for each in table.columns if each.name == fills.column), None)
    if column is None or column.default or column.identity:
        raise CannotDraft("a trigger that numbers rows whose column has a default")
    rewriter.rendered.append((NOTE, tree.first))
    rewriter.take(tree)
    write = rewriter.names
    value = sequence_value(sequence_name(fills.sequence, rewriter), rewriter.target.engine, is_last=False)
    head = f"ALTER TABLE {write.qualified(*((table.schema,) if table.schema else ()), table.name)}"
    return f"{head} ADD CONSTRAINT {write.write(item.name)} DEFAULT ({value}) FOR {write.write(column.name)};"
