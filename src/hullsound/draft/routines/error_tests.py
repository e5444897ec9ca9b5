"""@@ERROR, by which code of T-SQL looks at each statement's error: a handler around the statement keeps the number.

Source: Transact-SQL reference, "@@ERROR": every statement sets it, and code goes on behind most errors.
"""

from typing import Final

from hullsound.analyze.branches import tested_statements
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import CreateRoutine, Execute, Name, Node, PlainStatement, Raise, Return, TryCatch

from .speech import Caught, Declared, Lines, Speech, Unit

_ASKED: Final = "@@ERROR"
_OTHER: Final = 50000
"""The number that stands for an error without a like in SQL Server: those of a user begin here."""


class ErrorTests:
    """The statements of one routine whose errors are asked for."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit
        self.tested: set[Node] = set()
        self.kept = speech.variable("hs_last_error")

    def prepare(self) -> None:
        """Write the variable where the number is asked for. Raises CannotDraft in a handler, where it is another's."""
        uses = [each for each in self.rewriter.subject.all(Name) if each.parts == (_ASKED,)]
        if not uses:
            return
        handlers = [each.handler for each in self.rewriter.subject.all(TryCatch) if each.handler]
        if any(body[0].first <= use.first < body[-1].last for body in handlers for use in uses):
            raise CannotDraft("@@ERROR inside of CATCH")
        tree = self.rewriter.subject.tree
        block = tree.routine.block if isinstance(tree, CreateRoutine) and tree.routine.form == "procedure" else None
        if not self.speech.caught_number or block is None:
            raise CannotDraft("@@ERROR outside of a procedure")
        self.tested = tested_statements(block.body, self.rewriter.words, _ASKED)
        self.unit.variables.append(Declared(self.kept, self.speech.integer, default="0"))
        for use in uses:
            self.rewriter.put(use, self.kept)

    def around(self, node: Node, lines: Lines) -> Lines:
        """Write a statement with what keeps the number of its error, where the statement behind asks for it."""
        if node not in self.tested or not lines or isinstance(node, Return | PlainStatement):
            return lines
        if isinstance(node, Execute | Raise):
            raise CannotDraft("@@ERROR behind a call or an error of the code's own")
        known = " ".join(f"WHEN {theirs} THEN {ours}" for theirs, ours in self.speech.error_numbers.items())
        number = f"CASE {self.speech.caught_number} {known} ELSE {_OTHER} END"
        body = [*lines, *self.speech.assign(self.kept, "0")]
        return self.speech.protect(body, [([Caught.ANY], self.speech.assign(self.kept, number))])
