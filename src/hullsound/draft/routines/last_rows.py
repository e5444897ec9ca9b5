"""A query of T-SQL that gives variables a value for each of its rows, of which the last one stays, as a loop over the rows.

Source: Transact-SQL reference, "SELECT @local_variable": the variable gets the last value that is returned, and keeps its own where
no row is.
"""

from collections.abc import Callable
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import Call, Name, Node, Query, Select, Subquery

from .cursors import Cursors
from .speech import Declared, Lines, Speech, Unit

_GROUPING: Final = frozenset(("SUM", "COUNT", "COUNT_BIG", "MIN", "MAX", "AVG", "STRING_AGG"))


class LastRows:
    """Writes such queries of one routine."""

    def __init__(
        self, rewriter: Rewriter, speech: Speech, unit: Unit, variables: dict[str, str], cursors: Cursors
    ) -> None:
        self.rewriter, self.speech, self.unit, self.variables, self.cursors = rewriter, speech, unit, variables, cursors

    def write(
        self, query: Query, block: Select, pairs: list[tuple[str, Node]], value: Callable[[Node], str], number: int
    ) -> Lines:
        """Write a query as a loop that gives each of `pairs`, of a variable and a value, what the row says.

        Raises CannotDraft where the query reads a variable that it fills other than to go on from it.
        """
        targets = [target for target, _ in pairs]
        filled = {theirs for theirs, ours in self.variables.items() if ours in targets}
        rest = self.rewriter.text(block.from_at, query.last).strip() + self.rewriter.behind(query)
        names = self.rewriter.subject.read.inside(Name, block.from_at, query.last)
        if any(name.parts[0] in filled for name in names) or len(query.blocks) > 1 or block.group:
            raise CannotDraft("a query that fills a variable it reads itself")
        label = f"hs_loop{number}"
        if not any(self._names(each, filled) for _, each in pairs):
            listed = ", ".join(value(each) for _, each in pairs)
            return self.cursors.over(f"SELECT {self._distinct(block)}{listed} {rest}", targets, [], label, number)
        if self._distinct(block):
            raise CannotDraft("a query of distinct values that fills a variable it reads itself")
        columns = self._columns([each for _, each in pairs], number)
        body = [line for target, each in pairs for line in self.speech.assign(target, value(each))]
        self.unit.variables += columns.values()
        fetched = [each.name for each in columns.values()]
        return self.cursors.over(f"SELECT {', '.join(columns)} {rest}", fetched, body, label, number)

    def _distinct(self, block: Select) -> str:
        return "DISTINCT " if self.rewriter.words[block.first + 1] == "DISTINCT" else ""

    def _names(self, value: Node, wanted: set[str]) -> list[Name]:
        found = self.rewriter.subject.read.inside(Name, value.first, value.last)
        return [each for each in found if each.parts[0] in wanted]

    def _columns(self, values: list[Node], number: int) -> dict[str, Declared]:
        """Put a variable in the place of each column that the values read; return the variables by the columns as written."""
        read = self.rewriter.subject.read
        columns: dict[str, Declared] = {}
        for value in values:
            calls = read.inside(Call, value.first, value.last)
            if read.inside(Subquery, value.first, value.last) or any(
                call.over is not None or call.parts[-1] in _GROUPING for call in calls
            ):
                raise CannotDraft("a query inside of one that fills a variable row by row")
            for name in read.inside(Name, value.first, value.last):
                if name.parts[0] in self.variables or name.parts[0].startswith("@"):
                    continue
                kind = self.rewriter.types.source_type(name)
                choice = choose_type(self.rewriter.catalog.engine, kind, self.rewriter.target) if kind else None
                if choice is None or not choice.text:
                    raise CannotDraft("a column whose type is not known, in a query that fills a variable row by row")
                column = ".".join(map(self.rewriter.names.write, name.parts))
                variable = self.speech.variable(f"hs_rows{number}_{len(columns) + 1}")
                declared = columns.setdefault(column, Declared(variable, choice.text))
                self.rewriter.put(name, declared.name)
        if not columns:
            raise CannotDraft("a query that fills a variable row by row without a column")
        return columns
