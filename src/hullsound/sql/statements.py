"""What a script holds once it is read: statements with their trees, and directives for the client."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import TypeVar

from .lexer import Tokens
from .tree import Node, Statement, Unread

_N = TypeVar("_N", bound=Node)


@dataclass(slots=True)
class Directive:
    """A line for the client: its word (upper case), the rest of the line, and its offset in the text."""

    word: str
    rest: str
    start: int
    end: int


def _by_place(node: Node) -> tuple[int, int]:
    return node.first, -node.last


def _parents_of(nodes: list[Node]) -> dict[Node, Node]:
    """Return the parent of each node of a child-first list: of nodes over the same tokens the later one is around the earlier."""
    parents: dict[Node, Node] = {}
    around: list[Node] = []
    for _, node in sorted(enumerate(nodes), key=lambda each: (each[1].first, -each[1].last, -each[0])):
        while around and (around[-1].last < node.last or around[-1].last <= node.first):
            around.pop()
        if around:
            parents[node] = around[-1]
        around.append(node)
    return parents


@dataclass(slots=True)
class ReadStatement:
    """One statement with its tokens [first, last), its tree and all nodes of that tree."""

    tokens: Tokens
    first: int
    last: int
    tree: Statement
    nodes: list[Node]
    is_complete: bool
    """Whether the grammar covered the statement as a whole; unread parts inside are among the nodes."""
    modes: frozenset[str] = frozenset()
    """Settings of the session under which it was read, of those that change what text means."""
    _by_kind: dict[type[Node], list[Node]] = field(default_factory=dict)
    _by_first: dict[type[Node], tuple[list[int], list[Node]]] = field(default_factory=dict)
    _parents: dict[Node, Node] = field(default_factory=dict)

    @property
    def start(self) -> int:
        return self.tokens.starts[self.first]

    @property
    def end(self) -> int:
        return self.tokens.ends[self.last - 1]

    @property
    def text(self) -> str:
        return self.tokens.text[self.start : self.end]

    @property
    def by_kind(self) -> dict[type[Node], list[Node]]:
        """All nodes by their kind, sorted out once, when all of them are there."""
        if not self._by_kind:
            for node in self.nodes:
                self._by_kind.setdefault(node.__class__, []).append(node)
        return self._by_kind

    def all(self, kind: type[_N]) -> list[_N]:
        """Return the nodes of one kind, in the order in which the parser made them."""
        found = self._by_kind or self.by_kind
        return found.get(kind, [])  # type: ignore[return-value]  # sorted out by that very kind

    def _sorted(self, kind: type[_N]) -> tuple[list[int], list[_N]]:
        """Return the nodes of a kind by their first token, with these tokens; Node stands for all kinds."""
        known = self._by_first.get(kind)
        if known is None:
            nodes: list[Node] = sorted(self.nodes if kind is Node else self.by_kind.get(kind, []), key=_by_place)
            known = self._by_first[kind] = ([node.first for node in nodes], nodes)
        return known  # type: ignore[return-value]  # sorted out by that very kind

    def inside(self, kind: type[_N], first: int, last: int) -> list[_N]:
        """Return the nodes of one kind that lie within the tokens [first, last), outer ones before those inside of them."""
        firsts, nodes = self._sorted(kind)
        low, high = bisect_left(firsts, first), bisect_left(firsts, last)
        return [node for node in nodes[low:high] if node.last <= last]

    def innermost(self, kind: type[_N], node: Node) -> _N | None:
        """Return the innermost node of a kind that a node lies in, or that it is itself."""
        firsts, nodes = self._sorted(kind)
        for at in range(bisect_right(firsts, node.first) - 1, -1, -1):
            if nodes[at].last >= node.last:
                return nodes[at]
        return None

    def parent(self, node: Node) -> Node | None:
        """Return the node that a node is a part of; None for the statement itself. All are found in one pass, when asked for."""
        if not self._parents:
            self._parents = _parents_of(self.nodes)
        return self._parents.get(node)

    def unread(self) -> list[Unread]:
        return self.all(Unread)


@dataclass(slots=True)
class Script:
    """What a text holds, in order."""

    tokens: Tokens
    items: list[ReadStatement | Directive] = field(default_factory=list)

    def statements(self) -> Iterator[ReadStatement]:
        return (item for item in self.items if isinstance(item, ReadStatement))
