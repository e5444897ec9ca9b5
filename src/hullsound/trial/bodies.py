"""Checks what stands inside PL/pgSQL: the server takes a body without looking at its statements, so each is planned.

Variables become NULL of their type, and temporary tables are really made; everything is rolled back by the caller.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Any, Final

from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script
from hullsound.sql.tree import (
    Assign,
    CaseStatement,
    Clause,
    CreateRoutine,
    CreateTable,
    CursorDeclaration,
    Delete,
    If,
    Insert,
    Jump,
    Loop,
    Merge,
    Name,
    Node,
    OpenCursor,
    Parameter,
    PlainStatement,
    Query,
    QueryStatement,
    Raise,
    Return,
    Select,
    Star,
    TypeName,
    Update,
    Variable,
)

if TYPE_CHECKING:
    import psycopg

_CHANGES: Final = (Insert, Update, Delete, Merge)
_GIVEN: Final = {"FOUND": "TRUE"} | dict.fromkeys(
    ("SQLERRM", "SQLSTATE", "TG_OP", "TG_TABLE_NAME", "TG_NAME", "TG_EVENT", "TG_TAG"), "'x'::text"
)
_TABLE_OF_TRIGGER: Final = re.compile(
    r"\bCREATE TRIGGER\s[\s\S]*?\sON\s+((?:\"[^\"]+\"|[\w$]+)(?:\.(?:\"[^\"]+\"|[\w$]+))?)"
)
_TRANSITION: Final = re.compile(r"\b(?:NEW|OLD) TABLE AS (\"[^\"]+\"|[\w$]+)")
WORTH_TELLING: Final = ("42", "0A", "2F")
"""Classes of errors that are the text's own fault: syntax, names, types, features."""

_SURE: Final = ("42601", "42P01", "42703", "0A")
"""Those that hold whatever types values have: syntax, missing tables and columns, features."""


@dataclass(frozen=True)
class BodyFault:
    """What the server says to a statement inside a body, and where in the draft's text that stands."""

    message: str
    offset: int


@dataclass(frozen=True)
class _Piece:
    """A statement or expression to plan, or a temporary table to make."""

    text: str
    offset: int
    is_made: bool = False
    is_vague: bool = False
    """Whether the type of a value in it is not known before it runs."""


def check_bodies(connection: "psycopg.Connection[Any]", text: str) -> BodyFault | None:
    """Plan every statement in the routines of a draft that the server has accepted; return the first fault.

    The caller holds the transaction in which that happens.
    """
    from psycopg import Error

    table = _TABLE_OF_TRIGGER.search(text)
    # What a trigger's body calls NEW and OLD, and the tables of changed rows, are like the trigger's own table.
    owner = table[1] if table is not None else ""
    for read in _routines(text):
        try:
            with connection.transaction(force_rollback=True):
                for name in dict.fromkeys(_TRANSITION.findall(text)):
                    connection.execute(f"CREATE TEMP TABLE {name} AS SELECT * FROM {owner} WITH NO DATA".encode())
                for piece in _pieces(read, owner):
                    fault = _plan(connection, piece)
                    if fault is not None:
                        return fault
        except Error:
            continue  # the tables of a trigger could not be made: the trigger itself tells why
    return None


def _routines(text: str) -> Iterator[ReadStatement]:
    for read in read_script(text, load_dialect("postgresql")).statements():
        routine = read.tree.routine if isinstance(read.tree, CreateRoutine) else None
        if routine is not None and routine.block is not None and "LANGUAGE PLPGSQL" in routine.options:
            yield read


def _plan(connection: "psycopg.Connection[Any]", piece: _Piece) -> BodyFault | None:
    from psycopg import Error

    if piece.is_made:
        try:
            with connection.transaction():
                connection.execute(piece.text.encode())
        except Error as error:
            if error.sqlstate != "42P07":  # it is there already
                return BodyFault(str(error.diag.message_primary or error).strip(), piece.offset)
        return None
    try:
        with connection.transaction(force_rollback=True):
            connection.execute(f"EXPLAIN {piece.text}".encode(), prepare=False)
    except Error as error:
        message = str(error.diag.message_primary or error).strip()
        # A value whose type is known at run time only says nothing about operators and functions.
        telling = _SURE if piece.is_vague else WORTH_TELLING
        if (error.sqlstate or "").startswith(telling):
            return BodyFault(message, piece.offset)
    return None


