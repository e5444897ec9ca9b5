"""OUTPUT of the T-SQL family, as RETURNING writes it."""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import (
    Delete,
    Insert,
    Merge,
    Name,
    Node,
    SelectItem,
    TableRef,
    Update,
)

from .change_parts import clause_of, table_parts
from .through import changed_query

_RECORDS: Final = ("INSERTED", "DELETED")


def with_output(node: Update | Delete | Insert | Merge, text: str, target: TableRef | None, rewriter: Rewriter) -> str:
    """Add RETURNING for OUTPUT, and put its rows into the table that OUTPUT INTO names."""
    output = clause_of(node, "output", rewriter)
    if output is None:
        return text
    words = rewriter.words
    into = next((i for i in range(output.first, output.last) if words[i] == "INTO"), output.last)
    items = [i for i in rewriter.subject.all(SelectItem) if output.first < i.first and i.last <= into]
    items = [i for i in items if not any(o is not i and o.first <= i.first and i.last <= o.last for o in items)]
    values = ", ".join(_output_item(node, item, target, rewriter) for item in items)
    text = f"{text}\nRETURNING {values}"
    if into == output.last:
        return text
    table = next(t for t in rewriter.subject.all(TableRef) if t.first == into + 1)
    columns = rewriter.text(table.last, output.last)
    name = rewriter.names.qualified(*table_parts(table, rewriter))
    opening = "WITH" if rewriter.words[node.first] != "WITH" else ","  # behind the common tables that stand before it
    return f"{opening} hs_changed AS (\n{text}\n)\nINSERT INTO {name}{' ' + columns if columns else ''} SELECT * FROM hs_changed"


def _output_item(node: Node, item: SelectItem, target: TableRef | None, rewriter: Rewriter) -> str:
    value = item.value
    alias = f" AS {rewriter.names.write(item.alias)}" if item.alias else ""
    source = rewriter.subject.source(value).upper()
    if source in ("INSERTED.*", "DELETED.*"):
        return f"{rewriter.names.write(target.alias or target.parts[-1])}.*" if target is not None else "*"
    if source == "$ACTION":
        if rewriter.target.version < 17:
            raise CannotDraft("what a MERGE did to a row, which RETURNING knows since version 17")
        return f"merge_action(){alias}"
    return rewriter.node(value) + alias


def mark_output(node: Update | Delete | Insert | Merge, rewriter: Rewriter) -> None:
    """Name the changed table, or its rows from before, where OUTPUT says INSERTED and DELETED."""
    output = clause_of(node, "output", rewriter)
    if output is None:
        return
    table = node.table if isinstance(node.table, TableRef) else None
    owner = f"{rewriter.names.write(table.alias or table.parts[-1])}." if table is not None and len(table.parts) else ""
    if isinstance(node, Update | Delete) and changed_query(node, rewriter) is not None:
        owner = "hs_self."
    for name in rewriter.subject.all(Name):
        if output.first <= name.first < output.last and name.parts[0] in _RECORDS and len(name.parts) == 2:
            rewriter.add(Point(name.first, name.last, partial(_output_name, node, name, owner)))


def _output_name(node: Node, name: Name, owner: str, rewriter: Rewriter) -> str:
    column = rewriter.names.write(name.parts[-1])
    if name.parts[0] == "DELETED" and isinstance(node, Update | Merge):
        if rewriter.target.version < 18:
            raise CannotDraft("the rows from before a change, which RETURNING knows since version 18")
        return f"old.{column}"
    return owner + column
