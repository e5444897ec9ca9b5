"""What triggers ask of the tables of changed rows, told of one row: columns, joins, and whether they hold any.

Sources: Transact-SQL reference, "Use the inserted and deleted tables"; Db2 for LUW 11.5 and PostgreSQL 18, CREATE TRIGGER,
REFERENCING.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.change_parts import roots_of
from hullsound.sight.detectors.conditions import conjuncts
from hullsound.sql.tree import (
    Assign,
    Call,
    Clause,
    Comparison,
    CreateTrigger,
    CursorDeclaration,
    Delete,
    DerivedTable,
    Fetch,
    Join,
    Name,
    Node,
    Operation,
    Query,
    Select,
    Star,
    Subquery,
    TableRef,
    Update,
)

from .row_documents import row_as_xml
from .rows import FAILS, HOLDS
from .speech import Speech

RowTables = Mapping[tuple[str, ...], str]
"""NEW and OLD by the names of the tables that hold changed rows."""
_TSQL_TABLES: Final[RowTables] = {("INSERTED",): "NEW", ("DELETED",): "OLD"}
_OF_EVENT: Final = {"insert": ("NEW",), "update": ("NEW", "OLD"), "delete": ("OLD",)}
_LIMITS: Final = frozenset(("top", "distinct", "limit", "offset", "fetch-first"))
_ADDITIVE: Final = frozenset(("SUM", "COUNT", "COUNT_BIG"))
_AS_DOCUMENT: Final = frozenset(("for-xml", "for-json"))
_AGGREGATES: Final = frozenset(("COUNT", "COUNT_BIG", "SUM", "MIN", "MAX", "AVG", "STRING_AGG"))


def row_tables(tree: CreateTrigger, engine: str) -> RowTables:
    """Return the names under which a trigger reads its changed rows: those of T-SQL, or of its transition tables."""
    if engine in ("sqlserver", "ase"):
        return _TSQL_TABLES
    return {(alias,): which.removesuffix("_TABLE") for alias, which in tree.referencing.items()}


def asks_rows(tables: RowTables, rewriter: Rewriter) -> bool:
    """Whether the code of a trigger asks for changed rows, or for their number."""
    is_counted = any(name.parts == ("@@ROWCOUNT",) for name in rewriter.subject.all(Name))
    return is_counted or any(each.parts in tables for each in rewriter.subject.all(TableRef))


@dataclass
class Read:
    """What is left of a FROM when the changed rows are one row."""

    has_rows: bool = True
    """False where the kind of change has no such row, so that nothing is read."""
    tables: list[TableRef] = field(default_factory=list)
    """Tables of the catalogue that are read besides."""
    conditions: list[Node] = field(default_factory=list)
    takes_rows: bool = False
    """Whether inserted or deleted is among what is read."""


class ChangedRows:
    """The changed rows of one trigger for one kind of change."""

    def __init__(
        self, table: Object, key: tuple[str, ...], tables: RowTables, event: str, speech: Speech, rewriter: Rewriter
    ) -> None:
        self.table, self.key, self.event, self.speech, self.rewriter = table, key, event, speech, rewriter
        self.row_tables = tables
        self.subject = rewriter.subject
        self.present = _OF_EVENT[event]
        self.aliases: dict[str, str] = {}
        """NEW and OLD by the names under which the code reads them."""
        others = set()
        for reference in self.subject.all(TableRef):
            name = reference.alias or reference.parts[-1]
            if reference.parts in tables:
                if self.aliases.setdefault(name, tables[reference.parts]) != tables[reference.parts]:
                    raise CannotDraft("one name for both inserted and deleted")
            else:
                others.add(name)
        self.derived = {each.alias: each for each in self.subject.all(DerivedTable) if self._holds_rows(each)}
        """Queries in FROM over inserted or deleted alone, grouped or not: one row of the changed one."""
        if (others | set(self.derived)) & set(self.aliases):
            raise CannotDraft("one name for changed rows and for a table")

    def holds_rows(self, source: Node | None) -> bool:
        """Whether a source is one of the tables of changed rows."""
        return isinstance(source, TableRef) and source.parts in self.row_tables

    # --- columns ---

    def prepare(self, variables: dict[str, str]) -> None:
        """Write columns of the changed rows as those of a row, and queries that read nothing else as values."""
        for name in self.subject.all(Name):
            row = self.aliases.get(name.parts[0]) if len(name.parts) == 2 else self._bare(name, variables)
            if row:
                self._put(name, self.column(row, name.parts[-1]))
            elif len(name.parts) == 2 and name.parts[0] in self.derived:
                table = self.derived[name.parts[0]]
                self.rewriter.add(Point(name.first, name.last, partial(self._derived, table, name), rank=4))
        for comparison in self.subject.all(Comparison):
            self._settle_null(comparison, variables)
            inner = comparison.operands[-1] if comparison.operator == "IN" else None
            if isinstance(inner, Subquery) and self._finds_rows(inner.query):
                self.rewriter.add(Point(comparison.first, comparison.last, partial(self._member, comparison), rank=6))
        for subquery in self.subject.all(Subquery):
            if self.reads_rows(subquery.query):
                render = self._existence if subquery.form == "EXISTS" else self._value
                self.rewriter.add(Point(subquery.first, subquery.last, partial(render, subquery), rank=5))
        for cursor in self.subject.all(CursorDeclaration):
            if cursor.query is not None and self.reads_rows(cursor.query):
                self.rewriter.add(
                    Point(cursor.query.first, cursor.query.last, partial(self._rows_of_cursor, cursor.query), rank=5)
                )
        for call in self.subject.all(Call):
            if call.parts == ("UPDATE",) and len(call.arguments) == 1 and isinstance(call.arguments[0], Name):
                column = self.rewriter.names.write(call.arguments[0].parts[-1])
                self._put(
                    call, self.speech.updates(column) if self.event == "update" else _truth(self.event == "insert")
                )
        for test in self.subject.all(Operation):
            if isinstance(test.operands[0], Name) and test.operands[0].parts == ("@@ROWCOUNT",):
                if test.operators != ["="] or self.subject.source(test.operands[1]) != "0":
                    raise CannotDraft("the number of rows that a statement has changed")
                self.rewriter.take(test)
                self._put(test, FAILS)

    def _settle_null(self, node: Comparison, variables: dict[str, str]) -> None:
        """Settle whether a column of the row is NULL: it is where there is no such row, and a key never is."""
        asked = node.operands[0] if node.operator == "IS NULL" else None
        if not isinstance(asked, Name):
            return
        row = self.aliases.get(asked.parts[0]) if len(asked.parts) == 2 else self._bare(asked, variables)
        if row and (row not in self.present or asked.parts[-1] in self.key):
            self.rewriter.add(
                Point(node.first, node.last, _constant(_truth((row in self.present) == node.negated)), rank=6)
            )

    def _holds_rows(self, table: DerivedTable) -> bool:
        block = table.query.blocks[0] if table.alias and len(table.query.blocks) == 1 else None
        source = block.sources[0] if isinstance(block, Select) and len(block.sources) == 1 else None
        return self.holds_rows(source) and not table.query.order

    def _derived(self, table: DerivedTable, name: Name, rewriter: Rewriter) -> str:
        """Write a column of a query over the changed rows, of which each group is the one row."""
        block = table.query.blocks[0]
        assert isinstance(block, Select)
        value = next((item.value for item in block.items if item.title == name.parts[1]), None)
        if value is None:
            raise CannotDraft("a column of changed rows that is not named")
        calls = [each for each in self.subject.all(Call) if value.first <= each.first and each.last <= value.last]
        if not _aggregates(value, calls):
            return rewriter.elsewhere(value)
        if not isinstance(value, Call) or value.over is not None or len(value.arguments) != 1:
            raise CannotDraft("a query that counts, groups or cuts the changed rows")
        if value.parts[-1] not in _ADDITIVE or not self._is_added(name):
            raise CannotDraft("a query that counts, groups or cuts the changed rows")
        if isinstance(value.arguments[0], Star):
            return "1"
        text = rewriter.elsewhere(value.arguments[0])
        return f"(CASE WHEN {text} IS NULL THEN 0 ELSE 1 END)" if value.parts[-1].startswith("COUNT") else text

    def _is_added(self, name: Name) -> bool:
        """Whether a value is added to a column, which comes to the same row by row."""
        for update in self.subject.all(Update):
            for column, value in update.assignments:
                if value is name:
                    return self.rewriter.words[column.last] in ("+=", "-=")
                is_sum = isinstance(value, Operation) and set(value.operators) <= {"+", "-"}
                if is_sum and name in value.operands and isinstance(column, Name):  # type: ignore[attr-defined]
                    own = [each for each in value.operands if isinstance(each, Name)]  # type: ignore[attr-defined]
                    return any(each.parts[-1] == column.parts[-1] for each in own)
        return False

    def column(self, row: str, name: str) -> str:
        """Write a column of the row; NULL where the kind of change has no such row."""
        return self.speech.row_column(row, self.rewriter.names.write(name)) if row in self.present else "NULL"

    def _put(self, node: Node, text: str) -> None:
        self.rewriter.add(Point(node.first, node.last, _constant(text), rank=4))

    def _bare(self, name: Name, variables: dict[str, str]) -> str:
        """Return the row that a column without a table belongs to; '' where it belongs to none."""
        if len(name.parts) != 1 or name.parts[0] in variables or name.parts[0].startswith("@"):
            return ""
        inside = [each for each in self.subject.all(Select) if each.first <= name.first and name.last <= each.last]
        block = min(inside, key=lambda each: each.last - each.first, default=None)
        if block is None or not all(self.holds_rows(each) for each in block.sources):
            return ""
        is_column = any(column.name == name.parts[0] for column in self.table.columns)
        return self.row_tables[block.sources[0].parts] if is_column and len(block.sources) == 1 else ""  # type: ignore[attr-defined]

    def variables(self) -> frozenset[str]:
        """Return the variables that hold values of the changed rows, or what was made of such values."""
        given: list[tuple[str, Node]] = []
        given += [
            (each.target.parts[-1], each.value) for each in self.subject.all(Assign) if isinstance(each.target, Name)
        ]
        found = {name for fetch in self.subject.all(Fetch) for name in map(_variable, fetch.into)}
        for select in self.subject.all(Select):
            reads = any(self.holds_rows(each) for root in select.sources for each, _, _ in _flattened(root))
            for item in select.items:
                if isinstance(item.value, Operation) and item.value.operators == ["="]:
                    name = _variable(item.value.operands[0])
                    found |= {name} if reads else set()
                    given.append((name, item.value))
        while more := {name for name, value in given if name not in found and self._holds(value, found)}:
            found |= more
        return frozenset(found - {""})

    def _holds(self, value: Node, known: set[str]) -> bool:
        """Whether a value is made of known variables, or of a query that asks changed rows for more than whether there are any."""
        inside = self.subject.read.inside
        queries = inside(Subquery, value.first, value.last)
        is_asked = any(each.form != "EXISTS" and self.reads_rows(each.query) for each in queries)
        return is_asked or any(name.parts[0] in known for name in inside(Name, value.first, value.last))

    # --- what is read ---

    def of_select(self, block: Select, *, is_test: bool = False) -> Read:
        """Return what a query reads, of which a test asks only whether there are rows, and so no matter how often."""
        read = self._read(block.sources)
        read.conditions += [block.where] if block.where is not None else []
        limits = _LIMITS - {"distinct"} if is_test else _LIMITS
        spoils = any(
            block.first <= each.first < block.last and each.name in limits for each in self.subject.all(Clause)
        )
        if (
            block.group
            or block.having
            or spoils
            or any(_aggregates(item.value, self.subject.all(Call)) for item in block.items)
        ):
            raise CannotDraft("a query that counts, groups or cuts the changed rows")
        return read

    def of_change(self, change: Update | Delete) -> Read:
        """Return what an UPDATE or DELETE with FROM reads."""
        start = change.assignments[-1][1].last if isinstance(change, Update) else change.table.last
        end = change.where.first if change.where is not None else change.last
        read = self._read(roots_of(start, end, self.rewriter))
        read.conditions += [change.where] if change.where is not None else []
        return read

    def _read(self, sources: list[Node]) -> Read:
        read = Read()
        for source, kind, condition in (found for each in sources for found in _flattened(each)):
            if isinstance(source, DerivedTable) and source.alias in self.derived:
                block = source.query.blocks[0]
                assert isinstance(block, Select)
                if block.having is not None or "TOP" in self.rewriter.words[block.first : block.first + 3]:
                    raise CannotDraft("a query that counts, groups or cuts the changed rows")
                read.conditions += [block.where] if block.where is not None else []
                source = block.sources[0]
            if not isinstance(source, TableRef):
                raise CannotDraft("changed rows that are joined with a query")
            row = self.row_tables.get(source.parts)
            is_outer = kind.startswith(("LEFT", "FULL"))
            if row is None:
                if is_outer or kind.startswith("RIGHT"):
                    raise CannotDraft("changed rows that are joined with rows that may be missing")
                read.tables.append(source)
            else:
                read.takes_rows = True
                if row not in self.present and not is_outer:
                    read.has_rows = read.has_rows and self._is_optional(sources)
                if row not in self.present or is_outer:
                    condition = None
            if condition is not None:
                read.conditions += [each for each in conjuncts(condition) if not self._pairs(each)]
        return read

    def _is_optional(self, sources: list[Node]) -> bool:
        """Whether the first of the sources may be missing, as in inserted FULL JOIN deleted."""
        return any(kind.startswith(("FULL", "RIGHT")) for each in sources for _, kind, _ in _flattened(each))

    def _pairs(self, node: Node) -> bool:
        """Whether a condition pairs the row before with the row after by a column of the key."""
        if not isinstance(node, Operation) or node.operators != ["="]:
            return False
        sides = [each for each in node.operands if isinstance(each, Name) and len(each.parts) == 2]
        rows = {self.aliases.get(each.parts[0]) for each in sides}
        return rows == {"NEW", "OLD"} and {each.parts[1] for each in sides} <= set(self.key) and len(sides) == len(rows)

    def keyed(self, condition: Node, name: str) -> str:
        """Return the column of the key by which a condition finds the changed row in its own table; '' where it does not."""
        if isinstance(condition, Comparison) and condition.operator == "IN" and not condition.negated:
            own, other = condition.operands[0], self._lone_column(condition.operands[-1])
        elif isinstance(condition, Operation) and condition.operators == ["="]:
            own, other = condition.operands
            if isinstance(own, Name) and own.parts[0] in self.aliases:
                own, other = other, own
        else:
            return ""
        if not isinstance(own, Name) or not isinstance(other, Name) or own.parts[-1] != other.parts[-1]:
            return ""
        is_own = len(own.parts) == 1 or own.parts[-2] == name
        of_row = len(other.parts) == 1 or self.aliases.get(other.parts[0]) in self.present
        return own.parts[-1] if is_own and of_row and own.parts[-1] in self.key else ""

    def _lone_column(self, node: Node) -> Node | None:
        """Return the column of (SELECT column FROM inserted)."""
        if not isinstance(node, Subquery) or not self.reads_rows(node.query):
            return None
        block = node.query.blocks[0]
        assert isinstance(block, Select)
        is_plain = len(block.items) == 1 and block.where is None and not self.of_select(block).tables
        return block.items[0].value if is_plain else None

    def reads_rows(self, query: Query) -> bool:
        """Whether a query of one block reads changed rows."""
        return len(query.blocks) == 1 and self._is_of_rows(query.blocks[0])

    # --- queries as values ---

    def conditions(self, read: Read) -> str:
        """Write the conditions of what is read; '' where there is none."""
        pieces = [self.rewriter.node(each) for each in read.conditions]
        pieces = [f"({piece})" if len(pieces) > 1 else piece for piece in pieces]
        return " AND ".join(pieces)

    def tables(self, read: Read) -> str:
        return ", ".join(self.rewriter.node(each) for each in read.tables)

    def is_of_row(self, node: Subquery) -> bool:
        """Whether a query reads the changed row and no table, and gives no document, which is for SQL to make."""
        block = node.query.blocks[0]
        if not self.reads_rows(node.query) or not isinstance(block, Select) or self.of_select(block).tables:
            return False
        return not self.as_document(node)

    def _existence(self, node: Subquery, rewriter: Rewriter) -> str:
        block = node.query.blocks[0]
        assert isinstance(block, Select)
        read = self.of_select(block, is_test=True)
        if not read.has_rows:
            return FAILS
        conditions = self.conditions(read)
        if read.tables:
            return f"EXISTS (SELECT 1 FROM {self.tables(read)} WHERE {conditions or HOLDS})"
        return f"({conditions})" if conditions else HOLDS

    def _value(self, node: Subquery, rewriter: Rewriter) -> str:
        block = node.query.blocks[0]
        assert isinstance(block, Select)
        if self.as_document(node):
            return self._document(block, node)
        if isinstance(block.items[0].value, Star):
            raise CannotDraft("all columns of changed rows as a value")
        read, value = self.of_select(block), rewriter.node(block.items[0].value)
        if not read.has_rows:
            return "NULL"
        conditions = self.conditions(read)
        if read.tables:
            return f"(SELECT {value} FROM {self.tables(read)} WHERE {conditions or HOLDS})"
        return f"(CASE WHEN {conditions} THEN {value} END)" if conditions else value

    def as_document(self, node: Subquery) -> list[Clause]:
        """Return the clauses by which a query gives its rows as a document."""
        return [each for each in self.subject.read.inside(Clause, node.first, node.last) if each.name in _AS_DOCUMENT]

    def _document(self, block: Select, node: Subquery) -> str:
        """Write a query over the changed row alone that gives it as a document."""
        clause, read = self.as_document(node)[0], self.of_select(block)
        is_whole = len(block.items) == 1 and isinstance(block.items[0].value, Star)
        source = block.sources[0] if len(block.sources) == 1 else None
        if not is_whole or read.tables or not isinstance(source, TableRef):
            raise CannotDraft("a document of some columns of changed rows, or of rows that are joined with them")
        self.rewriter.take(clause)
        if not read.has_rows:
            return "NULL"
        row = self.row_tables[source.parts]
        if not all(self._finds_itself(each) for condition in read.conditions for each in conjuncts(condition)):
            raise CannotDraft("a document of changed rows that are found by something else than their key")
        form = self.subject.read.tokens.source(clause.first, clause.last)
        return row_as_xml(form, self.table, lambda name: self.column(row, name), self.rewriter)

    def _finds_itself(self, node: Node) -> bool:
        """Whether a condition finds a row by its own key."""
        if not isinstance(node, Operation) or node.operators != ["="]:
            return False
        sides = [each for each in node.operands if isinstance(each, Name) and len(each.parts) == 2]
        rows, columns = {self.aliases.get(each.parts[0]) for each in sides}, {each.parts[1] for each in sides}
        return len(sides) == 2 and len(rows) == len(columns) == 1 and columns <= set(self.key)

    def _rows_of_cursor(self, query: Query, rewriter: Rewriter) -> str:
        """Write the query of a cursor, which goes through the changed row or what is joined with it."""
        block = query.blocks[0]
        assert isinstance(block, Select)
        read = self.of_select(block)
        if query.common or any(isinstance(item.value, Star) for item in block.items):
            raise CannotDraft("a cursor over changed rows that does not name their columns")
        source = self.tables(read) if read.tables and read.has_rows else "dual"
        conditions = self.conditions(read) if read.has_rows else FAILS
        order = f" ORDER BY {rewriter.nodes(query.order)}" if query.order and read.tables else ""
        return f"SELECT {rewriter.nodes(block.items)} FROM {source} WHERE {conditions or HOLDS}{order}"

    def _finds_rows(self, query: Query) -> bool:
        """Whether each block of a query reads changed rows, as in inserted UNION deleted."""
        is_united = all(operator in ("UNION", "UNION ALL") for operator, _ in query.operators)
        return is_united and not query.common and all(map(self._is_of_rows, query.blocks))

    def _is_of_rows(self, block: Node) -> bool:
        sources = (s for each in block.sources for s, _, _ in _flattened(each)) if isinstance(block, Select) else ()
        return any(self.holds_rows(each) for each in sources)

    def _member(self, node: Comparison, rewriter: Rewriter) -> str:
        inner = node.operands[-1]
        assert isinstance(inner, Subquery)
        tests = []
        for block in inner.query.blocks:
            assert isinstance(block, Select)
            read = self.of_select(block, is_test=True)
            if read.tables:
                raise CannotDraft("a search among changed rows that are joined with a table")
            if read.has_rows:
                conditions = self.conditions(read)
                same = f"{rewriter.node(node.operands[0])} = {rewriter.node(block.items[0].value)}"
                tests.append(f"{same} AND {conditions}" if conditions else same)
        if not tests:
            return HOLDS if node.negated else FAILS
        test = " OR ".join(f"({each})" for each in tests) if len(tests) > 1 else tests[0]
        return f"NOT ({test})" if node.negated else f"({test})" if len(tests) > 1 else test


def _variable(node: Node) -> str:
    return node.parts[0] if isinstance(node, Name) and node.parts[0].startswith("@") else ""


def _constant(text: str) -> Callable[[Rewriter], str]:
    return lambda rewriter: text


def _truth(holds: bool) -> str:
    return HOLDS if holds else FAILS


def _flattened(node: Node) -> Iterator[tuple[Node, str, Node | None]]:
    """Yield what a FROM joins, each with the kind of its join and the condition; '' for the first."""
    if not isinstance(node, Join):
        yield node, "", None
        return
    yield from _flattened(node.left)
    for place, (source, kind, condition) in enumerate(_flattened(node.right)):
        yield source, kind if place else node.kind, condition if place else node.condition


def _aggregates(value: Node, calls: list[Call]) -> bool:
    inside = (each for each in calls if value.first <= each.first and each.last <= value.last)
    return any(each.parts[-1] in _AGGREGATES or each.over is not None for each in inside)
