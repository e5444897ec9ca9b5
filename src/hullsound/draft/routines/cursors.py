"""Cursors of a routine: their queries, what tells whether a fetch met a row, and loops over the rows of a query.

Sources: PL/SQL Language Reference, "Explicit Cursors"; Transact-SQL reference, "FETCH" and "@@FETCH_STATUS"; MySQL 8.4 Reference
Manual, "Cursors" and "DECLARE ... HANDLER Statement".
"""

from collections.abc import Iterator
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import (
    Call,
    CloseCursor,
    CursorAttribute,
    CursorDeclaration,
    Fetch,
    Loop,
    Name,
    NamedArgument,
    Node,
    OpenCursor,
    Parameter,
    Query,
    Select,
    Star,
    Subquery,
    TableRef,
)

from .cursor_results import opened_once
from .missing_rows import HANDLED
from .speech import Declared, Lines, Speech, Unit
from .types import type_text

_STATUS: Final = "@@FETCH_STATUS"
_MET: Final = {"FOUND": "> 0", "NOTFOUND": "= 0"}
"""What SQL%FOUND and SQL%NOTFOUND say of the rows that the statement before has changed."""
_TSQL: Final = frozenset(("sqlserver", "ase"))
_ODD: Final = frozenset(("SCROLL", "DYNAMIC", "KEYSET", "GLOBAL", "UPDATE", "RETURN"))
"""Words of a declaration that ask for more than reading forwards."""


