"""Row triggers: the rows that fire them, and one trigger for each kind of change where the target wants it so."""

from functools import partial
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Bind, Block, Call, CreateTrigger, Delete, Insert, Name, Node, TableRef, Update

from .speech import Lines, Speech

_ROWS: Final = ("NEW", "OLD")
_TESTS: Final = {"INSERTING": "insert", "UPDATING": "update", "DELETING": "delete"}
_HOLDS, _FAILS = "(1 = 1)", "(1 = 0)"
_WITHOUT: Final = {"OLD": "insert", "NEW": "delete"}
"""The kind of change at which a row is missing."""
_SOURCES: Final = frozenset(("oracle", "mysql", "mariadb"))
"""Sources whose triggers see the row before and after by these names."""


def check_trigger(tree: CreateTrigger, rewriter: Rewriter) -> None:
    """Raise CannotDraft for a trigger that is none of a row, or that asks for more than timing, events and a condition."""
    words = rewriter.words[tree.first : tree.body_at]
    if tree.level != "row" or tree.timing not in ("before", "after") or rewriter.catalog.engine not in _SOURCES:
        raise CannotDraft("a trigger of a kind that is not drafted")
    if tree.referencing or tree.update_columns or tree.disabled or "FOLLOWS" in words or "PRECEDES" in words:
        raise CannotDraft("a trigger with names, columns, an order or a state of its own")
    own = {tree.table[-1]}
    read = any(own & {each.parts[-1]} for each in rewriter.subject.all(TableRef))
    if read and rewriter.target.engine == "oracle":
        raise CannotDraft("a trigger that reads or changes the table it belongs to")
    changes: list[Node | None] = [each.table for each in rewriter.subject.all(Insert)]
    changes += [each.table for each in rewriter.subject.all(Update)]
    changes += [each.table for each in rewriter.subject.all(Delete)]
    if any(isinstance(each, TableRef) and each.parts[-1] in own for each in changes):
        raise CannotDraft("a trigger that changes the table it belongs to")
    if rewriter.target.engine == "sqlserver":
        raise CannotDraft("a trigger for each row, where the target has triggers for statements")


def events_of(tree: CreateTrigger, speech: Speech) -> list[list[str]]:
    """Return the kinds of change of each trigger that is made: all in one, or one for each."""
    return [[event] for event in tree.events] if speech.one_event_per_trigger else [list(tree.events)]


def trigger_name(item: Object, events: list[str], tree: CreateTrigger, rewriter: Rewriter) -> str:
    suffix = "" if len(events) == len(tree.events) else f"_{events[0].upper()}"
    return rewriter.names.qualified(item.schema, f"{item.name}{suffix}")


def fires(tree: CreateTrigger, events: list[str], rewriter: Rewriter) -> str:
    """Write when the trigger fires, and on which table."""
    table = rewriter.table(tree.table)
    on = rewriter.names.qualified(table.schema, table.name) if table is not None else tree.table[-1]
    return f"{tree.timing.upper()} {' OR '.join(events).upper()} ON {on} FOR EACH ROW"


def row_column(node: Node, speech: Speech, rewriter: Rewriter) -> str:
    """Return how the target writes a column of the row that fires the trigger; '' for another node."""
    if isinstance(node, Bind | Name) and len(node.parts) == 2 and node.parts[0] in _ROWS:
        return speech.row_column(node.parts[0], rewriter.names.write(node.parts[1]))
    return ""


def settled(branches: list[tuple[str, Lines]], otherwise: Lines, speech: Speech) -> Lines:
    """Write IF without the branches that the kind of change settles."""
    open_ones = []
    for condition, body in branches:
        if condition == _HOLDS:
            otherwise = body
            break
        if condition != _FAILS and not condition.lower().startswith(f"{_FAILS} and "):
            bare = condition.lower().startswith(f"{_HOLDS} and ")
            open_ones.append((condition[len(f"{_HOLDS} and ") :] if bare else condition, body))
    return speech.branch(open_ones, otherwise) if open_ones else otherwise


def add_rows(tree: CreateTrigger, events: list[str], speech: Speech, rewriter: Rewriter) -> None:
    """Write the columns of the rows, and the tests of the kind of change, which are settled where there is one kind."""
    named: list[Bind | Name] = [*rewriter.subject.all(Bind), *rewriter.subject.all(Name)]
    for node in named:
        written = row_column(node, speech, rewriter)
        if written and events == [_WITHOUT.get(node.parts[0])]:
            written = "NULL"  # as the source has it; the target refuses to name such a row
        if written:
            rewriter.add(Point(node.first, node.last, partial(_written, written), rank=5))
        elif isinstance(node, Name) and len(node.parts) == 1 and node.parts[0] in _TESTS and len(events) == 1:
            holds = _TESTS[node.parts[0]] == events[0]
            rewriter.add(Point(node.first, node.last, partial(_written, _HOLDS if holds else _FAILS), rank=5))

    for call in rewriter.subject.all(Call):
        if call.parts == ("UPDATING",) and len(call.arguments) == 1 and len(events) == 1:
            rewriter.add(
                Point(call.first, call.last, partial(_written, _column_test(call, events, speech, rewriter)), rank=5)
            )


def _column_test(call: Call, events: list[str], speech: Speech, rewriter: Rewriter) -> str:
    """Write whether a change gives a column another value. Raises CannotDraft for a name that is no constant."""
    name = text_value(call.arguments[0], rewriter)
    if name is None:
        raise CannotDraft("a test of a column whose name the code makes")
    column = rewriter.names.write(name.upper())
    rows = [speech.row_column(row, column) for row in ("NEW", "OLD")]
    return f"NOT ({rows[0]} <=> {rows[1]})" if events == ["update"] else _FAILS


def statements_of(block: Node) -> list[Node]:
    return block.body if isinstance(block, Block) else [block]


def _written(text: str, rewriter: Rewriter) -> str:
    return text
