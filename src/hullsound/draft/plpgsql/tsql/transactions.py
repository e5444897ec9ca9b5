"""Transactions of Transact-SQL code, and errors that the statement behind asks for.

A procedure of PostgreSQL that is called inside a transaction can neither commit nor undo it: what ROLLBACK undoes is the
block that begins where the transaction began.
"""

from functools import partial
from itertools import takewhile
from typing import TYPE_CHECKING, Final

from hullsound.analyze.branches import branches_of, tested_statements
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.results import STATUS
from hullsound.sql.tree import Block, If, Label, Loop, Node, PlainStatement, Raise, Return, TryCatch

from .errors import error_number
from .savepoints import Savepoints

if TYPE_CHECKING:
    from .statements import TsqlCode

WORDS: Final = frozenset(("begin transaction", "commit", "rollback", "save", "begin"))
ERROR: Final = "hs_error"
"""Variable that takes the place of @@ERROR."""
_UNDONE: Final = "HS0RB"
"""SQLSTATE of the error by which a ROLLBACK leaves the block of its transaction."""


class Transactions:
    """Finds the ROLLBACKs of a body that leave the block of their transaction, and the statements whose errors are asked for."""

    def __init__(self, code: "TsqlCode") -> None:
        self.code = code
        self.savepoints = Savepoints(code)
        self.undoing: dict[Node, Node] = {}
        """ROLLBACKs behind which only the end comes, with the last statement that may run before the block is left."""
        self.asked: set[Node] = set()
        self.beginning: Node | None = None
        """Statement at which the block begins that a ROLLBACK leaves."""

    def prepare(self) -> None:
        """Add the points of the block around the statements of a transaction that code undoes."""
        code = self.code
        if "@@ERROR" in code.words[code.rewriter.subject.read.first : code.rewriter.subject.read.last]:
            self.asked = tested_statements(code.body, code.words, "@@ERROR")
            if self.asked:
                code.hoist(f"{ERROR} integer := 0;")
        self.savepoints.prepare(code.body)
        if code.kind == "trigger" or not code.body:
            return
        self._mark_undoing(code.body, can_go_on=False)
        for back, last in self.undoing.items():
            if last is not back:
                end = code.end_of(last)
                code.rewriter.add(Point(end, end, partial(self._left, last), behind=back.first))
        if self.undoing:
            self.beginning = next((each for each in code.body if self._holds_begin(each)), code.body[0])
            last = code.body[-1]
            if isinstance(self.beginning, If | Block | Loop | TryCatch):
                code.rewriter.insert(self.beginning.first, "BEGIN\n")
            end = code.end_of(last)
            text = f"\nEXCEPTION WHEN SQLSTATE '{_UNDONE}' THEN NULL;\nEND;"
            code.rewriter.insert(end, text, behind=last.first - 1)

    def _begins(self, node: Node) -> bool:
        return isinstance(node, PlainStatement) and node.words == "begin transaction"

    def _holds_begin(self, node: Node) -> bool:
        read = self.code.rewriter.subject.read
        return any(map(self._begins, read.inside(PlainStatement, node.first, max(node.last, node.first + 1))))

    def _mark_undoing(self, statements: list[Node], *, can_go_on: bool) -> None:
        """Mark each ROLLBACK behind which only the end of the code comes; `can_go_on` if statements follow the list."""
        for place, each in enumerate(statements):
            branches = branches_of(each) if isinstance(each, If | Block) else []
            is_back = isinstance(each, PlainStatement) and each.words == "rollback" and not self.savepoints.knows(each)
            if not is_back and not branches:
                continue
            rest = [s for s in statements[place + 1 :] if not isinstance(s, Label)]
            if is_back and not self.is_caught(each):
                passed = list(takewhile(self.savepoints.is_plain, rest))
                ends = isinstance(rest[len(passed)], Return) if len(rest) > len(passed) else not can_go_on
                if ends and not self.raises_beside(each):
                    self.undoing[each] = passed[-1] if passed else each
            for branch in branches:
                self._mark_undoing(branch, can_go_on=can_go_on or bool(rest))

    def is_caught(self, node: Node) -> bool:
        """Whether a statement stands in a CATCH, whose TRY is undone already."""
        return any(
            each.handler and each.handler[0].first <= node.first < each.last
            for each in self.code.rewriter.subject.all(TryCatch)
        )

    def raises_beside(self, node: Node) -> bool:
        """Whether an error is raised right before or behind, so that everything is undone anyway."""
        behind = self.code.end_of(node)
        if self.code.words[behind] in ("RAISERROR", "THROW"):
            return True
        return any(self.code.end_of(each) == node.first for each in self.code.rewriter.subject.all(Raise))

    def leaves_nothing(self, node: PlainStatement) -> bool:
        """Whether no statement takes the place of one that begins or ends a transaction."""
        if self.savepoints.knows(node):
            return self.savepoints.leaves_nothing(node)
        return (
            node.words != "rollback"
            or self.is_caught(node)
            or self.code.kind == "trigger"
            or self.undoing.get(node, node) is not node
        )

    def write(self, node: PlainStatement) -> str:
        """Leave transactions to the caller: an error undoes the block of TRY, or the whole call."""
        if self.savepoints.knows(node):
            return self.savepoints.write(node)
        if node.words != "rollback" or self.is_caught(node) or self.raises_beside(node):
            return ""
        if self.code.kind == "trigger":
            return f"RAISE EXCEPTION '%', 'undone by the trigger {self.code.unit.replace(chr(39), '')}'"
        if node not in self.undoing:
            raise CannotDraft("ROLLBACK behind which other statements follow")
        return self._leave(node) if self.undoing[node] is node else ""

    def _left(self, node: Node, rewriter: Rewriter) -> str:
        return f"\n{self._leave(node)};"

    def _leave(self, node: Node) -> str:
        """Write what leaves the block behind a statement, with the status that is given back."""
        return f"{self.status_behind(node)}RAISE EXCEPTION 'rolled back' USING ERRCODE = '{_UNDONE}'"

    def status_behind(self, node: Node) -> str:
        """Return the assignment of the status that RETURN behind a ROLLBACK gives, which is not reached any more."""
        end = self.code.end_of(node)
        behind = next((r for r in self.code.rewriter.subject.all(Return) if r.first == end), None)
        if behind is None or behind.value is None or not self.code.has_status:
            return ""
        return f"{STATUS} := {self.code.rewriter.elsewhere(behind.value)}; "

    # --- @@ERROR ---

    def around(self, node: Node, text: str) -> str:
        """Put what a statement needs around it: the beginning of a block, or one that keeps the number of its error."""
        text = self._with_error_kept(node, text)
        return f"BEGIN\n{text}" if node is self.beginning else text

    def _with_error_kept(self, node: Node, text: str) -> str:
        if node not in self.asked or not text or isinstance(node, Return | PlainStatement):
            return text
        kept = f"BEGIN\n{text};\n{ERROR} := 0;\nEXCEPTION WHEN OTHERS THEN\n"
        return f"{kept}{ERROR} := {error_number()};\nEND"
