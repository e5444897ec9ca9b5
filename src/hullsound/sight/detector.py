"""The registry of predicates that look at a statement, and what they find."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Final, NamedTuple, TypeVar

from hullsound.analyze.subject import Subject
from hullsound.sql.tree import Node

_N = TypeVar("_N", bound=Node)

Need = tuple[str, str, str]
"""(table or '', column, wanted): wanted is a value class; with ? behind it an unknown type will do too. Of all entries
with 'nullable?' one must hold; 'integer?' asks for a whole-number type; 'relation' asks what a name leads to."""


class Found(NamedTuple):
    """A place where a predicate holds: the node, its tokens, and what must still hold of columns."""

    node: Node
    first: int
    last: int
    detail: str = ""
    needs: tuple[Need, ...] = ()


def found(node: Node, detail: str = "", needs: Iterable[Need] = ()) -> Found:
    return Found(node, node.first, node.last, detail, tuple(needs))


Predicate = Callable[[Node, Subject], Iterable[Found]]


@dataclass(frozen=True, slots=True)
class Detector:
    """A named predicate and the kinds of nodes it looks at; `Statement` stands for the statement as a whole."""

    name: str
    kinds: tuple[type[Node], ...]
    predicate: Predicate
    names: frozenset[str]
    """Last parts of the names of calls it looks at; empty for all."""
    texts: tuple[str, ...]
    """One of these stands, in upper case, in every statement it can hold for; empty for all statements."""


REGISTRY: Final[dict[str, Detector]] = {}


def detector(
    name: str, *kinds: type[Node], names: Iterable[str] = (), texts: Iterable[str] = ()
) -> Callable[[Callable[[_N, Subject], Iterable[Found]]], Predicate]:
    """Register a predicate under the name that constructs give in `match`. A name is registered once.

    `names` and `texts` only save time: the predicate must not hold elsewhere.
    """

    def register(predicate: Callable[[_N, Subject], Iterable[Found]]) -> Predicate:
        assert name not in REGISTRY, f"detector {name} is registered twice"
        REGISTRY[name] = Detector(name, kinds, predicate, frozenset(names), tuple(texts))  # type: ignore[arg-type]
        return predicate  # type: ignore[return-value]

    return register
