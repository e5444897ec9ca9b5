"""What UPDATE and DELETE give back by RETURNING INTO: natively on Oracle, elsewhere by a query of the one row that they change.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "RETURNING INTO Clause"; PostgreSQL 18, "Returning Data from Modified
Rows".
"""

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Bind, Delete, Literal, Name, Node, Operation, Paren, SelectItem, TableRef, Update

from .run_twice import check_repeatable
from .speech import Lines, Speech


class ReturnedValues:
    """Writes one routine's changes that give values back."""

    def __init__(self, rewriter: Rewriter, speech: Speech, variables: dict[str, str]) -> None:
        self.rewriter, self.speech, self.variables = rewriter, speech, variables

    def write(self, node: Update | Delete, targets: list[str]) -> Lines:
        """Write a change and what fills its targets. Raises CannotDraft for changes of several rows, and values that change."""
        names = [each.value if isinstance(each, SelectItem) else each for each in node.returning]
        asked = [each for each in names if isinstance(each, Name)]
        if len(asked) != len(names) or len(names) != len(targets) or not isinstance(node.table, TableRef):
            raise CannotDraft("values that a change gives back, other than columns into as many variables")
        at = next(i for i in range(node.last - 1, node.first, -1) if self.rewriter.words[i] == "RETURNING")
        table = self.rewriter.table(node.table.parts)
        if table is None or node.where is None:
            raise CannotDraft("values that a change of a whole table gives back")
        # PostgreSQL empties the variables where no row is met, Oracle leaves them.
        emptied = [line for each in targets for line in self.speech.assign(each, "NULL")] if self._empties() else []
        read = [node.where, *(value for _, value in node.assignments)] if isinstance(node, Update) else [node.where]
        filled = {each.parts[-1] for each in node.into if isinstance(each, Name)}
        named = self.rewriter.subject.all(Name)
        if any(filled & {*each.parts} for each in named if any(part.first <= each.first < part.last for part in read)):
            raise CannotDraft("a change that reads the variables that it fills")
        tests = self._tests(node.where)
        compared = [column for column in (self._compared(each, table) for each in tests) if column]
        key = next((key for key in self.rewriter.catalog.keys_of(table) if set(key) <= set(compared)), None)
        if key is None:
            raise CannotDraft("values that a change of more than one row may give back")
        values = [".".join(map(self.rewriter.names.write, each.parts)) for each in asked]
        change = f"{self.rewriter.text(node.first, at).rstrip()}"
        if self.rewriter.target.engine == "oracle":
            return [*emptied, f"{change} RETURNING {', '.join(values)} INTO {', '.join(targets)};"]
        check_repeatable(node.where, self.rewriter)
        assigned = {target.parts[-1] for target, _ in node.assignments} if isinstance(node, Update) else set()  # type: ignore[attr-defined]
        rows = f"FROM {self.rewriter.elsewhere(node.table)} WHERE {self.rewriter.elsewhere(node.where)}"
        query = self.speech.fill_if_met(targets, values, rows)
        if isinstance(node, Update) and len(tests) == len(key) and not assigned & set(key):
            return [*emptied, f"{change};", *query]
        if assigned & {each.parts[-1] for each in asked} or self._has_triggers(table):
            raise CannotDraft("values that a change gives back after it has changed them")
        return [*emptied, *query, f"{change};"]

    def _empties(self) -> bool:
        return self.rewriter.catalog.engine == "postgresql"

    def _has_triggers(self, table: Object) -> bool:
        return any(each.type.value == "trigger" for each in self.rewriter.catalog.belonging(table.id))

    def _tests(self, where: Node) -> list[Node]:
        """Return the tests that AND joins."""
        while isinstance(where, Paren):
            where = where.inner
        if isinstance(where, Operation) and set(where.operators) == {"AND"}:
            return [test for each in where.operands for test in self._tests(each)]
        return [where]

    def _compared(self, test: Node, table: Object) -> str:
        """Return the column that a test compares with a value from outside of the row; '' for another test."""
        if not isinstance(test, Operation) or test.operators != ["="]:
            return ""
        own = {column.name for column in table.columns}
        for column, value in (test.operands, test.operands[::-1]):
            is_column = isinstance(column, Name) and column.parts[-1] in own and column.parts[0] not in self.variables
            if is_column and self._is_given(value):
                return column.parts[-1]  # type: ignore[attr-defined, no-any-return]
        return ""

    def _is_given(self, value: Node) -> bool:
        """Whether a value comes from outside of the row: a constant or a variable."""
        if isinstance(value, Literal | Bind):
            return True
        return isinstance(value, Name) and value.parts[0] in self.variables
