"""Row triggers: what they are made of, in whatever form a source has them, and what of them can be drafted."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.reading import read_again
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Block,
    Call,
    CreateRoutine,
    CreateTrigger,
    Delete,
    Insert,
    Literal,
    Name,
    Node,
    Return,
    TableRef,
    Update,
)

from .rows import tests_kind
from .speech import Speech

_ROWS: Final = {"NEW": "NEW", "OLD": "OLD"}
_EVENTS: Final = frozenset(("insert", "update", "delete"))
_FOREIGN: Final = ("TG_ARGV", "TG_NARGS", "TG_RELID", "TG_TABLE_SCHEMA")
"""What a function of PostgreSQL asks its trigger for, and no other engine tells."""


@dataclass(frozen=True)
class RowTrigger:
    """A row trigger and the statement that holds its body: its own text, or that of the function it calls."""

    tree: CreateTrigger
    body: ReadStatement
    block: Node
    table: Object
    rows: Mapping[str, str]
    """NEW and OLD by what the source calls them."""

    @property
    def is_called(self) -> bool:
        """Whether the body stands in a function."""
        return isinstance(self.body.tree, CreateRoutine)

    @property
    def statements(self) -> list[Node]:
        """The statements of the body; a RETURN at its end does what the end does."""
        block = innermost(self.block) if isinstance(self.block, Block) else self.block
        body = block.body if isinstance(block, Block) else [block]
        return body[:-1] if body and isinstance(body[-1], Return) else body


def row_trigger(tree: CreateTrigger, rewriter: Rewriter) -> RowTrigger:
    """Return what a row trigger is made of. Raises CannotDraft for one of another kind."""
    if tree.level != "row" or tree.timing not in ("before", "after") or not set(tree.events) <= _EVENTS:
        raise CannotDraft("a trigger of a kind that is not drafted")
    head = rewriter.words[tree.first : tree.body_at]
    if tree.disabled or "FOLLOWS" in head or "PRECEDES" in head:
        raise CannotDraft("a trigger with an order or a state of its own")
    table = rewriter.table(tree.table)
    if table is None:
        raise CannotDraft("a trigger of a table that was not surveyed")
    rows = {**_ROWS, **{alias: which for alias, which in tree.referencing.items() if which in _ROWS}}
    if len(rows) != len(_ROWS) + len(tree.referencing):
        raise CannotDraft("a trigger that names the rows of the whole statement")
    if tree.block is None:
        raise CannotDraft("a trigger of a kind that is not drafted")
    if rewriter.catalog.engine != "postgresql":
        return RowTrigger(tree, rewriter.subject.read, tree.block, table, rows)
    body, block = called_body(tree.block, rewriter)
    return RowTrigger(tree, body, block, table, rows)


def called_body(call: Node, rewriter: Rewriter) -> tuple[ReadStatement, Node]:
    """Return the function that a trigger of PostgreSQL calls, read as part of the trigger."""
    item = rewriter.catalog.resolve(call.parts, rewriter.default_schema) if isinstance(call, Call) else None
    if item is None or not item.routines or not isinstance(call, Call):
        raise CannotDraft("a trigger whose function was not surveyed")
    if call.arguments:
        raise CannotDraft("a trigger that gives its function arguments")
    read = read_again(item, rewriter.catalog.engine)
    block = read.tree.routine.block if read is not None and isinstance(read.tree, CreateRoutine) else None
    if read is None or block is None or read.unread():
        raise CannotDraft("a trigger whose function is of a kind that is not drafted")
    return read, block


def is_trigger_function(tree: Node) -> bool:
    """Whether a routine is the body of triggers, as PostgreSQL has it."""
    returns = tree.routine.returns if isinstance(tree, CreateRoutine) else None
    return returns is not None and returns.name == "TRIGGER"


def check_body(trigger: RowTrigger, rewriter: Rewriter) -> None:
    """Raise CannotDraft for a body that would see or do something else on the target; `rewriter` is that of the body."""
    own = {trigger.table.name}
    names = [name.parts[0] for name in rewriter.subject.all(Name)]
    if any(name in _FOREIGN for name in names):
        raise CannotDraft("what the function asks its trigger for")
    read = any(own & {each.parts[-1]} for each in rewriter.subject.all(TableRef) if each.first != trigger.tree.first)
    if read and rewriter.target.engine in ("oracle", "sqlserver"):
        raise CannotDraft("a trigger that reads or changes the table it belongs to")
    changes: list[Node | None] = [each.table for each in rewriter.subject.all(Insert)]
    changes += [each.table for each in rewriter.subject.all(Update)]
    changes += [each.table for each in rewriter.subject.all(Delete)]
    if any(isinstance(each, TableRef) and each.parts[-1] in own for each in changes):
        raise CannotDraft("a trigger that changes the table it belongs to")


def check_returns(trigger: RowTrigger, events: list[str], rewriter: Rewriter) -> None:
    """Raise CannotDraft where a function gives its trigger another row than the change would write, or none."""
    for node in rewriter.subject.all(Return) if trigger.is_called and trigger.tree.timing == "before" else ():
        value = node.value
        given = {"NEW", "OLD"} if isinstance(value, Call) and value.parts == ("COALESCE",) else set()
        if isinstance(value, Name):
            given = set(value.parts)
        if isinstance(value, Literal) or any(("OLD" if event == "delete" else "NEW") not in given for event in events):
            raise CannotDraft("a trigger that gives up the change of its row")


def events_of(trigger: RowTrigger, speech: Speech, rewriter: Rewriter) -> list[list[str]]:
    """Return the kinds of change of each trigger that is made: all in one, or one for each."""
    is_split = speech.one_event_per_trigger or tests_kind(rewriter)
    return [[event] for event in trigger.tree.events] if is_split else [list(trigger.tree.events)]


def trigger_name(item: Object, events: list[str], tree: CreateTrigger, rewriter: Rewriter) -> str:
    """Return the name, which on every target is unique in its schema; in PostgreSQL it is so for its table."""
    bare = tree.name[-1]
    if rewriter.catalog.triggers_called(bare) > 1:
        bare = f"{tree.table[-1]}_{bare}"
    suffix = "" if len(events) == len(tree.events) else f"_{events[0].upper()}"
    return rewriter.names.qualified(item.schema, f"{bare}{suffix}")


def innermost(block: Block) -> Block:
    """Return the block that holds the statements: the one inside, where a body is nothing but a block."""
    inner = block.body[0] if len(block.body) == 1 else None
    is_bare = isinstance(inner, Block) and not inner.handlers and not inner.declarations
    return inner if is_bare and isinstance(inner, Block) else block
