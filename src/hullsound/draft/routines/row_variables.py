"""Variables that hold a row: a variable of its own for each field, where the target has no records or none of that kind.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "%ROWTYPE Attribute" and "Record Variable Declaration"; PostgreSQL 18,
"Row Types".
"""

from collections.abc import Iterator
from dataclasses import dataclass

from hullsound.analyze.records import declaration_of
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import (
    CursorDeclaration,
    Fetch,
    Insert,
    Loop,
    Merge,
    Name,
    Node,
    Parameter,
    Query,
    Select,
    Star,
    TableRef,
    TypeDeclaration,
    Variable,
)

from .cursor_results import opened_once
from .cursors import Cursors
from .speech import Declared, Speech
from .types import chosen_text, type_text


@dataclass(frozen=True)
class RowVariable:
    """A variable of the source and what stands for its fields, in their order."""

    name: str
    fields: tuple[str, ...]
    written: tuple[Declared, ...]

    def field(self, name: str) -> str:
        """Return the variable for one field. Raises CannotDraft where the row has no such field."""
        if name not in self.fields:
            raise CannotDraft(f"the field {name.lower()}, which the row {self.name.lower()} does not have")
        return self.written[self.fields.index(name)].name


def is_loop_row(node: Variable | Parameter, rewriter: Rewriter) -> bool:
    """Whether a variable of PL/pgSQL only names the row that a loop is at, which other languages do not declare."""
    subject = rewriter.subject
    if rewriter.catalog.engine != "postgresql" or not (node.type.name == "RECORD" or node.type.borrowed == "ROWTYPE"):
        return False
    loops = [each for each in subject.all(Loop) if each.form in ("query", "cursor") and each.variable == node.name]
    names = [each for each in subject.all(Name) if each.parts[0] == node.name]
    return bool(loops) and all(any(o.loop_at < each.first < o.last for o in loops) for each in names)


def holds_row(node: Variable | Parameter, rewriter: Rewriter) -> bool:
    """Whether a variable is declared as the row of a table or cursor, or as a record that the routine declares or fills once."""
    if is_loop_row(node, rewriter):
        return True
    if node.type.borrowed == "ROWTYPE" or filling_query(node, rewriter) is not None:
        return True
    declared = declaration_of(node.type, rewriter.columns) if not node.type.borrowed else None
    return declared is not None and declared.node.form == "record"


def filling_query(node: Variable | Parameter, rewriter: Rewriter) -> Query | None:
    """Return the one query that fills a RECORD of PL/pgSQL, by SELECT INTO or as the rows of a cursor; None for others."""
    subject = rewriter.subject
    if rewriter.catalog.engine != "postgresql" or node.type.name != "RECORD" or not isinstance(node, Variable):
        return None
    if any(loop.variable == node.name for loop in subject.all(Loop)):
        return None
    cursors = {each.name: each.query for each in (*subject.all(CursorDeclaration), *opened_once(rewriter).values())}
    found: list[Query | None] = [
        subject.read.innermost(Query, block) for block in subject.all(Select) if _is_into(block.into, node)
    ]
    found += [cursors.get(fetch.cursor.parts[-1]) if isinstance(fetch.cursor, Name) else None
              for fetch in subject.all(Fetch) if _is_into(fetch.into, node)]  # fmt: skip
    return found[0] if found and all(each is found[0] for each in found) else None


def _is_into(targets: list[Node], variable: Variable) -> bool:
    return len(targets) == 1 and isinstance(targets[0], Name) and targets[0].parts == (variable.name,)


def is_record_type(node: Node) -> bool:
    return isinstance(node, TypeDeclaration) and node.form == "record"


