"""OUTPUT without INTO: the rows that a change gives out become a result of the procedure."""

from typing import TYPE_CHECKING

from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.results import output_clause, result_name
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import Clause, Delete, Insert, Merge, Name, Node, SelectItem, TableRef, Update

if TYPE_CHECKING:
    from .statements import TsqlCode

_KEPT = "hs_output"


def prepare_output(code: "TsqlCode") -> None:
    """Declare what keeps the rows of changes, before the head is written."""
    if any(isinstance(node, Insert | Update | Delete | Merge) for node in code.results.places):
        code.hoist(f"{_KEPT} jsonb;")


def give_out_changes(code: "TsqlCode", node: Node, place: int) -> str:
    """Write a change whose rows are kept as JSON for a moment, so that a cursor can give them out."""
    clause = output_clause(node, code.rewriter.subject.all(Clause), code.words)
    if clause is None or not isinstance(node, Insert | Update | Delete | Merge):
        raise CannotDraft("OUTPUT in a form that is not known")
    columns = _columns(code, node, clause)
    short = [f"c{number}" for number in range(1, len(columns) + 1)]
    change = code.rewriter.text(node.first, node.last)
    typed = ", ".join(f"{name} {kind}" for name, (_, kind) in zip(short, columns, strict=True))
    shown = ", ".join(f"{name} AS {title}" for name, (title, _) in zip(short, columns, strict=True))
    count = f"{ROW_COUNT} := jsonb_array_length({_KEPT});\n" if code.counts_rows else ""
    return (
        f"WITH hs_changed({', '.join(short)}) AS (\n{change}\n)\n"
        f"SELECT COALESCE(jsonb_agg(to_jsonb(hs_changed)), '[]') INTO {_KEPT} FROM hs_changed;\n{count}"
        f"OPEN {result_name(place)} FOR SELECT {shown} FROM jsonb_to_recordset({_KEPT}) AS hs_rows({typed})"
    )


def _columns(code: "TsqlCode", node: Insert | Update | Delete | Merge, clause: Clause) -> list[tuple[str, str]]:
    """Return title and type of each column that is given out. Raises CannotDraft where one is not known."""
    rewriter, found = code.rewriter, []
    inside = [i for i in rewriter.subject.all(SelectItem) if clause.first < i.first and i.last <= clause.last]
    for item in inside:
        if any(other is not item and other.first <= item.first and item.last <= other.last for other in inside):
            continue
        source = rewriter.subject.source(item.value).upper()
        if source == "$ACTION":
            found.append((rewriter.names.write(item.alias or "ACTION"), "text"))
        elif source in ("INSERTED.*", "DELETED.*"):
            found += [(rewriter.names.write(n), k) for n, k in _table_columns(code, node).items()]
        else:
            name = item.value.parts[-1] if isinstance(item.value, Name) else ""
            kind = _table_columns(code, node).get(name, "") if name else ""
            kind = kind or target_type(item.value, rewriter)
            if not kind:
                raise CannotDraft("OUTPUT of a value whose type is not known")
            found.append((rewriter.names.write(item.alias or name or f"COLUMN{len(found) + 1}"), kind))
    return found


def _table_columns(code: "TsqlCode", node: Insert | Update | Delete | Merge) -> dict[str, str]:
    """Return the columns of the changed table with the target's types."""
    rewriter = code.rewriter
    if not isinstance(node.table, TableRef):
        return {}
    aliases = [t for t in rewriter.subject.all(TableRef) if node.first <= t.first < node.last and t.alias]
    parts = next((t.parts for t in aliases if (t.alias,) == node.table.parts), node.table.parts)
    table = rewriter.table(parts)
    kinds = {}
    for column in table.columns if table is not None else ():
        choice = choose_type(rewriter.catalog.engine, column.type, rewriter.target)
        kinds[column.name] = choice.text if choice is not None else ""
    return kinds
