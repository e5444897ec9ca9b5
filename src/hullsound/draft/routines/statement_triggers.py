"""Triggers that fire once for a statement: as row triggers of MySQL, MariaDB and Oracle, or with the tables of changed rows.

Sources: Transact-SQL reference, "CREATE TRIGGER"; Db2 for LUW 11.5, PostgreSQL 18 and Oracle Database 19c, CREATE TRIGGER.
"""

from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detectors.conditions import conjuncts
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Block,
    CreateTrigger,
    Delete,
    Execute,
    If,
    Insert,
    Merge,
    Name,
    Node,
    Operation,
    PlainStatement,
    Query,
    QueryStatement,
    Return,
    Select,
    Subquery,
    TableRef,
    Unread,
    Update,
    Variable,
)

from .changed_rows import ChangedRows, Read, asks_rows, row_tables
from .cursors import Cursors
from .declarations import declare, handle
from .firing import firing_table
from .rows import add_rows, settled
from .speech import Lines, Speech, Unit, several
from .triggers import called_body, innermost, trigger_name
from .tsql_triggers import ROW_TABLES, TsqlTriggerSpeech
from .variables import declared_names
from .walk import Walk

_EVENTS: Final = ("insert", "update", "delete")
_NOTE: Final = "convert.trigger-row-by-row"
_ACTING: Final = (Insert, Update, Delete, Merge, Execute)


def write_statement_trigger(item: Object, tree: CreateTrigger, head: Rewriter, speech: Speech) -> str:
    """Return a trigger for each kind of change. Raises CannotDraft for what needs all changed rows at once.

    It fires for each row, or once for a statement where the target can do that and the code asks nothing of the rows.
    """
    table = head.table(tree.table)
    if table is None:
        raise CannotDraft("a trigger of a table that was not surveyed")
    read, block = _body(tree, head)
    tables = row_tables(tree, head.catalog.engine)
    is_called = read is not head.subject.read
    first = _another(read, head) if is_called else head
    by_row = not speech.fires_for_statements or asks_rows(tables, first)
    is_kept = isinstance(speech, TsqlTriggerSpeech)
    timings = ("after",) if by_row or is_kept else ("after", "before")
    if tree.timing not in timings or not set(tree.events) <= set(_EVENTS) or tree.disabled:
        raise CannotDraft("a trigger of a kind that is not drafted")
    if tree.condition is not None or tree.update_columns:
        raise CannotDraft("a trigger of a whole statement with a condition or columns in its head")
    keys = [each.constraint.columns for each in head.catalog.belonging(table.id) if each.constraint is not None
            and each.constraint.form == "primary key"]  # fmt: skip
    written: list[str] = []
    for event in tree.events:
        rewriter = _another(read, head) if written else first
        if is_called and (rewriter.unconverted or rewriter.subject.all(Unread)):
            raise CannotDraft("a trigger whose function needs a person")
        rows = ChangedRows(table, tuple(keys[0] if keys else ()), tables, event, speech, rewriter)
        writer = _SetWriter if is_kept else _Writer
        text = writer(tree, block, event, item, rewriter, speech, rows, by_row).text()
        written += [text] if text else []
        head.rendered += [(construct, tree.first) for construct, _ in rewriter.rendered if rewriter is not head]
    if not written:
        raise CannotDraft("a trigger that does nothing for any kind of change")
    if by_row and not is_kept:
        head.rendered.append((_NOTE, tree.first))
    return several(written, head.target.engine)


def _body(tree: CreateTrigger, head: Rewriter) -> tuple[ReadStatement, Block]:
    """Return the statement that holds the trigger's code, and the code."""
    read, block = head.subject.read, tree.block
    if head.catalog.engine == "postgresql" and block is not None:
        read, block = called_body(block, head)
    elif block is not None and not isinstance(block, Block):
        block = Block(block.first, block.last, [], [block], [], block.first, -1, block.last)
    if not isinstance(block, Block):
        raise CannotDraft("a trigger of a kind that is not drafted")
    return read, block


def _another(read: ReadStatement, head: Rewriter) -> Rewriter:
    assert head.another is not None
    return head.another(read)


