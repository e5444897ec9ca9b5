"""What procedures give out beside their parameters: result sets through cursors, and a status."""

from dataclasses import dataclass
from typing import Final
from weakref import WeakKeyDictionary

from hullsound.analyze.branches import branches_of
from hullsound.analyze.raised import raising_query
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.dynamic import read_sites
from hullsound.draft.statements.queries import result_queries
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import (
    Block,
    Clause,
    ConditionHandler,
    CreateRoutine,
    CursorDeclaration,
    Delete,
    Execute,
    ExecuteImmediate,
    Insert,
    Loop,
    Merge,
    Name,
    Node,
    OpenCursor,
    QueryStatement,
    Return,
    Update,
)

STATUS: Final = "return_status"
"""Parameter for the status that a procedure of the T-SQL family, or of Db2, returns."""
TAKEN_STATUS: Final = "hs_status"
"""Variable that takes the status of a procedure that is called."""


@dataclass(frozen=True)
class Shape:
    """What a procedure gives out beside its parameters."""

    results: int
    """Result sets, each through a cursor."""
    has_status: bool
    """Whether it returns a status that is not always 0."""

    def parameters(self) -> list[str]:
        """Return the further parameters that carry this."""
        cursors = [f"INOUT {result_name(place)} refcursor DEFAULT NULL" for place in range(1, self.results + 1)]
        return cursors + ([f"INOUT {STATUS} integer DEFAULT 0"] if self.has_status else [])


def result_name(place: int) -> str:
    return f"result{place}"


class Results:
    """Numbers what gives out results in a body: those that exclude each other share a number."""

    def __init__(self, read: ReadStatement, catalog: Catalog, schema: str) -> None:
        self.catalog = catalog
        self.schema = schema
        self.read = read
        self.sites = read_sites(read, catalog.engine)
        self.places: dict[Node, int] = {}

    def place(self, statements: list[Node], start: int = 1) -> int:
        """Number what a list of statements gives out; return the next free number.

        Raises CannotDraft for a result inside a loop.
        """
        at = start
        for each in statements:
            count = self._count(each)
            if count:
                self.places[each] = at
                at += count
                continue
            ends = [at, *(self.place(branch, at) for branch in branches_of(each))]
            if isinstance(each, Loop) and max(ends) > at:
                raise CannotDraft("a result set given out in a loop")
            if isinstance(each, ConditionHandler) and each.action == "continue" and max(ends) > at:
                raise CannotDraft("a result set given out by a handler that goes on")
            at = max(ends)
        return at

    def _count(self, node: Node) -> int:
        if isinstance(node, QueryStatement):
            is_raised = self.catalog.engine == "sqlite" and raising_query(node, self.read) is not None
            return 0 if is_raised else len(result_queries([node]))
        if isinstance(node, Insert | Update | Delete | Merge):
            return int(output_clause(node, self.read.all(Clause), self.read.tokens.words) is not None)
        if isinstance(node, OpenCursor):
            return int(returned_cursor(node, self.read) is not None)
        if isinstance(node, Execute | ExecuteImmediate) and node in self.sites:
            return int(self.sites[node].gives_rows)
        if not isinstance(node, Execute):
            return 0
        item = self.catalog.resolve(node.routine, self.schema) if node.routine else None
        return shape_of(item, self.catalog).results if item is not None and item.type is ObjectType.PROCEDURE else 0


def output_clause(node: Node, clauses: list[Clause], words: list[str]) -> Clause | None:
    """Return the OUTPUT of a change whose rows go to the caller; None where there is none, or a table takes them."""
    for clause in clauses:
        if clause.name == "output" and node.first < clause.first < node.last:
            return None if "INTO" in words[clause.first : clause.last] else clause
    return None


def returned_cursor(node: OpenCursor, read: ReadStatement) -> CursorDeclaration | None:
    """Return the declaration of a cursor WITH RETURN that a statement opens, which so gives its rows to the caller."""
    name = node.cursor.parts[-1] if isinstance(node.cursor, Name) else ""
    for cursor in read.all(CursorDeclaration):
        if cursor.name == name:
            end = cursor.query.first if cursor.query is not None else cursor.last
            return cursor if "RETURN" in read.tokens.words[cursor.first : end] else None
    return None


_SHAPES: WeakKeyDictionary[Catalog, dict[str, Shape]] = WeakKeyDictionary()
"""Shapes that are known, by catalogue and object."""


def shape_of(item: Object, catalog: Catalog) -> Shape:
    """Return what a procedure of the catalogue gives out. Raises CannotDraft where that has no counterpart."""
    known = _SHAPES.setdefault(catalog, {})
    if item.id not in known:
        known[item.id] = Shape(0, has_status=False)  # a procedure that calls itself passes no results on
        read = next(read_script(item.text, load_dialect(catalog.engine)).statements(), None)
        if read is not None and isinstance(read.tree, CreateRoutine) and read.tree.routine.block is not None:
            known[item.id] = routine_shape(read, catalog, item.default_schema or item.schema)
    return known[item.id]


def routine_shape(read: ReadStatement, catalog: Catalog, schema: str) -> Shape:
    """Return what the procedure of a statement gives out."""
    assert isinstance(read.tree, CreateRoutine)
    routine = read.tree.routine
    assert routine.block is not None
    if routine.form == "function":
        return Shape(0, has_status=False)
    handlers: list[Node] = [d for b in read.all(Block) for d in b.declarations if isinstance(d, ConditionHandler)]
    end = Results(read, catalog, schema).place([*routine.block.body, *handlers])
    status = any(
        each.value is not None and read.tokens.source(each.value.first, each.value.last) != "0"
        for each in read.all(Return)
    )
    return Shape(end - 1, status)


def called_procedure(node: Execute, rewriter: Rewriter) -> Object | None:
    return rewriter.catalog.resolve(node.routine, rewriter.default_schema) if node.routine else None
