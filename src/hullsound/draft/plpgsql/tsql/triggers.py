"""Triggers of Transact-SQL: they fire once for a statement and see its rows as the tables inserted and deleted."""

from functools import partial
from typing import Final

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.reentry import entered, fires_itself, setting_of
from hullsound.draft.plpgsql.shared import dollar_quote, shares_line, trigger_function
from hullsound.sql.tree import (
    Block,
    Call,
    CreateTrigger,
    Name,
    Node,
    Operation,
    Paren,
    TableRef,
)

from .filling import prepare_executes
from .statements import TsqlCode, outer_statements

_TABLES: Final = {"insert": ("INSERTED",), "update": ("INSERTED", "DELETED"), "delete": ("DELETED",)}
_TRANSITION: Final = {"INSERTED": "NEW TABLE AS inserted", "DELETED": "OLD TABLE AS deleted"}


def add_trigger(tree: CreateTrigger, item: Object, rewriter: Rewriter) -> None:
    """Add the points of a trigger on a table or view."""
    table = rewriter.catalog.objects.get(item.table) or rewriter.catalog.table(tree.table, item.default_schema)
    if not isinstance(tree.block, Block) or table is None or tree.level != "statement":
        raise CannotDraft("a trigger that is not on a table or view of the source")
    by_row = tree.timing == "instead of"
    statements, around = outer_statements(tree.block, rewriter.words)
    code = TsqlCode(rewriter, statements, item.name.lower(), "trigger")
    if code.result_count:
        raise CannotDraft("a trigger that gives out a result")
    if table.type is ObjectType.TABLE and fires_itself(tree, item, table, rewriter):
        code.entered = setting_of(item)
    used = {t.parts[-1] for t in rewriter.subject.all(TableRef)} & {"INSERTED", "DELETED"}
    asked = [call for call in rewriter.subject.all(Call) if call.parts == ("UPDATE",)]
    masked = [
        each for each in rewriter.subject.all(Operation) if each.operators == ["&"] and _asks_for_bits(each, rewriter)
    ]
    if asked or masked:
        used |= {"INSERTED", "DELETED"}
    if code.counts_rows:
        used |= {"DELETED"} if "delete" in tree.events else set()
        used |= {"INSERTED"} if set(tree.events) - {"delete"} else set()
        code.lines.append(f"{ROW_COUNT} bigint := 1;")
    for call in asked:
        rewriter.add(Point(call.first, call.last, partial(_updated, call, table, by_row)))
    for each in masked:
        rewriter.add(Point(each.first, each.last, partial(_updated_bits, each, table, by_row)))
    if by_row:
        for reference in rewriter.subject.all(TableRef):
            if reference.parts[-1] in _TRANSITION:
                rewriter.add(Point(reference.first, reference.last, partial(_row_as_table, reference)))
    prepare_executes(code)
    code.add()
    start = around.begin_at + 1 if around is not None else tree.block.first
    missing = [] if by_row else _missing(tree, used)
    rewriter.add(Point(tree.first, start, partial(_head, item, table, code, missing, tree.events, by_row, start)))
    tail = _tail(tree, item, table, used, code, rewriter)
    end = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    if around is not None:
        rewriter.replace(around.end_at, max(end, around.last), tail)
    else:
        rewriter.add(Point(end, end, lambda r: f"\n{tail}", behind=0, is_last=True))


def _asks_for_bits(node: Operation, rewriter: Rewriter) -> bool:
    return "COLUMNS_UPDATED" in rewriter.words[node.operands[0].first : node.operands[0].last]


def _missing(tree: CreateTrigger, used: set[str]) -> list[tuple[str, str]]:
    """Return the tables that the body names and an event does not give: (event, table)."""
    return [(event, name) for event in tree.events for name in sorted(used) if name not in _TABLES[event]]


def _head(
    item: Object,
    table: Object,
    code: TsqlCode,
    missing: list[tuple[str, str]],
    events: list[str],
    by_row: bool,
    start: int,
    rewriter: Rewriter,
) -> str:
    names = rewriter.names
    function = names.qualified(item.schema, trigger_function(item.name))
    text = f"CREATE OR REPLACE FUNCTION {function}()\nRETURNS trigger\nLANGUAGE plpgsql\n"
    text += f"AS {dollar_quote(rewriter.subject.read.text)}\n{code.declare()}BEGIN\n"
    where = names.qualified(table.schema, table.name)
    for event, name in missing:
        # The source has both tables for every event, one of them empty.
        text += (
            f"  IF TG_OP = '{event.upper()}' THEN CREATE TEMP TABLE IF NOT EXISTS {name.lower()} (LIKE {where})"
            " ON COMMIT DROP; END IF;\n"
        )
    if code.entered:
        text += entered(code.entered, "COALESCE(NEW, OLD)" if by_row else "NULL")
    if code.counts_rows and not by_row:
        text += f"  {ROW_COUNT} := {_changed_rows(events)};\n"
    return text if shares_line(start, rewriter) else text.rstrip("\n")