class _Writer:
    """Writes the row trigger for one kind of change."""

    def __init__(
        self, tree: CreateTrigger, block: Block, event: str, item: Object, rewriter: Rewriter, speech: Speech, rows: ChangedRows,
        by_row: bool,
    ) -> None:  # fmt: skip
        self.tree, self.block, self.event, self.item = tree, block, event, item
        self.rewriter, self.speech, self.rows, self.by_row = rewriter, speech, rows, by_row
        self.is_foreign = rewriter.catalog.engine not in ("sqlserver", "ase")

    def text(self) -> str:
        """Return the statement, or '' where the trigger does nothing for this kind of change."""
        rewriter, speech, table = self.rewriter, self.speech, self.rows.table
        variables = declared_names(rewriter.subject.all(Variable), speech, rewriter)
        unit = Unit("trigger", trigger_name(self.item, [self.event], self.tree, rewriter), [], "")
        cursors = Cursors(rewriter, speech, unit)
        walk = _RowWalk(rewriter, speech, unit, variables, cursors)
        walk.rows, walk.by_row, walk.of_row = self.rows, self.by_row, self.rows.variables()
        if self.is_foreign:
            add_rows(self.tree, [self.event], {}, speech, rewriter)
        self.rows.prepare(variables)
        walk.prepare()
        lines = self._written(unit, walk)
        if walk.sets_row and walk.changes_others:
            raise CannotDraft("a trigger that sets its own row and changes other tables")
        if all(line.lstrip().startswith("--") for line in lines):
            return ""
        timing = "before" if walk.sets_row else self.tree.timing
        name = rewriter.names.qualified(table.schema, table.name)
        unit.fires = speech.fires(timing, [self.event], [], name, self.by_row)
        return speech.unit(unit, lines)

    def _written(self, unit: Unit, walk: Walk) -> Lines:
        """Write the declarations into the unit, and return the statements."""
        declare(self.block, unit, walk)
        handle(self.block, unit, walk)
        lines = walk.body(_without_return(innermost(self.block).body))
        if self.rewriter.skipped:
            raise CannotDraft(self.rewriter.skipped[0].reason)
        return lines


class _SetWriter(_Writer):
    """Writes a trigger of SQL Server, which has the tables of changed rows under names of its own."""

    def text(self) -> str:
        rewriter, speech, table = self.rewriter, self.speech, self.rows.table
        assert isinstance(speech, TsqlTriggerSpeech)
        variables = declared_names(rewriter.subject.all(Variable), speech, rewriter)
        unit = Unit("trigger", trigger_name(self.item, [self.event], self.tree, rewriter), [], "")
        speech.begin(firing_table(table, rewriter), [self.event], as_set=True)
        walk = Walk(rewriter, speech, unit, variables, Cursors(rewriter, speech, unit))
        add_rows(self.tree, [self.event], {}, speech, rewriter)
        self._name_rows()
        walk.prepare()
        lines = self._written(unit, walk)
        unit.fires = speech.fires(
            self.tree.timing, [self.event], [], rewriter.names.qualified(table.schema, table.name)
        )
        return speech.unit(unit, lines)

    def _name_rows(self) -> None:
        for reference in self.rewriter.subject.all(TableRef):
            if self.rows.holds_rows(reference):
                alias = self.rewriter.names.write(reference.alias or reference.parts[-1])
                self.rewriter.put(reference, f"{ROW_TABLES[self.rows.row_tables[reference.parts]]} AS {alias}")
            elif self.rewriter.table(reference.parts) is self.rows.table:
                raise CannotDraft("a trigger that reads or changes the table it belongs to")


def _without_return(statements: list[Node]) -> list[Node]:
    return statements[:-1] if statements and isinstance(statements[-1], Return) else statements


