"""Savepoints of Transact-SQL: a block that begins at SAVE TRANSACTION is what a ROLLBACK to its name undoes.

PL/pgSQL undoes the changes of a block that an error leaves, and keeps the values of its variables, as a savepoint does
(PostgreSQL documentation, "Trapping Errors").
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import TYPE_CHECKING, Final

from hullsound.analyze.branches import branches_of
from hullsound.draft.edits.rewrite import CannotDraft, Point
from hullsound.sql.tree import (
    Assign,
    Block,
    Delete,
    Execute,
    If,
    Insert,
    Merge,
    Node,
    PlainStatement,
    Return,
    Subquery,
    TryCatch,
    Update,
)

if TYPE_CHECKING:
    from .statements import TsqlCode

_EFFECTS: Final = (Insert, Update, Delete, Merge, Execute)
_STATE: Final = "HS0S"
"""Beginning of the SQLSTATEs of the errors by which a ROLLBACK leaves the block of its savepoint."""
_DIGITS: Final = "123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass(eq=False)
class Savepoint:
    """One SAVE TRANSACTION, the list in which it stands, and what goes back to it."""

    save: PlainStatement
    statements: list[Node]
    place: int
    last: int = -1
    """Place of the last statement of its block."""
    handlers: list[str] = field(default_factory=list)


class Savepoints:
    """Finds the savepoints of a body and what goes back to them."""

    def __init__(self, code: "TsqlCode") -> None:
        self.code = code
        self._texts: dict[Node, Callable[[], str] | None] = {}
        """What a SAVE or a ROLLBACK to a savepoint becomes."""
        self._reasons: dict[Node, str] = {}
        self._states = 0
        plain = code.rewriter.subject.all(PlainStatement)
        self._saves = [each for each in plain if each.words == "save"]
        names = {self._name(each) for each in self._saves}
        self._backs = [each for each in plain if each.words == "rollback" and self._name(each) in names - {""}]

    def knows(self, node: Node) -> bool:
        """Whether a statement sets a savepoint or goes back to one."""
        return node in self._saves or node in self._backs

    def leaves_nothing(self, node: Node) -> bool:
        """Whether no statement takes the place of one that the savepoints know."""
        return node not in self._reasons and not self._texts.get(node)

    def write(self, node: PlainStatement) -> str:
        if node in self._reasons:
            raise CannotDraft(self._reasons[node])
        text = self._texts.get(node)
        return text() if text is not None else ""

    def prepare(self, body: list[Node]) -> None:
        """Add the points at which the blocks of savepoints end."""
        for save in self._saves:
            try:
                self._prepare(save, body)
            except CannotDraft as reason:
                self._reasons[save] = str(reason)

    def _prepare(self, save: PlainStatement, body: list[Node]) -> None:
        code = self.code
        backs = [each for each in self._backs if self._name(each) == self._name(save)]
        for back in [each for each in backs if code.transactions.is_caught(each)]:
            self._check_caught(save, back)
            backs.remove(back)
        backs = [each for each in backs if not code.transactions.raises_beside(each)]
        if not backs:
            return
        if code.kind in ("trigger", "function") or sum(self._name(s) == self._name(save) for s in self._saves) > 1:
            raise CannotDraft("a savepoint that is set in several places, or in a trigger")
        found = _list_of(save, body)
        if found is None:
            raise CannotDraft("a savepoint in a place that is not known")
        point = Savepoint(save, *found)
        for back in backs:
            self._leave(point, back)
        self._close(point)

    def _check_caught(self, save: Node, back: Node) -> None:
        """Check that what a CATCH goes back to is the beginning of its TRY, which PL/pgSQL undoes by itself."""
        subject = self.code.rewriter.subject
        around = max(
            (t for t in subject.all(TryCatch) if t.handler and t.handler[0].first <= back.first < t.last),
            key=lambda each: each.first,
        )
        first, last = sorted((save.first, around.first))
        for kind in _EFFECTS:
            if any(first < each.first < last for each in subject.all(kind)):
                raise CannotDraft("a savepoint behind the beginning of the block whose errors go back to it")

    def _leave(self, point: Savepoint, back: PlainStatement) -> None:
        """Make a ROLLBACK leave the block: only what changes no data may stand behind it, up to the end of its branch."""
        at = next((i for i, s in enumerate(point.statements) if i > point.place and s.first <= back.first < s.last), -1)
        rest = _rest_behind(back, [point.statements[at]]) if at >= 0 else None
        if rest is None:
            raise CannotDraft("a ROLLBACK to a savepoint from a place that does not lie behind it")
        ends = bool(rest) and isinstance(rest[-1], Return)
        values = rest[:-1] if ends else rest
        if any(not self.is_plain(each) for each in values):
            raise CannotDraft("a ROLLBACK to a savepoint behind which other statements follow")
        point.last = max(point.last, at)
        self._states += 1
        state = f"{_STATE}{_DIGITS[self._states - 1]}"
        leave = f"RAISE EXCEPTION 'back to the savepoint' USING ERRCODE = '{state}'"
        point.handlers.append(f"WHEN SQLSTATE '{state}' THEN {'RETURN' if ends else 'NULL'};")
        last = values[-1] if values else back
        text = partial(self._left, last if ends else None, leave)
        self._texts[back] = None if values else text
        if values:
            end = self.code.end_of(last)
            self.code.rewriter.add(Point(end, end, lambda r: f"\n{text()};", behind=back.first))

    def _left(self, last: Node | None, leave: str) -> str:
        """Return what leaves the block, with the status that RETURN behind a statement gives."""
        return f"{self.code.transactions.status_behind(last) if last is not None else ''}{leave}"

    def is_plain(self, node: Node) -> bool:
        """Whether a statement changes nothing but variables, so that it may as well run before the rows are put back."""
        if isinstance(node, PlainStatement):
            return node.words == "print"
        inside = self.code.rewriter.subject.all(Subquery)
        return isinstance(node, Assign) and not any(node.first <= s.first < node.last for s in inside)

    def _close(self, point: Savepoint) -> None:
        for at, back in (
            (i, b) for i, s in enumerate(point.statements) for b in self._backs if s.first <= b.first < s.last
        ):
            follows = at < point.last and self._texts.get(back) and not self._ends(back, point.statements[at])
            if follows and self._name(back) == self._name(point.save):
                raise CannotDraft("a ROLLBACK to a savepoint behind which other statements follow")
        self.code.jumps.keep_out(point.statements, point.place, point.last)
        self._texts[point.save] = lambda: "BEGIN"
        end = self.code.end_of(point.statements[point.last])
        text = "\nEXCEPTION\n" + "\n".join(point.handlers) + "\nEND;"
        self.code.rewriter.insert(end, text, behind=point.save.first)

    def _ends(self, back: Node, statement: Node) -> bool:
        rest = _rest_behind(back, [statement])
        return bool(rest) and isinstance((rest or [])[-1], Return)

    def _name(self, node: PlainStatement) -> str:
        words = self.code.words[node.first + 1 : node.last]
        while words and words[0] in ("TRAN", "TRANSACTION", "WORK"):
            words = words[1:]
        return words[0] if words else ""


def _list_of(node: Node, body: list[Node]) -> tuple[list[Node], int] | None:
    """Return the list in which a statement stands, and its place there."""
    for place, each in enumerate(body):
        if each is node:
            return body, place
        for branch in branches_of(each):
            found = _list_of(node, branch)
            if found is not None:
                return found
    return None


def _rest_behind(node: Node, statements: list[Node]) -> list[Node] | None:
    """Return what follows a statement inside of blocks and branches; None where it lies in a loop or a TRY."""
    for place, each in enumerate(statements):
        if each is node:
            return statements[place + 1 :]
        for branch in branches_of(each) if isinstance(each, If | Block) else []:
            found = _rest_behind(node, branch)
            if found is not None:
                return [*found, *statements[place + 1 :]] if not found or not isinstance(found[-1], Return) else found
    return None
