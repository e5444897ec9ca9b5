"""Limits that are expressions, each in a variable: LIMIT of MySQL and MariaDB takes numbers and variables only.

Source: MySQL 8.4 Reference Manual, "SELECT Statement": integer-valued routine parameters or local variables.
"""

from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.statements.limits import LIMITS, Span, rows_of
from hullsound.sql.tree import Clause, Delete, Node, QueryStatement, Update

from .speech import Declared, Lines, Speech, Unit

_TARGETS: Final = frozenset(("mysql", "mariadb"))


class LimitVariables:
    """The limits of one routine that are no plain numbers."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit

    def prepare(self) -> dict[Node, Lines]:
        """Write a variable in the place of each such limit; return what gives the variables of each query their values."""
        found: dict[Node, Lines] = {}
        if self.rewriter.target.engine not in _TARGETS:
            return found
        subject = self.rewriter.subject
        for query in (*subject.all(QueryStatement), *subject.all(Update), *subject.all(Delete)):
            for clause in subject.read.inside(Clause, query.first, query.last):
                for span in rows_of(clause, self.rewriter) if clause.name in LIMITS else ():
                    if span.last - span.first > 1 or not self.rewriter.words[span.first].isdigit():
                        found.setdefault(query, []).extend(self._assigned(span))
        return found

    def _assigned(self, span: Span) -> Lines:
        declared = Declared(self.speech.variable(f"hs_limit{len(self.unit.variables) + 1}"), self.speech.integer)
        self.unit.variables.append(declared)
        lines = self.speech.assign(declared.name, self.rewriter.text_elsewhere(*span).strip())
        self.rewriter.put_over(span.first, span.last, declared.name)
        return lines