def _pieces(read: ReadStatement, owner: str) -> Iterator[_Piece]:
    """Return what to plan in the order of the text, temporary tables among it."""
    reader = _Body(read, owner)
    # A cursor is declared before the temporary tables that it reads once it is opened.
    for node in sorted(reader.wanted(), key=lambda n: (not isinstance(n, CreateTable), n.first)):
        text = reader.text(node)
        offset, vague = read.tokens.starts[node.first], reader.is_vague
        if isinstance(node, CreateTable):
            yield _Piece(re.sub(r"(?i)\bIF NOT EXISTS\b", "", text), offset, is_made=True)
        elif isinstance(node, QueryStatement | Query | Insert | Update | Delete | Merge):
            yield _Piece(text, offset, is_vague=vague)
        elif isinstance(node, Select):
            yield _Piece(re.sub(r"(?i)^PERFORM\b", "SELECT", text), offset, is_vague=vague)
        else:
            yield _Piece(f"SELECT {text}", offset, is_vague=vague)


class _Body:
    def __init__(self, read: ReadStatement, owner: str) -> None:
        self.read = read
        self.owner = owner
        self.uses_columns = "#variable_conflict use_column" in read.text
        self.types = dict(self._declared())
        """Names of variables -> NULL of their type."""
        self.targets = self._target_names()
        self.cursors = {cursor.name for cursor in read.all(CursorDeclaration)}
        self.is_vague = False

    def _declared(self) -> Iterator[tuple[str, str]]:
        known: dict[str, str] = {}
        declared: list[Parameter | Variable] = [*self.read.all(Parameter), *self.read.all(Variable)]
        for node in declared:
            known[node.name] = self._null(node.type, known)
            yield node.name, known[node.name]
        for cursor in self.read.all(CursorDeclaration):
            yield cursor.name, "NULL"
        for loop in self.read.all(Loop):
            if loop.variable and loop.variable not in {v.name for v in self.read.all(Variable)}:
                yield loop.variable, "NULL::integer" if loop.form == "range" else "NULL"

    def _null(self, kind: TypeName, known: dict[str, str]) -> str:
        text = self.read.tokens.source(kind.first, kind.last)
        table, _, column = text.removesuffix("%TYPE").rpartition(".")
        if kind.borrowed == "TYPE":
            return f"(NULL::{table}).{column}" if table else known.get(column.upper(), "NULL")
        if kind.borrowed == "ROWTYPE":
            return f"NULL::{text.removesuffix('%ROWTYPE')}"
        return "NULL" if kind.name in ("RECORD", "REFCURSOR") else f"NULL::{text}"

    def _target_names(self) -> set[int]:
        """Return the first tokens of names that are targets of a change and so never variables."""
        nodes: list[Node] = [column for insert in self.read.all(Insert) for column in insert.columns]
        nodes += [target for update in self.read.all(Update) for target, _ in update.assignments]
        words = self.read.tokens.words
        for clause in self.read.all(Clause):
            if clause.name == "on-conflict":  # DO UPDATE SET column = ...
                inside = (n for n in self.read.all(Name) if clause.first < n.first and n.last < clause.last)
                nodes += [n for n in inside if words[n.first - 1] in ("SET", ",") and words[n.last] == "="]
        return {node.first for node in nodes}

    def wanted(self) -> list[Node]:
        """Return the outermost queries, changes and expressions."""
        read = self.read
        found: list[Node] = []
        for kind in (*_CHANGES, QueryStatement, CreateTable):
            found += read.all(kind)
        found += [p.value for p in read.all(PlainStatement) if p.words == "perform" and p.value is not None]
        found += [a.value for a in read.all(Assign)]
        found += [v.default for v in read.all(Variable) if v.default is not None]
        found += [c for i in read.all(If) for c, _ in i.branches]
        found += [c for i in read.all(CaseStatement) for c, _ in i.branches if i.subject is None]
        found += [c.query for c in read.all(CursorDeclaration) if c.query is not None]
        for loop in read.all(Loop):
            # A loop over a cursor names it as a call: only what is handed to it is an expression.
            found += [a for b in loop.bounds for a in ([b] if loop.form != "cursor" else getattr(b, "arguments", []))]
        found += [o.query for o in read.all(OpenCursor) if o.query is not None and isinstance(o.query, Query)]
        found += [r.value for r in read.all(Return) if r.value is not None]
        found += [j.condition for j in read.all(Jump) if j.condition is not None]
        found += list(self._raised())
        found.sort(key=lambda node: (node.first, -node.last))
        outermost: list[Node] = []
        for node in found:
            if not outermost or node.first >= outermost[-1].last:
                outermost.append(node)
        return outermost

    def _raised(self) -> Iterator[Node]:
        """Return the values that RAISE writes into its message."""
        raising = self.read.all(Raise)
        for node in self.read.nodes:
            around = [r for r in raising if r.first < node.first and node.last <= r.last]
            if around and self.read.tokens.words[node.first - 1] in (",", "=") and not isinstance(node, TypeName):
                yield node

    def text(self, node: Node) -> str:
        """Return the text of a node with NULL for variables and without INTO."""
        tokens = self.read.tokens
        self.is_vague = False
        edits: list[tuple[int, int, str]] = []
        for select in self.read.all(Select):
            if select.into_span is not None and node.first <= select.first and select.last <= node.last:
                edits.append((*select.into_span, ""))
        for change in (c for kind in _CHANGES for c in self.read.all(kind)):
            into = getattr(change, "into", None)
            if into and node.first <= change.first and change.last <= node.last:
                edits.append((into[0].first - 1, into[-1].last, ""))
        for name in self.read.all(Name):
            if node.first <= name.first and name.last <= node.last and name.first not in self.targets:
                new = self._value(name)
                self.is_vague |= new in ("NULL", "(NULL)")
                if new:
                    edits.append((name.first, name.last, new))
        for star in self.read.all(Star):
            if node.first <= star.first < node.last and star.parts[:1] in (("OLD",), ("NEW",)) and self.owner:
                edits.append((star.first, star.last, f"(NULL::{self.owner}).*"))
        text, at = "", tokens.starts[node.first]
        for first, last, new in sorted(edits):
            if tokens.starts[first] < at:
                continue
            text += tokens.text[at : tokens.starts[first]] + new
            at = tokens.ends[last - 1]
        return text + tokens.text[at : tokens.ends[node.last - 1]]

    def _value(self, name: Name) -> str:
        head = name.parts[0]
        if self.read.tokens.words[name.first - 2 : name.first] == ["CURRENT", "OF"]:
            return ""
        if head in ("NEW", "OLD") and self.owner:
            rest = self.read.tokens.source(name.first + 1, name.last)
            return f"(NULL::{self.owner}){rest}"
        if head in _GIVEN and len(name.parts) == 1:
            return _GIVEN[head]
        if head not in self.types or (self.uses_columns and len(name.parts) == 1 and not _is_ours(head)):
            return ""
        if len(name.parts) == 1:
            return f"({self.types[head]})"
        if head in self.cursors:
            return ""  # a table of the same name is meant: a cursor has no fields
        if self.types[head] == "NULL":
            return "NULL"
        rest = self.read.tokens.source(name.first + 1, name.last)
        return f"({self.types[head]}){rest}" if self.types[head].startswith("NULL::") else ""


@cache
def _is_ours(name: str) -> bool:
    """Whether a name is one that drafts give to variables alone."""
    return name.startswith(("V_", "P_", "HS_"))
