"""How many rows a statement has changed, kept in a variable: where asking sets it anew, and where statements may not ask.

Sources: Transact-SQL reference, "@@ROWCOUNT" (an IF or SET sets it to 0 or 1); MySQL 8.4 Reference Manual, "Information Functions",
ROW_COUNT; Oracle Database 19c, "PL/SQL Language Reference", "SQL%ROWCOUNT Attribute", which holds until the next statement, and
which no statement of SQL takes (PLS-00229).
"""

import itertools

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, CursorAttribute, Delete, Insert, Merge, Name, Node, Update

from .speech import Declared, Lines, Speech, Unit

_CHANGES = (Insert, Update, Delete, Merge)


class RowCounts:
    """The counts that one routine asks for."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit
        self.counted = speech.rows_changed
        """What gives the count right behind a statement."""
        self.kept = ""
        """The variable that keeps it; '' where none is needed."""

    def prepare(self) -> None:
        """Write the variable where the count is asked for, if it is asked for twice of one statement or inside of one."""
        uses = sorted(self._uses(), key=lambda node: node.first)
        is_asked_again = any(self._is_one_statement(use, later) for use, later in itertools.pairwise(uses))
        if not (any(map(self._is_inside, uses)) or (is_asked_again and self.rewriter.target.engine != "oracle")):
            return
        self.kept = self.speech.variable("hs_rows_changed")
        self.unit.variables.append(Declared(self.kept, self.speech.integer))
        self.speech.rows_changed = self.kept
        for use in uses:
            if not isinstance(use, CursorAttribute) or use.attribute == "ROWCOUNT":
                self.rewriter.put(use, self.kept)

    def _uses(self) -> list[Node]:
        subject = self.rewriter.subject
        names: list[Node] = [each for each in subject.all(Name) if each.parts == ("@@ROWCOUNT",)]
        names += [each for each in subject.all(Call) if each.parts == ("ROW_COUNT",)]
        return names + [each for each in subject.all(CursorAttribute) if each.cursor == ("SQL",)]

    def _is_one_statement(self, use: Node, later: Node) -> bool:
        """Whether two uses ask for the count of the same statement."""
        changes = [each for kind in _CHANGES for each in self.rewriter.subject.all(kind)]
        return not any(use.last <= each.first and each.last <= later.first for each in changes)

    def _is_inside(self, use: Node) -> bool:
        """Whether a statement of SQL itself asks for a count."""
        subject = self.rewriter.subject
        return any(each.first < use.first < each.last for kind in _CHANGES for each in subject.all(kind))

    def after(self, node: Node) -> Lines:
        """Return what keeps the count of a statement that has been written."""
        return self.speech.assign(self.kept, self.counted) if self.kept and isinstance(node, _CHANGES) else []