class Cursors:
    """The cursors that one routine declares, by their names in the source."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit
        self.source = rewriter.catalog.engine
        self.declared: dict[str, CursorDeclaration] = {}
        self.opened = opened_once(rewriter)
        """Cursor variables that stand for one query, as if they were declared for it."""
        for node in [*rewriter.subject.all(CursorDeclaration), *self.opened.values()]:
            if node.name in self.declared:
                raise CannotDraft("several cursors of one name")
            self.declared[node.name] = node

    def prepare(self) -> None:
        """Put variables in the places that tell of the last fetch, and declare them; before anything is written."""
        self._prepare_parameters()
        for name in self.rewriter.subject.all(Name):
            if name.parts == (_STATUS,):
                self.rewriter.put(name, self._variable(_STATUS))
        for mark in self.rewriter.subject.all(CursorAttribute):
            if mark.cursor == ("SQL",) and mark.attribute in _MET:
                self.rewriter.put(mark, f"{self.speech.rows_changed} {_MET[mark.attribute]}")
                self.unit.notes += [self.speech.rows_note] if self.speech.rows_note else []
                continue
            if mark.cursor == ("SQL",) and mark.attribute != "ROWCOUNT":
                raise CannotDraft(f"SQL%{mark.attribute}")
            if mark.cursor[-1] not in self.declared:
                continue
            if mark.attribute not in ("FOUND", "NOTFOUND"):
                raise CannotDraft(f"the {mark.attribute.lower()} of a cursor")
            self.rewriter.put(mark, f"{self._variable(mark.cursor[-1])} = {int(mark.attribute == 'FOUND')}")
        for loop in self._loops():
            self._prepare_loop(loop)

    # --- the statements ---

    def open(self, node: OpenCursor) -> Lines:
        cursor = self._cursor(node.cursor)
        if node.using or (node.query is not None and node.query is not cursor.query):
            raise CannotDraft("a cursor that is opened for a query")
        self.unit.reads = True
        given = node.cursor.arguments if isinstance(node.cursor, Call) else node.arguments
        return self._given(cursor, given) + self.speech.open_cursor(self._name(cursor), self._query(cursor))

    def close(self, node: CloseCursor) -> Lines:
        cursor = self._cursor(node.cursor)
        if self.rewriter.words[node.first] == "DEALLOCATE":
            return []
        return self.speech.close_cursor(self._name(cursor))

    def fetch(self, node: Fetch, targets: list[str], missed: Lines | None, met: Lines) -> Lines:
        """Fetch a row into variables; `missed` is done where there is none, `met` where there is one, and the variable is set.

        Without `missed` a missing row is an error.
        """
        cursor = self._cursor(node.cursor)
        words = self.rewriter.words[node.first : node.cursor.first]
        if node.bulk or node.limit is not None or set(words) - {"FETCH", "NEXT", "FROM", "IN"}:
            raise CannotDraft("a fetch of several rows, or of one that is not the next")
        if missed is None:
            return self.speech.fetch_or_fail(self._name(cursor), targets)
        if self.source in HANDLED:
            return self.speech.fetch(self._name(cursor), targets, met, missed)
        if self.source == "postgresql":
            kept = self.speech.found
            counted, missing = (self.speech.assign(kept, count) if kept else [] for count in ("1", "0"))
            missing += [line for target in targets for line in self.speech.assign(target, "NULL")]
            return self.speech.fetch(self._name(cursor), targets, counted, missing)
        status = self._variable(_STATUS if self.source in _TSQL else node.cursor.parts[-1])  # type: ignore[attr-defined]
        there, none = ("0", "-1") if self.source in _TSQL else ("1", "0")
        return self.speech.fetch(
            self._name(cursor), targets, self.speech.assign(status, there), self.speech.assign(status, none)
        )

    def _given(self, cursor: CursorDeclaration, arguments: list[Node]) -> Lines:
        """Give the parameters of a cursor their values, each a variable that its query reads as it is opened."""
        if any(isinstance(each, NamedArgument) for each in arguments) or len(arguments) > len(cursor.parameters):
            raise CannotDraft("a cursor that is opened with other values than it takes")
        lines: Lines = []
        for place, parameter in enumerate(cursor.parameters):
            value = arguments[place] if place < len(arguments) else parameter.default
            if value is None:
                raise CannotDraft("a cursor that is opened with other values than it takes")
            lines += self.speech.assign(self._parameter(cursor, parameter), self.rewriter.elsewhere(value))
        return lines

    def _parameter(self, cursor: CursorDeclaration, parameter: Parameter) -> str:
        """Return the variable for a parameter of a cursor; declare it once."""
        name = self.speech.variable(f"hs_{cursor.name.lower()}_{parameter.name.lower()}")
        declared = Declared(name, type_text(parameter.type, self.rewriter))
        if declared not in self.unit.variables:
            self.unit.variables.append(declared)
        return name

    def _prepare_parameters(self) -> None:
        """Write each parameter of a cursor in its query as the variable that stands for it."""
        for cursor in self.declared.values():
            named = {each.name: each for each in cursor.parameters}
            if cursor.query is None or not named:
                continue
            for name in self.rewriter.subject.read.inside(Name, cursor.query.first, cursor.query.last):
                if len(name.parts) == 1 and name.parts[0] in named:
                    if self.rewriter.catalog.columns_named(name.parts[0]):
                        raise CannotDraft("a parameter of a cursor that is called like a column")
                    self.rewriter.put(name, self._parameter(cursor, named[name.parts[0]]))

    def _cursor(self, node: Node) -> CursorDeclaration:
        is_one = isinstance(node, Name | Call) and len(node.parts) == 1
        declared = self.declared.get(node.parts[0]) if is_one else None  # type: ignore[attr-defined]
        if declared is None or declared.query is None:
            raise CannotDraft("a cursor that is a variable or is not declared in the routine")
        head = self.rewriter.words[declared.first : declared.query.first]
        if _ODD & set(head):
            raise CannotDraft("a cursor that does more than read forwards")
        return declared

    def _name(self, cursor: CursorDeclaration) -> str:
        return self.rewriter.names.write(cursor.name)

    def _query(self, cursor: CursorDeclaration) -> str:
        """Return the query, and declare the cursor where the target declares it in the head of the routine."""
        assert cursor.query is not None
        query = self.rewriter.elsewhere(cursor.query)
        known = (self._name(cursor), query)
        if known not in self.unit.cursors:
            self.unit.cursors.append(known)
        return query

    def _variable(self, name: str) -> str:
        """Return the variable that tells whether the last fetch met a row; declare it once."""
        bare = "hs_fetch_status" if name == _STATUS else f"hs_{name.lower()}_found"
        declared = Declared(self.speech.variable(bare), self.speech.integer)
        if declared not in self.unit.variables:
            self.unit.variables.append(declared)
        return declared.name

    # --- loops over the rows of a query ---

    def _loops(self) -> Iterator[Loop]:
        return (each for each in self.rewriter.subject.all(Loop) if each.form in ("query", "cursor"))

    def query_of(self, loop: Loop) -> Query:
        """Return the query of a loop, whether it stands there or its cursor is declared."""
        bound = loop.bounds[0] if loop.bounds else None
        cursor = self._looped(loop)
        if cursor is not None:
            query = cursor.query
        else:
            query = bound.query if isinstance(bound, Subquery) else bound  # type: ignore[assignment]
        if not isinstance(query, Query):
            raise CannotDraft("a loop over something that is no query")
        return query

    def _looped(self, loop: Loop) -> CursorDeclaration | None:
        """Return the cursor that a loop names, with or without values for its parameters."""
        bound = loop.bounds[0] if loop.form == "cursor" and loop.bounds else None
        return self._cursor(bound) if isinstance(bound, Name | Call) else None

    def _prepare_loop(self, loop: Loop) -> None:
        """Put a variable for each column of the row that a loop is at, where the target has no loops over rows."""
        if self.speech.has_row_loops:
            return
        for name in self.rewriter.subject.all(Name):
            if len(name.parts) == 2 and name.parts[0] == loop.variable and loop.first <= name.first < loop.last:
                self.rewriter.put(name, self.field(loop, name.parts[1]))

    def field(self, loop: Loop, column: str) -> str:
        """Return the variable for a column of the row that a loop is at."""
        names = [title for title, _ in self.titled(self.query_of(loop))]
        if column not in names:
            raise CannotDraft("a column that the query of a loop does not name")
        return self._fields(loop)[names.index(column)].name

    def titled(self, query: Query) -> list[tuple[str, str]]:
        """Return title and type on the target of each column of a query. Raises CannotDraft where one is not known."""
        table = self._whole_row(query)
        if table is not None:
            choices = [(c.name, choose_type(self.source, c.type, self.rewriter.target)) for c in table.columns]
            if any(choice is None or not choice.text for _, choice in choices):
                raise CannotDraft("a row of a table with columns that have no type there")
            return [(name, choice.text) for name, choice in choices if choice is not None]
        found = []
        for title, value in self._columns(query):
            of_one = isinstance(value, Call) and value.parts[-1] in ("MAX", "MIN") and len(value.arguments) == 1
            kind = self.rewriter.types.source_type(value.arguments[0] if isinstance(value, Call) and of_one else value)
            choice = choose_type(self.source, kind, self.rewriter.target) if kind is not None else None
            if choice is None or not choice.text:
                raise CannotDraft("a row of a query with columns whose types are not known")
            found.append((title, choice.text))
        return found

    def _whole_row(self, query: Query) -> Object | None:
        """Return the one table whose whole rows a query gives; None for other queries."""
        block = query.blocks[0]
        if not isinstance(block, Select) or len(block.items) != 1 or not isinstance(block.items[0].value, Star):
            return None
        source = block.sources[0] if len(block.sources) == 1 else None
        return self.rewriter.table(source.parts) if isinstance(source, TableRef) else None

    def _refuse_untitled(self, loop: Loop) -> None:
        """Refuse fields of a loop's row which the query does not name: PostgreSQL names columns that others leave unnamed."""
        query = self.query_of(loop)
        table, block = self._whole_row(query), query.blocks[0]
        titles = {column.name for column in table.columns} if table is not None else set()
        if isinstance(block, Select):
            titles |= {item.title for item in block.items}
        for name in self.rewriter.subject.all(Name):
            if (
                name.parts[0] == loop.variable
                and loop.loop_at < name.first < loop.last
                and name.parts[-1] not in titles
            ):
                raise CannotDraft("a column that the query of a loop does not name")

    def _columns(self, query: Query) -> list[tuple[str, Node]]:
        block = query.blocks[0]
        if not isinstance(block, Select):
            raise CannotDraft("a row of something that is no query")
        titles = [(item.title, item.value) for item in block.items]
        if not all(title for title, _ in titles):
            raise CannotDraft("a row of a query with columns that have no names")
        return titles

    def _fields(self, loop: Loop) -> list[Declared]:
        """Return the variables for the columns of a loop's row."""
        variable = self.speech.variable
        return [
            Declared(variable(f"hs_{loop.variable.lower()}_{title.lower()}"), kind)
            for title, kind in self.titled(self.query_of(loop))
        ]

    def loop(self, loop: Loop, body: Lines, label: str, number: int) -> Lines:
        """Write a loop over rows, with a cursor of its own where the target has no such loops."""
        if self.source == "postgresql":
            self._refuse_untitled(loop)
        query = self.rewriter.elsewhere(self.query_of(loop))
        named = self._looped(loop)
        bound = loop.bounds[0] if named is not None else None
        given = self._given(named, bound.arguments if isinstance(bound, Call) else []) if named is not None else []
        self.unit.reads = True
        if self.speech.has_row_loops:
            return [*given, *self.speech.over_rows(loop.variable, query, body, label)]
        fields = self._fields(loop)
        self.unit.variables += [each for each in fields if each not in self.unit.variables]
        return [*given, *self.over(query, [each.name for each in fields], body, label, number)]

    def over(self, query: str, targets: list[str], body: Lines, label: str, number: int) -> Lines:
        """Fetch each row of a query into variables and run statements for it; these keep their values where there is no row."""
        cursor = self.rewriter.names.write(f"hs_rows{number}")
        self.unit.cursors.append((cursor, query))
        status = Declared(self.speech.variable(f"hs_rows{number}_found"), self.speech.integer)
        self.unit.variables.append(status)
        fetch = self.speech.fetch(
            cursor, targets, self.speech.assign(status.name, "1"), self.speech.assign(status.name, "0")
        )
        end = self.speech.branch([(f"{status.name} = 0", self.speech.leave(label))], [])
        return [
            *self.speech.open_cursor(cursor, query),
            *self.speech.repeat_while(self.speech.always, [*fetch, *end, *body], label),
            *self.speech.close_cursor(cursor),
        ]