class _RowWalk(Walk):
    """The statements of a trigger, told of one changed row."""

    rows: ChangedRows
    by_row = True
    of_row: frozenset[str] = frozenset()
    """Variables that hold values of the changed rows."""
    sets_row = False
    """Whether columns of the changed row itself are set, which only a BEFORE trigger can do."""
    changes_others = False

    def _statement(self, node: Node, start: int, label: str) -> Lines:
        if self.by_row and isinstance(node, _ACTING) and not self._is_of_row(node):
            raise CannotDraft("what is done once for all rows of a statement")
        if isinstance(node, If) and self._decides_for_all(node):
            raise CannotDraft("a test of all changed rows that decides about each")
        match node:
            case Insert() if node.query is not None and self._reads(node.query):
                return self._insert(node, node.query)
            case Insert():
                self.changes_others = True
            case Update() | Delete():
                return self._change(node)
            case QueryStatement() if self._reads(node.query):
                return self._fill_from_row(node.query)
            case PlainStatement() if node.words == "rollback":
                return []  # the error that is raised beside it undoes the statement
        return super()._statement(node, start, label)

    def _is_of_row(self, node: Node) -> bool:
        """Whether a statement asks for columns of the changed rows, or for variables that are filled from them."""
        inside = self.rewriter.subject.read.inside
        names = inside(Name, node.first, node.last)
        is_told = any(name.parts[0] in self.of_row or name.parts[0] in self.rows.aliases for name in names)
        return is_told or any(map(self.rows.holds_rows, inside(TableRef, node.first, node.last)))

    def _decides_for_all(self, node: If) -> bool:
        """Whether rows are changed for all changed rows where some of them are such that they pass a test."""
        inside = self.rewriter.subject.read.inside
        if not any(True for kind in _ACTING for _ in inside(kind, node.first, node.last)):
            return False
        tests = [each for test, _ in node.branches for each in inside(Subquery, test.first, test.last)]
        tested = [each.query.blocks[0] for each in tests if each.form == "EXISTS" and self.rows.reads_rows(each.query)]
        reads = [self.rows.of_select(block) for block in tested if isinstance(block, Select)]
        return any(read.has_rows and (read.conditions or read.tables) for read in reads)

    def _asks(self, node: Node) -> bool:
        inside = self.rewriter.subject.read.inside(Subquery, node.first, node.last)
        return self.target == "oracle" and not all(map(self.rows.is_of_row, inside))

    def _reads(self, query: Query) -> bool:
        block = query.blocks[0]
        return isinstance(block, Select) and self.rows.of_select(block).takes_rows

    def _insert(self, node: Insert, query: Query) -> Lines:
        """Write INSERT ... SELECT ... FROM inserted as an INSERT of the row's values."""
        if len(query.blocks) > 1 or query.common:
            raise CannotDraft("an INSERT of changed rows from several queries")
        self.changes_others = True
        block = query.blocks[0]
        assert isinstance(block, Select)
        read = self.rows.of_select(block)
        if not read.has_rows:
            return []
        head = self.rewriter.text_elsewhere(node.first, query.first).strip()
        written = (self.rewriter.elsewhere if self._asks(item.value) else self.value for item in block.items)
        values = ", ".join(write(item.value) for write, item in zip(written, block.items, strict=True))
        conditions = self.rows.conditions(read)
        if read.tables:
            where = f" WHERE {conditions}" if conditions else ""
            return [f"{head} SELECT {values} FROM {self.rows.tables(read)}{where};"]
        insert = [f"{head} VALUES ({values});"]
        return settled([(conditions, insert)], [], self.speech) if conditions else insert

    def _change(self, node: Update | Delete) -> Lines:
        """Write an UPDATE or DELETE that finds its rows by the changed ones."""
        read = self.rows.of_change(node)
        target = self._target_table(node, read)
        if not read.has_rows:
            return []
        if self.rewriter.table(target.parts) is self.rows.table:
            if self.source not in ("sqlserver", "ase"):
                raise CannotDraft("a trigger that changes the table it belongs to, and so fires again")
            return self._set_row(node, read, target)
        others = [each for each in read.tables if each is not target]
        if others or any(getattr(node, name, None) for name in ("returning", "into")):
            raise CannotDraft("a change that reads several tables")
        self.changes_others = True
        alias = target.alias or target.parts[-1]
        item = self.rewriter.table(target.parts)
        if item is None:
            raise CannotDraft("a change of a table that was not surveyed")
        self._bare(alias, item.name)
        name = self.rewriter.names.qualified(item.schema, item.name)
        where = self.rows.conditions(read)
        tail = f" WHERE {where}" if where else ""
        if isinstance(node, Delete):
            return [f"DELETE FROM {name}{tail};"]
        pairs = ", ".join(
            f"{self._column(column)} = {self.rewriter.elsewhere(value)}" for column, value in node.assignments
        )
        return [f"UPDATE {name} SET {pairs}{tail};"]

    def _target_table(self, node: Update | Delete, read: Read) -> TableRef:
        """Return the table that is changed: the one that its name or alias means among those that are read."""
        named = node.table
        if not isinstance(named, TableRef):
            raise CannotDraft("a change of something that is no table")
        found = [each for each in read.tables if named.parts[-1] in (each.alias, each.parts[-1])]
        return found[0] if found else named

    def _column(self, node: Node) -> str:
        if not isinstance(node, Name):
            raise CannotDraft("an assignment to something that is no column")
        return self.rewriter.names.write(node.parts[-1])

    def _bare(self, alias: str, table: str) -> None:
        """Leave out the alias before columns of the one table that is changed; a query inside finds them by its name."""
        subject = self.rewriter.subject
        for name in subject.all(Name):
            if len(name.parts) == 2 and name.parts[0] == alias:
                column, query = self.rewriter.names.write(name.parts[1]), subject.read.innermost(Subquery, name)
                read = subject.read.inside(TableRef, query.first, query.last) if query is not None else ()
                if any(each.parts[-1] == table for each in read):
                    raise CannotDraft("a change whose value is a query over the table that is changed")
                is_inside = query is not None
                self.rewriter.put(name, f"{self.rewriter.names.write(table)}.{column}" if is_inside else column)
        self.rewriter.edits()

    def _set_row(self, node: Update | Delete, read: Read, target: TableRef) -> Lines:
        """Set columns of the changed row itself, which the code finds by its primary key."""
        if not isinstance(node, Update) or self.rows.event == "delete" or len(read.tables) > 1:
            raise CannotDraft("a trigger that changes the table it belongs to")
        self.sets_row = True
        alias = target.alias or target.parts[-1]
        found = [each for condition in read.conditions for each in conjuncts(condition)]
        keyed = {self.rows.keyed(each, alias): each for each in found}
        keyed.pop("", None)
        if not self.rows.key or set(keyed) != set(self.rows.key):
            raise CannotDraft("a trigger that changes other rows of the table it belongs to")
        if any(column.parts[-1] in self.rows.key for column, _ in node.assignments if isinstance(column, Name)):
            raise CannotDraft("a trigger that changes the key of its row")
        for name in self.rewriter.subject.all(Name):
            is_own = name.parts[0] == alias if len(name.parts) == 2 else self._is_own_column(name, node)
            if is_own:
                self.rewriter.put(name, self.rows.column("NEW", name.parts[-1]))
        self.rewriter.edits()
        rest = [self.condition(each) for each in found if each not in keyed.values()]
        lines: Lines = []
        for column, value in node.assignments:
            written = self.rows.column("NEW", column.parts[-1]) if isinstance(column, Name) else ""
            lines += self.speech.assign(written, self.value(value))
        condition = " AND ".join(f"({each})" for each in rest)
        return settled([(condition, lines)], [], self.speech) if condition else lines

    def _is_own_column(self, name: Name, node: Update) -> bool:
        is_inside = node.first <= name.first and name.last <= node.last and len(name.parts) == 1
        return is_inside and any(column.name == name.parts[0] for column in self.rows.table.columns)

    def _fill_from_row(self, query: Query) -> Lines:
        """Write SELECT @variable = column FROM inserted as assignments."""
        block = query.blocks[0]
        assert isinstance(block, Select)
        if not self._fills(block) or len(query.blocks) > 1:
            raise CannotDraft("a trigger that gives out rows")
        read = self.rows.of_select(block)
        if not read.has_rows:
            return []
        if read.tables:
            raise CannotDraft("variables from changed rows that are joined with a table")
        lines: Lines = []
        for item in block.items:
            if not isinstance(item.value, Operation) or len(item.value.operands) != 2:
                raise CannotDraft("a query that assigns and gives out at once")
            lines += self.speech.assign(self._target(item.value.operands[0]), self.value(item.value.operands[1]))
        condition = self.rows.conditions(read)
        return settled([(condition, lines)], [], self.speech) if condition else lines