def _changed_rows(events: list[str]) -> str:
    """Write the number of rows that the statement changed, which @@ROWCOUNT gives at the beginning of a trigger."""
    deleted, inserted = "(SELECT count(*) FROM deleted)", "(SELECT count(*) FROM inserted)"
    if "delete" not in events:
        return inserted
    return deleted if events == ["delete"] else f"CASE TG_OP WHEN 'DELETE' THEN {deleted} ELSE {inserted} END"


def _tail(tree: CreateTrigger, item: Object, table: Object, used: set[str], code: TsqlCode, rewriter: Rewriter) -> str:
    names = rewriter.names
    function = names.qualified(item.schema, trigger_function(item.name))
    where = names.qualified(table.schema, table.name)
    quote = dollar_quote(rewriter.subject.read.text)
    by_row = tree.timing == "instead of"
    on_table = table.type is ObjectType.TABLE
    result = "RETURN COALESCE(NEW, OLD)" if by_row and not on_table else code.trigger_return()
    text = f"  {result};\nEND;\n{quote};"
    if by_row or not used:
        events = " OR ".join(event.upper() for event in tree.events)
        level = "ROW" if by_row else "STATEMENT"
        timing = "BEFORE" if by_row and on_table else tree.timing.upper()
        text += (
            f"\n\nCREATE TRIGGER {names.write(item.name)}\n{timing} {events} ON {where}\n"
            f"FOR EACH {level}\nEXECUTE FUNCTION {function}();"
        )
        return text
    for event in tree.events:
        # A trigger with tables of changed rows is for one event alone.
        name = item.name if len(tree.events) == 1 else f"{item.name}_{event.upper()}"
        parts = " ".join(_TRANSITION[name] for name in _TABLES[event] if name in used)
        referencing = f"\nREFERENCING {parts}" if parts else ""
        text += (
            f"\n\nCREATE TRIGGER {names.write(name)}\nAFTER {event.upper()} ON {where}{referencing}\n"
            f"FOR EACH STATEMENT\nEXECUTE FUNCTION {function}();"
        )
    return text


def _row_as_table(reference: TableRef, rewriter: Rewriter) -> str:
    """INSTEAD OF fires for each row: the row stands for the table of all rows."""
    name = reference.parts[-1]
    alias = rewriter.names.write(reference.alias or name)
    if name == "INSERTED":
        return f"(SELECT NEW.* WHERE TG_OP <> 'DELETE') AS {alias}"
    return f"(SELECT OLD.* WHERE TG_OP <> 'INSERT') AS {alias}"


def _updated(call: Call, table: Object, by_row: bool, rewriter: Rewriter) -> str:
    """UPDATE(column) asks whether a value has changed: rows are found again by the primary key."""
    argument = call.arguments[0]
    if not isinstance(argument, Name):
        raise CannotDraft("UPDATE() of something that is no column")
    return _has_changed(argument.parts[-1], table, by_row, rewriter)


def _has_changed(name: str, table: Object, by_row: bool, rewriter: Rewriter) -> str:
    write = rewriter.names.write
    column = write(name)
    if by_row:
        return f"(TG_OP = 'INSERT' OR NEW.{column} IS DISTINCT FROM OLD.{column})"
    keys = [
        each.constraint.columns
        for each in rewriter.catalog.belonging(table.id)
        if each.constraint is not None and each.constraint.form == "primary key"
    ]
    if not keys:
        raise CannotDraft("UPDATE() on a table without a primary key")
    key = ", ".join(map(write, keys[0]))
    return (
        f"(TG_OP = 'INSERT' OR EXISTS (SELECT 1 FROM inserted AS n JOIN deleted AS o USING ({key})"
        f" WHERE n.{column} IS DISTINCT FROM o.{column}))"
    )


def _updated_bits(node: Operation, table: Object, by_row: bool, rewriter: Rewriter) -> str:
    """COLUMNS_UPDATED() & mask: the sum of the bits of the mask whose columns have changed."""
    start = _first_place(node.operands[0], table, rewriter)
    mask = rewriter.subject.source(node.operands[1])
    if start is None or not mask.isdigit() or int(mask) > 255:
        raise CannotDraft("COLUMNS_UPDATED() in a form that is not known")
    bits = []
    for bit, column in enumerate(table.columns[start : start + 8]):
        if int(mask) & 1 << bit:
            changed = _has_changed(column.name, table, by_row, rewriter)
            bits.append(f"CASE WHEN {changed} THEN {1 << bit} ELSE 0 END")
    return f"({' + '.join(bits) or '0'})"


def _first_place(node: Node, table: Object, rewriter: Rewriter) -> int | None:
    """Return the place of the column of the lowest bit: COLUMNS_UPDATED() of a small table, or one byte of it."""
    while isinstance(node, Paren):
        node = node.inner
    if not isinstance(node, Call):
        return None
    if node.parts == ("COLUMNS_UPDATED",):
        return 0 if len(table.columns) <= 8 else None
    sizes = [rewriter.subject.source(each) for each in node.arguments[1:]]
    inner = node.arguments[0] if node.parts == ("SUBSTRING",) and node.arguments else None
    is_byte = isinstance(inner, Call) and inner.parts == ("COLUMNS_UPDATED",) and sizes[1:] == ["1"]
    return 8 * (int(sizes[0]) - 1) if is_byte and sizes[0].isdigit() else None