class RowVariables:
    """The variables of one routine that hold rows, by their names in the source."""

    def __init__(self, rewriter: Rewriter, speech: Speech, cursors: Cursors) -> None:
        self.rewriter, self.speech, self.cursors = rewriter, speech, cursors
        self.declared: dict[str, RowVariable] = {}
        for node in rewriter.subject.all(Variable):
            if holds_row(node, rewriter) and not is_loop_row(node, rewriter):
                if node.default is not None or node.name in self.declared:
                    raise CannotDraft("a row that is declared with a value, or twice")
                self.declared[node.name] = self._row(node)

    def _row(self, node: Variable) -> RowVariable:
        fields = list(self._fields(node))
        written = []
        for name, kind, default in fields:
            variable = self.speech.variable(f"{node.name.lower().lstrip('@')}_{name.lower()}")
            written.append(Declared(variable, kind, "", default))
        return RowVariable(node.name, tuple(name for name, _, _ in fields), tuple(written))

    def _fields(self, node: Variable) -> Iterator[tuple[str, str, str]]:
        """Yield name, type on the target and first value of each field."""
        if node.type.borrowed == "ROWTYPE":
            cursor = self.cursors.declared.get(node.type.reference[-1]) if len(node.type.reference) == 1 else None
            if cursor is not None and cursor.query is not None:
                yield from ((title, kind, "") for title, kind in self.cursors.titled(cursor.query))
                return
            table = self.rewriter.table(node.type.reference)
            if table is None:
                raise CannotDraft("a row of a table that is not in the source")
            for column in table.columns:
                yield column.name, self._kind(column.type), ""
            return
        query = filling_query(node, self.rewriter)
        if query is not None:
            yield from ((title, kind, "") for title, kind in self.cursors.titled(query))
            return
        declared = declaration_of(node.type, self.rewriter.columns)
        assert declared is not None
        if any(default != "NULL" for default in declared.defaults):
            raise CannotDraft("a record whose fields have values from the beginning")
        for name, kind in declared.node.fields:
            yield name, type_text(kind, self.rewriter), ""

    def _kind(self, source: DataType) -> str:
        choice = choose_type(self.rewriter.catalog.engine, source, self.rewriter.target)
        if choice is None or not choice.text:
            raise CannotDraft(f"no type for {source}")
        return chosen_text(choice.text, source, self.rewriter)

    def add_names(self) -> None:
        """Write each field by its variable; before anything is written. Raises CannotDraft for a row that is used whole."""
        whole = {each for select in self.rewriter.subject.all(Select) for each in select.into}
        for name in self.rewriter.subject.all(Name):
            row = self.declared.get(name.parts[0])
            if row is not None and len(name.parts) == 2:
                self.rewriter.put(name, row.field(name.parts[1]))
            elif row is not None and len(name.parts) > 2:
                raise CannotDraft("a field of a field")
        for change in (*self.rewriter.subject.all(Insert), *self.rewriter.subject.all(Merge)):
            inside = self.rewriter.subject.read.inside(Name, change.first, change.last)
            if any(name.parts[0] in self.declared and len(name.parts) == 1 and name not in whole for name in inside):
                raise CannotDraft("a whole row that a change takes")

    def declare(self) -> list[Declared]:
        return [each for row in self.declared.values() for each in row.written]

    def of(self, node: Node) -> RowVariable | None:
        """Return the row that a name stands for as a whole."""
        return self.declared.get(node.parts[0]) if isinstance(node, Name) and len(node.parts) == 1 else None

    def targets(self, node: Node) -> list[str] | None:
        """Return the variables that a row goes into; None for something else than a whole row, or one of its fields."""
        row = self.of(node)
        if row is not None:
            return [each.name for each in row.written]
        if isinstance(node, Name) and len(node.parts) == 2 and node.parts[0] in self.declared:
            return [self.declared[node.parts[0]].field(node.parts[1])]
        return None

    def columns_of(self, select: Select) -> list[str] | None:
        """Return the columns that a lone `*` stands for, written out; None for a query that names its columns."""
        if len(select.items) != 1 or not isinstance(select.items[0].value, Star):
            return None
        source = select.sources[0] if len(select.sources) == 1 else None
        table = self.rewriter.table(source.parts) if isinstance(source, TableRef) else None
        if table is None:
            raise CannotDraft("a whole row of several tables, or of one that is not in the source")
        return [self.rewriter.names.write(column.name) for column in table.columns]
