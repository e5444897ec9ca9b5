"""How many rows a statement has changed, kept in a variable: where asking sets it anew, and where statements may not ask.

Sources: Transact-SQL reference, "@@ROWCOUNT" (an IF or SET sets it to 0 or 1); MySQL 8.4 Reference Manual, "Information Functions",
ROW_COUNT; Oracle Database 19c, "PL/SQL Language Reference", "SQL%ROWCOUNT Attribute", which holds until the next statement, and
which no statement of SQL takes (PLS-00229); PostgreSQL 18, "PL/pgSQL", "Obtaining the Result Status", of which FOUND is
a variable that holds over other statements.
"""

import itertools
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.queries import assigns
from hullsound.sql.tree import (
    Assign,
    Call,
    CursorAttribute,
    Delete,
    Fetch,
    If,
    Insert,
    Jump,
    Loop,
    Merge,
    Name,
    Node,
    OtherStatement,
    Parameter,
    PlainStatement,
    QueryStatement,
    Return,
    Select,
    Update,
    Variable,
)

from .speech import Declared, Lines, Speech, Unit

_CHANGES = (Insert, Update, Delete, Merge)
_ASKING: Final = frozenset(("get diagnostics",))
_BEFORE_TEST: Final = frozenset(("IF", "ELSIF", "ELSEIF", "WHEN", "WHILE", "AND", "OR", "NOT", "("))
_BEHIND_TEST: Final = frozenset(("THEN", "LOOP", "AND", "OR", ")", ";"))


