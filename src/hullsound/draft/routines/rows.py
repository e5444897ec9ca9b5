"""The rows that fire a trigger: their columns, and the tests of what was done to them."""

from collections.abc import Mapping
from functools import partial
from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Bind, Call, Comparison, CreateTrigger, Name, Node, Operation, Row

from .speech import Lines, Speech

_TESTS: Final = {"INSERTING": "insert", "UPDATING": "update", "DELETING": "delete"}
_KIND: Final = "TG_OP"
"""The kind of change as text (PostgreSQL 18, "Trigger Functions")."""
HOLDS, FAILS = "(1 = 1)", "(1 = 0)"
_DENIED: Final = {f"NOT {HOLDS}": FAILS, f"NOT {FAILS}": HOLDS}
_WITHOUT: Final = {"OLD": "insert", "NEW": "delete"}
"""The kind of change at which a row is missing."""


def row_column(node: Node, rows: Mapping[str, str], speech: Speech, rewriter: Rewriter) -> str:
    """Return how the target writes a column of the row that fires the trigger; '' for another node."""
    if isinstance(node, Name) and len(node.parts) == 2 and node.parts[0] in rows:
        return speech.row_column(rows[node.parts[0]], rewriter.names.write(node.parts[1]))
    return ""


def settled(branches: list[tuple[str, Lines]], otherwise: Lines, speech: Speech) -> Lines:
    """Write IF without the branches that the kind of change settles."""
    open_ones = []
    for condition, body in branches:
        condition = _DENIED.get(condition.upper(), condition)
        if condition == HOLDS:
            otherwise = body
            break
        if condition != FAILS and not condition.lower().startswith(f"{FAILS} and "):
            bare = condition.lower().startswith(f"{HOLDS} and ")
            open_ones.append((condition[len(f"{HOLDS} and ") :] if bare else condition, body))
    return speech.branch(open_ones, otherwise) if open_ones else otherwise


def tests_kind(rewriter: Rewriter) -> bool:
    """Whether code asks for the kind of change by a text."""
    return any(name.parts == (_KIND,) for name in rewriter.subject.all(Name))


def add_rows(
    tree: CreateTrigger, events: list[str], rows: Mapping[str, str], speech: Speech, rewriter: Rewriter
) -> None:
    """Add the columns of the rows, and the tests of the kind of change, which are settled where there is one kind."""
    named: list[Name] = [*rewriter.subject.all(Bind), *rewriter.subject.all(Name)]
    for node in named:
        written = row_column(node, rows, speech, rewriter)
        if written and events == [_WITHOUT.get(rows[node.parts[0]])]:
            written = "NULL"  # as the source has it; the target refuses to name such a row
        if written:
            rewriter.put(node, written)
        elif isinstance(node, Name) and len(node.parts) == 1 and len(events) == 1:
            _add_test(node, tree, events[0], rewriter)
    for call in rewriter.subject.all(Call):
        if call.parts == ("UPDATING",) and len(call.arguments) == 1 and len(events) == 1:
            rewriter.add(
                Point(call.first, call.last, partial(_written, _column_test(call, events, speech, rewriter)), rank=5)
            )
    if len(events) == 1:
        _settle_kinds(events[0], rewriter)


def _add_test(name: Name, tree: CreateTrigger, event: str, rewriter: Rewriter) -> None:
    """Write what one name tells of the change: INSERTING and its like, or a TG_ variable of PostgreSQL."""
    told = {
        _KIND: event.upper(), "TG_WHEN": tree.timing.upper(), "TG_LEVEL": tree.level.upper(),
        "TG_NAME": tree.name[-1].lower(), "TG_TABLE_NAME": tree.table[-1].lower(), "TG_RELNAME": tree.table[-1].lower(),
    }  # fmt: skip
    if name.parts[0] in _TESTS:
        written = HOLDS if _TESTS[name.parts[0]] == event else FAILS
    elif name.parts[0] in told and rewriter.catalog.engine == "postgresql":
        written = literal(told[name.parts[0]])
    else:
        return
    rewriter.add(Point(name.first, name.last, partial(_written, written), rank=5))


def _settle_kinds(event: str, rewriter: Rewriter) -> None:
    """Settle TG_OP = 'INSERT' and TG_OP IN ('INSERT', 'UPDATE')."""
    tests: list[Operation | Comparison] = [*rewriter.subject.all(Operation), *rewriter.subject.all(Comparison)]
    for test in tests:
        operands = test.operands
        if not isinstance(operands[0], Name) or operands[0].parts != (_KIND,):
            continue
        if isinstance(test, Operation):
            is_equal, negated, values = test.operators in (["="], ["<>"], ["!="]), test.operators != ["="], operands[1:]
        else:
            inside = operands[1].items if len(operands) == 2 and isinstance(operands[1], Row) else operands[1:]
            is_equal, negated, values = test.operator == "IN", test.negated, inside
        texts = [text_value(each, rewriter) for each in values]
        if is_equal and None not in texts:
            holds = (event.upper() in texts) != negated
            rewriter.add(Point(test.first, test.last, partial(_written, HOLDS if holds else FAILS), rank=6))


def _column_test(call: Call, events: list[str], speech: Speech, rewriter: Rewriter) -> str:
    """Write whether a change gives a column another value. Raises CannotDraft for a name that is no constant."""
    name = text_value(call.arguments[0], rewriter)
    if name is None:
        raise CannotDraft("a test of a column whose name the code makes")
    if events != ["update"]:
        return FAILS
    return speech.updates(rewriter.names.write(name.upper()))


def _written(text: str, rewriter: Rewriter) -> str:
    return text
