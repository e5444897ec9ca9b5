"""What code does where a statement finds no row: its handler for NOT FOUND stands behind the statement.

A handler that ends its block leaves the block from there, so that nothing is undone, which EXCEPTION would do. Sources: MySQL 8.4
Reference Manual, "DECLARE ... HANDLER Statement" and "FETCH Statement" (an error without a handler); Db2 11.5 SQL Reference,
"compound SQL (compiled)", and Teradata SQL Stored Procedures, "Condition Handling" (a change of no row meets NOT FOUND too);
PostgreSQL 18 manual, "Control Structures" (EXIT with the label of a block, and "Trapping Errors").
"""

from functools import partial
from typing import TYPE_CHECKING, Final

from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.draft.statements.queries import result_queries
from hullsound.sql.tree import (
    Block,
    CallStatement,
    ConditionHandler,
    Delete,
    Execute,
    Fetch,
    Insert,
    Jump,
    Merge,
    Node,
    QueryStatement,
    Raise,
    Return,
    Update,
)

from .conditions import NOT_FOUND, conditions_of

if TYPE_CHECKING:
    from .blocks import PsmBlocks

_FAILING: Final = ("mysql", "mariadb")
"""Engines where a FETCH without a row is an error unless a handler takes it."""
_TELLING: Final = ("db2", "teradata")
"""Engines where a change of no row is told to a handler for NOT FOUND."""
_RAISED: Final = f"RAISE {NOT_FOUND};"


class MissingRows:
    """The statements of one body that may find no row, each with the handler that answers."""

    def __init__(self, code: "PsmBlocks") -> None:
        self.code = code
        self._labels: dict[Node, str] = {}
        """Labels of our own for blocks that are left."""

    def behind(self, node: Node) -> str:
        """Return what stands behind a statement, its semicolon before it; '' where a missing row changes nothing."""
        handler = self._handler(node) if self._may_miss(node) else None
        if handler is None:
            return f"; IF NOT FOUND THEN {_RAISED} END IF" if self._fails(node) else ""
        return f";\n    IF NOT FOUND THEN {self._answer(handler)} END IF"

    def add_points(self, nodes: list[Node], guarded: set[Node]) -> None:
        """Add what stands behind statements; `guarded` are those with a block of their own, in which that is done."""
        for block in self._left(nodes):
            self._labels[block] = next(
                (name for name, node in self.code.labels.items() if node is block), f"hs_block{len(self._labels) + 1}"
            )
            if self._labels[block] not in self.code.labels:
                self.code.opened[block] = f"<<{self._labels[block]}>>\n"
        for node in nodes:
            if node not in guarded and (self._may_miss(node) or self._fails(node)):
                self.code.rewriter.add(Point(node.last, node.last + 1, partial(self._after, node), rank=1))

    def caught(self, handler: ConditionHandler, block: Block) -> list[str]:
        """Return the conditions that a handler at the end of its block is for: NOT FOUND only where a call may raise it."""
        conditions = conditions_of(handler, self.code.named)
        read = self.code.rewriter.subject.read
        if handler.action != "exit" or any(
            read.inside(kind, block.first, block.last) for kind in (Raise, CallStatement, Execute)
        ):
            return conditions
        return [each for each in conditions if each != NOT_FOUND]

    def leads_to(self, fetch: Fetch) -> int:
        """Return the token where code goes on if a FETCH finds no row and ends a block; -1 where it goes on behind it."""
        handler = self._handler(fetch)
        if handler is None:
            return self.code.rewriter.subject.read.last if self._fails(fetch) else -1
        return self._block(handler).last if handler.action == "exit" else -1

    def _fails(self, node: Node) -> bool:
        return isinstance(node, Fetch) and self.code.rewriter.catalog.engine in _FAILING

    def _block(self, handler: ConditionHandler) -> Block:
        return next(each for each in self.code.rewriter.subject.all(Block) if handler in each.declarations)

    def _after(self, node: Node, rewriter: Rewriter) -> str:
        behind = self.behind(node).removeprefix(";")
        ended = rewriter.text(node.last, node.last + 1)
        return f"{ended}{behind};" if behind else ended

    def _left(self, nodes: list[Node]) -> list[Block]:
        """Return the blocks inside of the outermost one that a missing row ends."""
        handlers = {self._handler(node) for node in nodes if self._may_miss(node)}
        exits = [each for each in handlers if each is not None and each.action == "exit"]
        found = {self._block(each): None for each in exits}
        return sorted((each for each in found if each is not self.code.outermost), key=lambda each: each.first)

    def _may_miss(self, node: Node) -> bool:
        if isinstance(node, Fetch) or (isinstance(node, QueryStatement) and not result_queries([node])):
            return True
        is_change = isinstance(node, Update | Delete | Merge) or (isinstance(node, Insert) and node.query is not None)
        return is_change and self.code.rewriter.catalog.engine in _TELLING

    def _handler(self, node: Node) -> ConditionHandler | None:
        handlers = self.code.handlers_for(node)
        return next((handler for conditions, handler in handlers if NOT_FOUND in conditions), None)

    def _answer(self, handler: ConditionHandler) -> str:
        if handler.action == "undo":
            return _RAISED
        body = self.code.handler_body(handler)
        if handler.action == "continue":
            return body
        last = handler.body.body[-1] if isinstance(handler.body, Block) and handler.body.body else handler.body
        return (
            body
            if isinstance(last, Return | Jump | Raise)
            else f"{body} {self._leave(handler)};".removeprefix("NULL; ")
        )

    def _leave(self, handler: ConditionHandler) -> str:
        block = self._block(handler)
        return f"EXIT {self._labels[block]}" if block in self._labels else self.code.leave_outermost
