"""Changes of rows inside a routine, and what they give back: numbers of new rows, and values that a row was given."""

from hullsound.draft.constructs.sequences import sequence_value
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.tree import Delete, Insert, Merge, Node, SelectItem, Update

from .identities import Given, number_given, numbered_by_trigger, taken_from_values
from .key_triggers import KeyFilling, sequence_name
from .output_rows import keep_output
from .speech import Lines
from .walked_queries import QueryWalk


class ChangeWalk(QueryWalk):
    """Writes what a routine changes."""

    def change(self, node: Insert | Update | Delete | Merge) -> Lines:
        """Write a change of rows. Raises CannotDraft for values that it gives back and that the target does not give."""
        self.unit.changes = True
        if isinstance(node, Insert) and node.returning:
            return self._returning(node)
        if isinstance(node, Update | Delete) and node.returning:
            if not node.into or (self.target != "oracle" and self.row_counts.is_asked()):
                raise CannotDraft("values that a change gives back")
            return self.returned.write(node, [self._target(each) for each in node.into])
        if isinstance(node, Update | Delete) and self.source in ("sqlserver", "ase"):
            lines = keep_output(node, self.rewriter)
            if lines is not None and self.row_counts.is_asked():
                raise CannotDraft("values that a change gives back, and the count of its rows")
            if lines is not None:
                return lines
        text = self.rewriter.node(node).rstrip().rstrip(";")
        if isinstance(node, Merge):  # of two statements where the target has no MERGE
            return [f"{each};" for each in text.split(";\n")]
        return [*self.limits.get(node, []), f"{text};"]

    def inserted(self, node: Insert) -> Lines:
        self.unit.changes = True
        if self.target == "oracle":
            values = [self.rewriter.elsewhere(each.value) for each in node.returning if isinstance(each, SelectItem)]
            into = ", ".join(self.targets(node.into))
            return [f"{self.rewriter.node(node).rstrip()} RETURNING {', '.join(values)} INTO {into};"]
        given = number_given(node, [], self.rewriter)
        return self.numbered(node, given) if given is not None else self._returning(node)

    def _returning(self, node: Insert) -> Lines:
        taken, numbered = taken_from_values(node, self.rewriter), numbered_by_trigger(node, self.rewriter)
        if numbered is not None:
            return self._numbered_before(node, numbered)
        if not taken and self.target == "oracle" and node.into:
            return [f"{self.rewriter.node(node).rstrip().rstrip(';')};"]
        if not taken:
            raise CannotDraft("values that a change gives back")
        return self._given_before(node, taken)

    def numbered(self, node: Insert, given: Given) -> Lines:
        """Write an INSERT, and keep the number of its new row."""
        self.unit.changes = True
        column = self.rewriter.names.write(given.column)
        return self.speech.insert_numbered(self.rewriter.node(node).rstrip(), column, self._target(given.target))

    def _given_before(self, node: Insert, taken: list[tuple[Node, Node]]) -> Lines:
        """Write an INSERT that gives back what its row is given: the variables take the values first, and the row takes them."""
        lines: Lines = []
        for target, value in taken:
            variable = self._target(target)
            lines += self.speech.assign(variable, self.rewriter.elsewhere(value))
            self.rewriter.put(value, variable)
        return [*lines, f"{self.rewriter.node(node).rstrip().rstrip(';')};"]

    def _numbered_before(self, node: Insert, numbered: KeyFilling) -> Lines:
        """Write an INSERT whose row a trigger would number: the variable takes the number first, and the row brings it."""
        variable, name = self._target(node.into[0]), self.rewriter.names.write(numbered.column)
        number = sequence_value(sequence_name(numbered.sequence, self.rewriter), self.target, is_last=False)
        values = self.rewriter.words.index("VALUES", node.first) + 2
        self.rewriter.insert(node.columns[0].first, f"{name}, ")
        self.rewriter.insert(values, f"{variable}, ")
        return [*self.speech.assign(variable, number), f"{self.rewriter.node(node).rstrip().rstrip(';')};"]
