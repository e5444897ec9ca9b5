"""WHERE CURRENT OF a cursor: the row that the cursor stands on, found by its key, where the target does not know the cursor's row.

Sources: PL/SQL Language Reference, "UPDATE Statement Extensions"; MySQL 8.4 Reference Manual, "Cursors" (read only); Transact-SQL
reference, "DECLARE CURSOR" (a static cursor is read only).
"""

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    Assign,
    Call,
    Clause,
    Delete,
    Fetch,
    Loop,
    Name,
    Node,
    Query,
    Select,
    SelectItem,
    Star,
    TableRef,
    Update,
)

from .cursors import Cursors
from .row_variables import RowVariable


class CurrentRows:
    """Finds the rows that one routine's cursors stand on."""

    def __init__(
        self, rewriter: Rewriter, cursors: Cursors, variables: dict[str, str], rows: dict[str, RowVariable]
    ) -> None:
        self.rewriter, self.cursors, self.variables, self.rows = rewriter, cursors, variables, rows

    def prepare(self) -> None:
        """Put a test of the key in the place of each WHERE CURRENT OF. Raises CannotDraft where the key was not read."""
        for clause in self.rewriter.subject.all(Clause):
            if clause.name == "where-current-of":
                test = self._test(clause)
                self.rewriter.put_over(clause.first, clause.last, test)
                self.rewriter.put_over(
                    clause.last - 1, clause.last, test
                )  # for who writes what follows WHERE by itself

    def _test(self, clause: Clause) -> str:
        changes: list[Update | Delete] = [*self.rewriter.subject.all(Update), *self.rewriter.subject.all(Delete)]
        change = next(each for each in changes if each.first < clause.first and clause.last <= each.last)
        name = self.rewriter.words[clause.last - 1]
        cursor = self.cursors.declared.get(name)
        if cursor is None or cursor.query is None:
            raise CannotDraft("a row of a cursor that is not declared in the routine")
        table = self._table(cursor.query, change)
        loop = self._loop(name, change)
        tests = []
        for column in self._key(table, changes):
            place = self._place(cursor.query, column, table)
            value = self._of_loop(loop, column) if loop is not None else self._fetched(name, place, cursor.query, table)
            tests.append(f"{self.rewriter.names.write(column)} = {value}")
        return " AND ".join(tests)

    def _table(self, query: Query, change: Update | Delete) -> Object:
        """Return the table that a cursor reads and a change changes."""
        block = query.blocks[0]
        is_plain = len(query.blocks) == 1 and isinstance(block, Select) and not block.group and not query.common
        sources = block.sources if isinstance(block, Select) and is_plain else []
        read = sources[0] if len(sources) == 1 else None
        if not isinstance(read, TableRef) or not isinstance(change.table, TableRef):
            raise CannotDraft("a row of a cursor over several tables, or over groups")
        table = self.rewriter.table(read.parts)
        if table is None or table is not self.rewriter.table(change.table.parts):
            raise CannotDraft("a row of a cursor over another table, or over one that is not known")
        return table

    def _key(self, table: Object, changes: list[Update | Delete]) -> list[str]:
        """Return the columns of a key that takes no NULL and that the routine does not change."""
        changed = {
            target.parts[-1]
            for each in changes
            if isinstance(each, Update)
            for target, _ in each.assignments
            if isinstance(target, Name)
        }
        filled = {column.name for column in table.columns if not column.nullable}
        key = next((key for key in self.rewriter.catalog.keys_of(table) if set(key) <= filled - changed), None)
        if key is None:
            raise CannotDraft("a row of a cursor whose table has no key, or whose key is changed")
        return key

    def _place(self, query: Query, column: str, table: Object) -> int:
        """Return the place of a column in the rows of a query."""
        block = query.blocks[0]
        assert isinstance(block, Select)
        if len(block.items) == 1 and isinstance(block.items[0].value, Star):
            return next(place for place, each in enumerate(table.columns) if each.name == column)
        for place, item in enumerate(block.items):
            if isinstance(item.value, Name) and item.value.parts[-1] == column and item.alias in ("", column):
                return place
        raise CannotDraft("a row of a cursor that does not read the key")

    def _loop(self, name: str, change: Node) -> Loop | None:
        """Return the loop over the rows of a cursor in which a change stands."""
        around = [each for each in self.rewriter.subject.all(Loop) if each.first < change.first < each.last]
        found = [
            each
            for each in around
            if each.form == "cursor" and isinstance(each.bounds[0], Name | Call) and each.bounds[0].parts[-1] == name
        ]
        return max(found, key=lambda each: each.first, default=None)

    def _of_loop(self, loop: Loop | None, column: str) -> str:
        assert loop is not None
        if self.cursors.speech.has_row_loops:
            return f"{self.rewriter.names.write(loop.variable)}.{self.rewriter.names.write(column)}"
        return self.cursors.field(loop, column)

    def _fetched(self, name: str, place: int, query: Query, table: Object) -> str:
        """Return the variable that every fetch gives the column at a place, and that nothing else changes."""
        block = query.blocks[0]
        assert isinstance(block, Select)
        width = len(table.columns) if isinstance(block.items[0].value, Star) else len(block.items)
        fetches = [each for each in self.rewriter.subject.all(Fetch) if _name_of(each.cursor) == name]
        row = self._fetched_row(fetches)
        if row is not None:
            return row.written[place].name
        if not fetches or any(len(each.into) != width for each in fetches):
            raise CannotDraft("a row of a cursor that is not fetched into a variable for each column")
        targets = {_name_of(each.into[place]) for each in fetches}
        variable = targets.pop()
        others = [each.target for each in self.rewriter.subject.all(Assign)]
        others += [target for select in self.rewriter.subject.all(Select) for target in select.into]
        others += [each for fetch in self.rewriter.subject.all(Fetch) if fetch not in fetches for each in fetch.into]
        is_selected = variable.startswith("@") and any(
            self.rewriter.words[item.first] == variable for item in self.rewriter.subject.all(SelectItem)
        )
        if is_selected or targets or variable not in self.variables or variable in {_name_of(each) for each in others}:
            raise CannotDraft("a row of a cursor whose key is kept in a variable that changes")
        return self.variables[variable]

    def _fetched_row(self, fetches: list[Fetch]) -> RowVariable | None:
        """Return the row that every fetch fills, and that nothing else changes; None where there is none."""
        names = {_name_of(each.into[0]) if len(each.into) == 1 else "" for each in fetches}
        row = self.rows.get(next(iter(names))) if len(names) == 1 else None
        if row is None:
            return None
        others: list[Node] = [each.target for each in self.rewriter.subject.all(Assign)]
        others += [target for select in self.rewriter.subject.all(Select) for target in select.into]
        others += [each for fetch in self.rewriter.subject.all(Fetch) if fetch not in fetches for each in fetch.into]
        return None if any(isinstance(each, Name) and each.parts[0] == row.name for each in others) else row


def _name_of(node: Node) -> str:
    return node.parts[-1] if isinstance(node, Name) else ""
