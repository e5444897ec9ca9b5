"""One read statement under inspection."""

from functools import cached_property

from hullsound.catalog.references import Scope
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Node, Statement


class Subject:
    """A read statement with its nodes sorted by kind."""

    def __init__(self, read: ReadStatement, scope: Scope, engine: str) -> None:
        self.read = read
        self.scope = scope
        self.engine = engine
        self.tokens = read.tokens
        self.words = read.tokens.words
        self.by_kind = read.by_kind
        self.all = read.all
        self.memory: dict[str, object] = {}
        """Results that several predicates share, by the name of what computes them."""

    def source(self, node: Node) -> str:
        return self.tokens.source(node.first, node.last)

    @cached_property
    def tree(self) -> Statement:
        return self.read.tree
