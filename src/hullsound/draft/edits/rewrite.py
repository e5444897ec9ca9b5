"""Rewrites one statement: points where something changes, rendered from the outside in."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final, NamedTuple

from hullsound.analyze.columns import Columns
from hullsound.analyze.infer import Types
from hullsound.analyze.subject import Subject
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object
from hullsound.knowledge.engine_model import Target
from hullsound.sql.edit import Edit, apply_edits
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import AnonymousBlock, CreatePackage, CreateRoutine, CreateTrigger, Node, Parts

from .names import names_of


class CannotDraft(Exception):  # noqa: N818 - a signal inside drafting that becomes a Skipped
    """A fixer meets a form it has no text for; the reason is for people."""


class Skipped(NamedTuple):
    """A part that keeps its source text because nothing could be drafted for it."""

    construct: str
    token: int
    reason: str


@dataclass(slots=True)
class Point:
    """The tokens [first, last) become what `render` returns; an empty span inserts before token `first`."""

    first: int
    last: int
    render: Callable[["Rewriter"], str]
    construct: str = ""
    behind: int = -1
    """Where the node begins behind whose last token an empty span inserts; -1 for an insertion before a token."""
    is_last: bool = False
    """Whether it ends the statement as a whole."""
    rank: int = 0
    """Of several points for the same tokens, the one of higher rank goes around the others."""

    @property
    def place(self) -> tuple[int, int, int, int]:
        """Where the point stands among others: what ends at a token comes before what begins there, inner nodes first."""
        if self.behind >= 0:
            return self.first, 0, -self.behind, 0
        return self.first, 1 if self.first == self.last else 2, -self.last, -self.rank


def _belongs(point: Point, first: int, at: int, rendered: int) -> bool:
    """Whether an insertion behind a node is to be made in a text from `first`, of which all before `at` is rendered."""
    if point.first <= first or point.behind < first:
        return False
    return point.first != at or rendered < 0 or point.behind < rendered


_WHOLES: Final = frozenset(("", "draft.procedural-code"))
"""In whose name whole statements and routines are written."""


class Rewriter:
    """Applies points to the tokens of one statement.

    Points nest: a point's render calls `text` for the parts it keeps, in which inner points apply.
    """

    def __init__(self, subject: Subject, catalog: Catalog, target: Target, owner: str) -> None:
        self.subject = subject
        self.tokens = subject.tokens
        self.words = subject.words
        self.catalog = catalog
        self.target = target
        self.owner = owner
        self.names = names_of(target.engine)
        self.skipped: list[Skipped] = []
        self.is_partial = False
        """Whether statements that cannot be drafted become errors with their source as a comment."""
        self.unconverted: list[Skipped] = []
        """Places of constructs that only a person can rewrite."""
        self.by_types: set[str] = set()
        """Constructs that the types of columns make, and that a person must look at."""
        self.asks: set[str] = set()
        """Constructs of which a person must confirm what is written."""
        self.another: Callable[[ReadStatement], Rewriter] | None = None
        """Makes the rewriter of another statement of the same object, such as one that code builds as text."""
        self.sites: Mapping[Node, Any] = {}
        """Places that run a text, of the class `dynamic.Site`, by their nodes."""
        self.closing: list[Callable[[], None]] = []
        """What breaks up rings of what stands upon the rewriter, once all is written."""
        self._points: list[Point] = []
        self._answers: list[Point] = []
        """Those of the points that a construct's own template or fixer writes."""
        self._spans: list[tuple[int, int]] = []
        """Tokens whose constructs were read by what is written for them."""
        self._reached: list[Point] = []
        """Points that were rendered, each once or more."""
        self._taken: set[tuple[int, int, int]] = set()
        self._is_sorted = True
        """Whether the points stand in the order in which they apply, which finding them by halves needs."""
        self._depth = 0
        """How many points are being rendered, one inside of the other: their order must not change meanwhile."""
        self._after = -1
        self._asked_by = ""
        self.rendered: list[tuple[str, int]] = []
        """Constructs in whose name something was changed, each with the token that it begins at."""

    @cached_property
    def types(self) -> Types:
        """The types of the statement's expressions."""
        return Types(self.subject, self.catalog, self.owner)

    @property
    def columns(self) -> Columns:
        """What the names of the statement mean."""
        return self.types.columns

    @property
    def default_schema(self) -> str:
        """The schema that unqualified names of the object mean."""
        return self.columns.default_schema

    def table(self, parts: Parts) -> Object | None:
        """Find the table or view that a name in the statement means, through synonyms."""
        return self.columns.table(parts)

    def add(self, point: Point) -> None:
        """Add a point; of several for the same tokens the first stays."""
        if not point.construct:
            point.construct = self._asked_by
        key = (point.first, point.last, point.rank)
        if point.first == point.last or key not in self._taken:
            self._taken.add(key)
            self._points.append(point)
            self._is_sorted = False

    @property
    def is_code(self) -> bool:
        """Whether the statement creates or runs code, in which an expression may stand outside of all SQL statements."""
        return isinstance(self.subject.tree, CreateRoutine | CreateTrigger | CreatePackage | AnonymousBlock)

    def answer(self, point: Point) -> None:
        """Add the point of a construct, which must be reached: what is written around it may not leave it out unseen."""
        self.add(point)
        self._answers.append(point)

    def take(self, node: Node) -> None:
        """Say that whoever writes a node, or leaves it out on purpose, has read the constructs in it."""
        self.take_span(node.first, node.last)

    def take_span(self, first: int, last: int) -> None:
        """Say the same of the tokens [first, last)."""
        self._spans.append((first, last))

    def left_out(self) -> Point | None:
        """Return the first construct that was never reached, and that nothing but a whole statement or routine stands for.

        What a pass or another construct writes over it has read it: a mask within its call, an interval within a sum.
        """
        reached = {id(point) for point in self._reached}
        kept = {id(point) for point in self._points}
        for point in self._answers:
            is_taken = any(first <= point.first and point.last <= last for first, last in self._spans)
            if is_taken or id(point) in reached or id(point) not in kept:
                continue
            covers = (each for each in self._reached if each.first <= point.first and point.last <= each.last)
            if all(each.construct in _WHOLES for each in covers):
                return point
        return None

    def replace(self, first: int, last: int, new: str, construct: str = "") -> None:
        self.add(Point(first, last, lambda rewriter: new, construct))

    def put(self, node: Node, new: str) -> None:
        """Write something in the place of a node, whatever was to be written there; what goes around it stays."""
        self.put_over(node.first, node.last, new)

    def put_over(self, first: int, last: int, new: str) -> None:
        """Write something in the place of the tokens [first, last), whatever was to be written for just these."""
        self.put_point(Point(first, last, lambda rewriter: new))

    def put_point(self, point: Point) -> None:
        """Add a point in the place of one of its rank for the same tokens; what goes around these stays."""
        key = (point.first, point.last, point.rank)
        if key in self._taken:
            self._points = [p for p in self._points if (p.first, p.last, p.rank) != key]
            self._taken.discard(key)
        self.add(point)

    def insert(self, at: int, new: str, construct: str = "", *, behind: int = -1) -> None:
        self.add(Point(at, at, lambda rewriter: new, construct, behind=behind))

    def insert_behind(self, node: Node, new: str, construct: str = "") -> None:
        """Insert behind the last token of a node."""
        self.add(Point(node.last, node.last, lambda rewriter: new, construct, behind=node.first))

    def wrap(self, node: Node, render: Callable[["Rewriter"], str], rank: int = 1) -> None:
        """Put something around what else changes a node's tokens."""
        self.add(Point(node.first, node.last, render, rank=rank))

    def asked_by(self, construct: str) -> "_InTheName":
        """Add points in the name of a construct, but for those that name another."""
        return _InTheName(self, construct)

    def drop(self, constructs: frozenset[str]) -> None:
        """Take back the points of these constructs."""
        self._points = [point for point in self._points if point.construct not in constructs]

    def close(self) -> None:
        """Let go of all points, which may hold the rewriter itself: nothing is left for the garbage collector to find."""
        for let_go in self.closing:
            let_go()
        self.closing.clear()
        self.another = None
        self._points.clear()
        self._answers.clear()
        self._reached.clear()
        self.subject.memory.clear()

    def _sort(self) -> None:
        """Put the points in the order in which they apply, if some came since: parts are rendered before all are there."""
        if not self._is_sorted and not self._depth:
            self._points.sort(key=lambda point: point.place)
            self._is_sorted = True

    def edits(self) -> list[Edit]:
        """Return the outermost edits on the statement's text, with offsets from the statement's start."""
        read = self.subject.read
        return self._edits(read.first, read.last, -1, read.start, is_outermost=True)

    def result(self) -> str:
        """Return the whole rewritten statement."""
        return apply_edits(self.subject.read.text, self.edits())

    def text(self, first: int, last: int) -> str:
        """Return the source of the tokens [first, last) with the points inside applied."""
        if last <= first:
            return ""
        start = self.tokens.starts[first]
        piece = self.tokens.text[start : self.tokens.ends[last - 1]]
        return apply_edits(piece, self._edits(first, last, self._after, start))

    def behind(self, node: Node) -> str:
        """Return what points put behind a node, such as a limit, for a part of it that is rendered by itself."""
        self._sort()
        found = [
            (point, index)
            for index, point in enumerate(self._points)
            if point.first == point.last == node.last and point.behind == node.first and not point.is_last
        ]
        return "".join(self._render(point, index) or "" for point, index in found)

    def before(self, at: int) -> str:
        """Return what points put before a token."""
        self._sort()
        found = [
            (point, index)
            for index, point in enumerate(self._points)
            if point.first == point.last == at and point.behind < 0
        ]
        return "".join(self._render(point, index) or "" for point, index in found)

    def node(self, node: Node) -> str:
        """Return the rewritten source of a node."""
        return self.text(node.first, node.last)

    def changes(self, node: Node) -> bool:
        """Whether a point covers a node."""
        return any(point.first <= node.first and node.last <= point.last for point in self._points)

    def rewrites(self, node: Node, construct: str = "") -> bool:
        """Whether a point stands for just this node, in the name of a construct if one is given without its engine."""
        span = (node.first, node.last)
        return any((each.first, each.last) == span and each.construct.endswith(construct) for each in self._points)

    def elsewhere(self, node: Node) -> str:
        """Return the rewritten source of a node that stands outside of what is being rendered, such as a handler's body."""
        return self.text_elsewhere(node.first, node.last)

    def text_elsewhere(self, first: int, last: int) -> str:
        """Return the rewritten source of tokens that stand before what is being rendered."""
        before, self._after = self._after, -1
        try:
            return self.text(first, last)
        finally:
            self._after = before

    def nodes(self, nodes: Iterable[Node], separator: str = ", ") -> str:
        return separator.join(self.node(node) for node in nodes)

    def _edits(self, first: int, last: int, after: int, base: int, *, is_outermost: bool = False) -> list[Edit]:
        self._sort()
        edits: list[Edit] = []
        at = first
        rendered = -1
        starts, ends = self.tokens.starts, self.tokens.ends
        for index in range(self._seek(first, after), len(self._points)):
            point = self._points[index]
            if point.first > last:
                break
            if point.first < at or point.last > last:
                continue
            if point.behind >= 0:
                # It belongs to its node: to what is rendered with it, and not again to what goes around.
                if not (is_outermost if point.is_last else _belongs(point, first, at, rendered)):
                    continue
            elif point.first == last and not is_outermost:
                continue
            new = self._render(point, index)
            if new is None:
                continue
            start = (ends[point.first - 1] if point.behind >= 0 else starts[point.first]) - base
            end = start if point.first == point.last else ends[point.last - 1] - base
            if not new:
                start, end = self._whole_lines(start + base, end + base, base)
            if edits and edits[-1].end > start:
                if point.first != point.last:
                    continue
                start = end = edits[-1].end  # a removal that took the rest of the line with it
            edits.append(Edit(start, end, new, point.construct))
            if point.last > at:
                at, rendered = point.last, point.first
        return edits

    def _whole_lines(self, start: int, end: int, base: int) -> tuple[int, int]:
        """Widen a removal to whole lines, with the line break, where nothing else stands on them."""
        text = self.tokens.text
        left = start
        while left > base and text[left - 1] in " \t":
            left -= 1
        right = end
        while right < len(text) and text[right] in " \t\r":
            right += 1
        if left > base and text[left - 1] == "\n" and right < len(text) and text[right] == "\n":
            return left - base, right + 1 - base
        return start - base, end - base

    def _seek(self, first: int, after: int) -> int:
        """Return the index of the first point behind `after` that starts at `first` or later."""
        low, high = after + 1, len(self._points)
        while low < high:
            middle = (low + high) // 2
            if self._points[middle].first < first:
                low = middle + 1
            else:
                high = middle
        return low

    def _render(self, point: Point, index: int) -> str | None:
        before, self._after = self._after, index
        self._depth += 1
        self._reached.append(point)
        try:
            new = point.render(self)
            if new.split() != self.tokens.source(point.first, point.last).split():
                self.rendered.append((point.construct, point.first))
            return new
        except CannotDraft as reason:
            self.skipped.append(Skipped(point.construct, point.first, str(reason)))
            return None
        finally:
            self._after = before
            self._depth -= 1


class _InTheName:
    """Within it, points are added in the name of a construct; entered some forty times for each statement."""

    __slots__ = ("_construct", "_rewriter")

    def __init__(self, rewriter: Rewriter, construct: str) -> None:
        self._rewriter = rewriter
        self._construct = construct

    def __enter__(self) -> None:
        self._exchange()

    def __exit__(self, *reason: object) -> None:
        self._exchange()

    def _exchange(self) -> None:
        rewriter = self._rewriter
        self._construct, rewriter._asked_by = rewriter._asked_by, self._construct
