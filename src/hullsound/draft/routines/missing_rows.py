"""What code does where a statement finds no row: the handler that is in force there, and what else may answer.

Sources: MySQL 8.4 Reference Manual, "DECLARE ... HANDLER Statement" and "FETCH Statement" (an error without a handler); Db2 11.5
SQL Reference, "compound SQL (compiled)", and Teradata SQL Stored Procedures, "Condition Handling" (a change of no row meets NOT
FOUND too).
"""

from collections.abc import Callable
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.named_conditions import named_conditions
from hullsound.sql.tree import (
    Block,
    ConditionHandler,
    CursorDeclaration,
    Delete,
    Fetch,
    Insert,
    Jump,
    Loop,
    Merge,
    Node,
    Return,
    Select,
    Update,
)

from .completion import Completion
from .errors import catches_no_row
from .speech import Caught, Lines, Speech

HANDLED: Final = frozenset(("mysql", "mariadb", "db2", "teradata"))
"""Sources where a handler tells that there is no row."""
_FAILING: Final = ("mysql", "mariadb")
"""Sources where a FETCH without a row is an error unless a handler takes it."""
_TELLING: Final = ("db2", "teradata")
"""Sources where a change of no row is told to a handler for NOT FOUND."""


class MissingRows:
    """The handlers for NOT FOUND of one routine, and the statements that they answer."""

    def __init__(
        self, rewriter: Rewriter, speech: Speech, completion: Completion, body: Callable[[list[Node]], Lines]
    ) -> None:
        self.rewriter, self.speech, self.completion, self.body = rewriter, speech, completion, body
        self.source = rewriter.catalog.engine
        named = named_conditions(rewriter)
        self._handlers = [
            (block, each)
            for block in rewriter.subject.all(Block)
            for each in block.declarations
            if isinstance(each, ConditionHandler) and catches_no_row(each, named)
        ]

    def goes_on(self, node: Node) -> bool:
        """Whether a declaration is a handler behind which the statement follows that has found no row."""
        return any(each is node and each.action == "continue" for _, each in self._handlers)

    def handler(self, node: Node) -> ConditionHandler | None:
        """Return the handler in force at a statement that lets code go on; None for none, and for one that ends its block."""
        around = [pair for pair in self._handlers if pair[0].first <= node.first < pair[0].last]
        if not around:
            return None
        _, handler = min(around, key=lambda pair: pair[0].last - pair[0].first)
        return handler if handler.action == "continue" else None

    def handled(self, handler: ConditionHandler) -> Lines:
        """Write what a handler does behind which code goes on. Raises CannotDraft where that may find no row itself."""
        inside = self.rewriter.subject.read.inside
        kinds = (Fetch, Select) if self.source in _FAILING else (Fetch, Select, Update, Delete, Merge)
        if any(inside(kind, handler.body.first, handler.body.last) for kind in kinds):
            raise CannotDraft("a handler whose own statements may find no row")
        body = handler.body
        return self.body(body.body if isinstance(body, Block) else [body])

    def fetched(self, node: Fetch, missing: Lines | None, caught: list[Caught]) -> Lines | None:
        """Return what is done where a FETCH finds no row, `missing` where a function ends there; None where it raises an error.

        `caught` is what the blocks around catch.
        """
        if self.source not in HANDLED:
            return []
        handler = self.handler(node)
        if handler is not None:
            return [*self.completion.missed(), *self.handled(handler)]
        if missing is not None:
            return missing
        if Caught.NO_ROW in caught:
            return None
        if self.source not in _FAILING:
            return self.completion.missed()
        if Caught.ANY in caught:
            raise CannotDraft("a FETCH without a handler of its own")
        return None

    def changed(self, node: Node, caught: list[Caught]) -> Lines:
        """Return what stands behind a change that may touch no row; [] where nothing answers."""
        if isinstance(node, Insert) and node.query is None:
            return self.completion.met()
        is_change = isinstance(node, Update | Delete | Merge | Insert)
        if self.source not in _TELLING or not is_change:
            return []
        handler = self.handler(node)
        if handler is None and Caught.NO_ROW not in caught and not self.completion.asked:
            return []
        missed = self.completion.missed()
        if handler is not None:
            missed += self.handled(handler)
        elif Caught.NO_ROW in caught:
            missed += self.speech.fail_as(Caught.NO_ROW)
        if self.speech.rows_note and isinstance(node, Update | Merge):
            self.rewriter.rendered.append((self.speech.rows_note, node.first))
        return self.speech.branch([(f"{self.speech.rows_changed} = 0", missed)], self.completion.met())


def check_cursors(block: Block, rewriter: Rewriter) -> None:
    """Refuse a block that may leave a cursor of its own open, which other languages do not close at its end."""
    read, words = rewriter.subject.read, rewriter.words
    names = [each.name for each in block.declarations if isinstance(each, CursorDeclaration)]
    handlers = [each for each in block.declarations if isinstance(each, ConditionHandler)]
    ends = [(block.begin_at, block.last), *((each.first, each.last) for each in handlers if each.action == "exit")]
    closed = [{words[at + 1] for at in range(*end) if words[at] == "CLOSE"} for end in ends]
    loops = {at for loop in read.inside(Loop, block.first, block.last) for at in range(loop.first, loop.last)}
    leaving = [
        *read.inside(Return, block.first, block.last),
        *(each for each in read.inside(Jump, block.first, block.last) if each.first not in loops),
    ]
    if names and (leaving or not all(each.issuperset(names) for each in closed)):
        raise CannotDraft("a block that may leave its cursor open")