class RowCounts:
    """The counts that one routine asks for."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit
        self.counted = speech.rows_changed
        """What gives the count right behind a statement."""
        self.kept = ""
        """The variable that keeps it; '' where none is needed."""
        self.tests: set[Node] = set()
        """Names that are written as tests of the count."""

    def prepare(self) -> None:
        """Write the variable where the count is asked for, if it is asked for twice of one statement or inside of one."""
        if self.rewriter.catalog.engine == "postgresql":
            self._prepare_found()
            return
        uses = sorted(self._uses(), key=lambda node: node.first)
        words = self.rewriter.words[self.rewriter.subject.read.first : self.rewriter.subject.read.last]
        is_behind_block = (
            bool(uses) and "@@ERROR" in words
        )  # the block that keeps a statement's error ends before it is asked
        is_asked_again = is_behind_block or any(
            self._is_one_statement(use, later) for use, later in itertools.pairwise(uses)
        )
        if not (any(map(self._is_inside, uses)) or (is_asked_again and self.rewriter.target.engine != "oracle")):
            return
        self._keep()
        for use in uses:
            if not isinstance(use, CursorAttribute) or use.attribute == "ROWCOUNT":
                self.rewriter.put(use, self.kept)

    def _keep(self) -> None:
        self.kept = self.speech.variable("hs_rows_changed")
        self.unit.variables.append(Declared(self.kept, self.speech.integer, default=self._at_first()))
        self.speech.rows_changed = self.kept

    def _at_first(self) -> str:
        """Return what the count is before any statement: FOUND is false then."""
        return "0" if self.rewriter.catalog.engine == "postgresql" else ""

    def _prepare_found(self) -> None:
        """Write FOUND of PL/pgSQL as a test of the count, which SELECT INTO and changes leave there.

        Raises CannotDraft where FOUND stands in an expression, or where something else may have set it.
        """
        subject = self.rewriter.subject
        declared: list[Variable | Parameter] = [*subject.all(Variable), *subject.all(Parameter)]
        is_own = any(each.name == "FOUND" for each in declared)
        found = [each for each in subject.all(Name) if each.parts == ("FOUND",) and not is_own]
        if not found and not any(each.words in _ASKING for each in subject.all(PlainStatement)):
            return
        loops = [each for each in subject.all(Loop) if each.form not in ("basic", "while")]
        asks = any(each.words in _ASKING for each in subject.all(PlainStatement))
        if (subject.all(Fetch) and asks) or any(not self._is_before(use, loops) for use in found):
            raise CannotDraft("FOUND or a count of rows behind a loop over rows or a cursor")
        tested = {use for use in found if self._is_tested(use)}
        if any(use not in tested and not self._is_whole_value(use) for use in found):
            raise CannotDraft("FOUND in an expression")
        if subject.all(Merge):
            raise CannotDraft("how many rows a MERGE has changed")
        self._keep()
        self.speech.found = self.kept
        self.tests.update(tested)
        for use in found:
            self.rewriter.put(use, f"{self.kept} > 0" if use in tested else self.speech.truth(f"{self.kept} > 0"))
        changes = any(subject.all(kind) for kind in _CHANGES)
        self.unit.notes += [self.speech.rows_note] if self.speech.rows_note and changes else []

    def _is_before(self, use: Node, loops: list[Loop]) -> bool:
        """Whether no loop over rows or numbers has ended when a place is reached, after which FOUND tells of the loop."""
        ended = [each for each in loops if each.last <= use.first]
        around = [each for each in self.rewriter.subject.all(Loop) if each.first < use.first < each.last]
        return not ended and not any(o.first < each.first < o.last for o in around for each in loops)

    def _is_tested(self, use: Node) -> bool:
        """Whether FOUND is itself a condition, or a part of one that AND, OR and NOT join."""
        subject, words = self.rewriter.subject, self.rewriter.words
        conditions = [condition for each in subject.all(If) for condition, _ in each.branches]
        conditions += [each.condition for each in subject.all(Jump) if each.condition is not None]
        conditions += [bound for each in subject.all(Loop) if each.form == "while" for bound in each.bounds]
        is_inside = any(each.first <= use.first and use.last <= each.last for each in conditions)
        return is_inside and words[use.first - 1] in _BEFORE_TEST and words[use.last] in _BEHIND_TEST

    def _is_whole_value(self, use: Node) -> bool:
        """Whether FOUND is all that is returned or assigned."""
        subject = self.rewriter.subject
        values: list[Node | None] = [
            *(each.value for each in subject.all(Return)),
            *(each.value for each in subject.all(Assign)),
        ]
        return use in values

    def asked(self, node: PlainStatement | OtherStatement) -> Lines:
        """Write GET DIAGNOSTICS variable = ROW_COUNT. Raises CannotDraft for what else it tells."""
        words = self.rewriter.words
        is_count = node.last - node.first == 5 and words[node.last - 1] == "ROW_COUNT"
        counted = self.kept or (self.counted if self._follows_change(node) else "")
        target = next((n for n in self.rewriter.subject.all(Name) if n.first == node.first + 2), None)
        if is_count and counted and target is not None:
            self.unit.notes += [self.speech.rows_note] if self.speech.rows_note and not self.kept else []
            return self.speech.assign(self.rewriter.node(target), counted)
        raise CannotDraft("GET DIAGNOSTICS of other than the count of rows, or in a block of its own")

    def met(self, select: Select) -> Lines:
        """Keep how many rows a query of PERFORM meets; nothing where no one asks. Raises CannotDraft for groups and locks."""
        words = self.rewriter.words[select.first : select.last]
        if select.group or select.having is not None or "FOR" in words or "UNION" in words or "DISTINCT" in words:
            raise CannotDraft("PERFORM of a query that groups or locks its rows")
        if not self.kept:
            return []
        behind = [*select.sources, *([select.where] if select.where is not None else [])]
        rows = self.rewriter.text(select.from_at, max(each.last for each in behind))
        return self.speech.fill([self.kept], ["COUNT(*)"], rows.strip())

    def is_asked(self) -> bool:
        """Whether the routine asks for a count anywhere."""
        return bool(self.kept or self._uses())

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
        asking: list[Node] = [each for kind in _CHANGES for each in subject.all(kind)]
        if self.rewriter.target.engine == "oracle":
            asking += [each for each in subject.all(Select) if not each.into and not any(map(assigns, each.items))]
        return any(each.first < use.first < each.last for each in asking)

    def after(self, node: Node) -> Lines:
        """Return what keeps the count of a statement that has been written."""
        if not self.kept:
            return []
        if isinstance(node, _CHANGES):
            return self.speech.assign(self.kept, self.counted)
        if self.rewriter.catalog.engine != "postgresql" or not isinstance(node, QueryStatement):
            return []
        inside = [each for each in self.rewriter.subject.all(Select) if node.first <= each.first < node.last]
        filling = next((each for each in inside if each.into), None)
        if filling is None:
            return []
        # A query without tables gives one row, and is written as assignments, which count none.
        return self.speech.assign(self.kept, self.counted if filling.from_at >= 0 else "1")

    def _follows_change(self, node: Node) -> bool:
        """Whether the statement right before has changed rows, so that no other has set the count anew."""
        return any(change.last == node.first - 1 for kind in _CHANGES for change in self.rewriter.subject.all(kind))
