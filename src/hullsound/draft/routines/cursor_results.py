"""Cursors that a routine opens for its caller: the rows become a result set, and the parameter for the cursor goes.

PL/SQL gives them out as parameters or values, Db2 and Teradata declare them WITH RETURN.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "Cursor Variables"; MySQL 8.4 Reference Manual, "CALL Statement";
Transact-SQL reference, "Return data from a stored procedure".
"""

import itertools
from typing import Final

from hullsound.analyze.records import declaration_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    CloseCursor,
    CursorDeclaration,
    Fetch,
    Loop,
    Name,
    Node,
    OpenCursor,
    Query,
    Routine,
    TypeName,
    Variable,
)

from .speech import Lines, Speech

_RETURNING: Final = ("db2", "teradata")
_TARGETS: Final = frozenset(("mysql", "mariadb", "sqlserver"))
NOTE: Final = "convert.cursor-to-rows"


def is_cursor_type(node: TypeName | None, rewriter: Rewriter) -> bool:
    """Whether a parameter or variable holds a cursor."""
    if node is None or node.borrowed or rewriter.catalog.engine != "oracle":
        return False
    if node.name == "SYS_REFCURSOR" or node.reference[-1:] == ("SYS_REFCURSOR",):
        return True
    declared = declaration_of(node, rewriter.columns)
    return declared is not None and declared.node.form == "ref cursor"


def opened_once(rewriter: Rewriter) -> dict[str, CursorDeclaration]:
    """Return the cursor variables that are opened in one place, for a query, and whose rows the routine reads itself."""
    found: dict[str, CursorDeclaration] = {}
    openings = rewriter.subject.all(OpenCursor)
    for variable in rewriter.subject.all(Variable):
        if not _is_cursor_variable(variable, rewriter):
            continue
        places = [each for each in openings if _name(each.cursor) == variable.name]
        named = sum(name.parts == (variable.name,) for name in rewriter.subject.all(Name))
        reading: list[Fetch | CloseCursor] = [*rewriter.subject.all(Fetch), *rewriter.subject.all(CloseCursor)]
        used = sum(_name(each.cursor) == variable.name for each in reading)
        is_read = any(_name(each.cursor) == variable.name for each in rewriter.subject.all(Fetch))
        if len(places) == 1 and is_read and named == used + 1:
            opening = places[0]
            if isinstance(opening.query, Query) and not opening.using and not opening.arguments:
                declared = CursorDeclaration(opening.first, opening.last, variable.name, [], opening.query, -1)
                found[variable.name] = declared
    return found


def _is_cursor_variable(variable: Variable, rewriter: Rewriter) -> bool:
    if rewriter.catalog.engine == "postgresql":
        return variable.type is not None and variable.type.name == "REFCURSOR"
    return is_cursor_type(variable.type, rewriter)


class CursorResults:
    """The cursors that one routine gives out."""

    def __init__(self, rewriter: Rewriter, speech: Speech, routine: Routine | None) -> None:
        self.rewriter, self.speech = rewriter, speech
        parameters = routine.parameters if routine is not None else []
        self.parameters = {each.name for each in parameters if is_cursor_type(each.type, rewriter)}
        self.is_returned = routine is not None and is_cursor_type(routine.returns, rewriter)
        own = {each.name for each in rewriter.subject.all(Variable) if is_cursor_type(each.type, rewriter)}
        own -= set(opened_once(rewriter))
        self.returned = {
            each.name: each.query
            for each in rewriter.subject.all(CursorDeclaration)
            if rewriter.catalog.engine in _RETURNING and _is_returned(each, rewriter)
        }
        self.names = self.parameters | own | set(self.returned)
        if self.parameters | own and rewriter.target.engine not in _TARGETS:
            raise CannotDraft("a cursor that is passed on")
        if own and not self.is_returned:
            raise CannotDraft("a cursor variable of the routine's own")
        self._refuse(parameters_in={each.name for each in parameters if each.mode == "in"})

    def _refuse(self, parameters_in: set[str]) -> None:
        """Refuse what needs the cursor itself: rows that are fetched here, and a query for each turn of a loop."""
        subject = self.rewriter.subject
        if self.parameters & parameters_in:
            raise CannotDraft("a cursor that the caller has opened")
        used: list[Fetch | CloseCursor] = [*subject.all(Fetch), *subject.all(CloseCursor)]
        if any(_name(each.cursor) in self.names for each in used):
            raise CannotDraft("a cursor variable whose rows the routine reads itself")
        for node in subject.all(OpenCursor):
            if _name(node.cursor) in self.names and any(
                loop.first <= node.first < loop.last for loop in subject.all(Loop)
            ):
                raise CannotDraft("a cursor that is opened in a loop")

    def opens(self, node: OpenCursor) -> bool:
        return _name(node.cursor) in self.names

    def result(self, node: OpenCursor) -> Lines:
        """Give out the rows of the query for which a cursor is opened."""
        query = node.query or self.returned.get(_name(node.cursor))
        if query is None or node.using:
            raise CannotDraft("a cursor that is opened for a text")
        return self.speech.result(self.rewriter.node(query))


def _is_returned(cursor: CursorDeclaration, rewriter: Rewriter) -> bool:
    head = rewriter.words[cursor.first : cursor.query.first] if cursor.query is not None else []
    return ("WITH", "RETURN") in itertools.pairwise(head)


def _name(node: Node) -> str:
    return node.parts[0] if isinstance(node, Name) and len(node.parts) == 1 else ""
