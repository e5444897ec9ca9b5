"""Texts that a routine runs as SQL: one that is constant becomes the statement that it is, with the values that it is given.

What is made of parts that only running code knows is run as a text on the target too.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "EXECUTE IMMEDIATE Statement"; Transact-SQL reference, "EXECUTE" and
"sp_executesql".
"""

from typing import TYPE_CHECKING, Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.dynamic import Site, prepare_sites, read_sites
from hullsound.sight.dynamic import PLACEHOLDER
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Assign,
    Bind,
    Delete,
    Execute,
    ExecuteImmediate,
    Insert,
    Merge,
    Name,
    Node,
    QueryStatement,
    Select,
    Update,
    Variable,
)

from .cursors import Cursors
from .running_texts import write_running_text
from .speech import Lines

if TYPE_CHECKING:
    from .walked_queries import QueryWalk

_ENGINES: Final = frozenset(("oracle", "sqlserver", "ase", "db2"))


class ConstantTexts:
    """The places of one routine that run a text."""

    def __init__(self, walk: "QueryWalk") -> None:
        self.walk = walk
        engine = walk.source
        self.running: list[Site] = []
        """Those whose text is known in part only."""
        self.sites = read_sites(walk.rewriter.subject.read, engine) if engine in _ENGINES else {}

    def prepare(self) -> None:
        """Rewrite the constants of texts of which only running code knows a part."""
        sites = dict.fromkeys(self.sites.values())
        self.running = [each for each in sites if len(each.dynamic.reads) == 1 and not self._is_constant(each)]
        if self.running:
            prepare_sites(self.running, self.walk.rewriter)

    def write(self, node: Execute | ExecuteImmediate) -> Lines:
        """Write the statement that a text is. Raises CannotDraft for a text of which only running code knows a part."""
        site = self.sites.get(node)
        if site is not None and site in self.running:
            return write_running_text(node, site, self.walk)
        if site is None or len(site.dynamic.reads) != 1:
            raise CannotDraft("a text that is run, and of which only running code knows a part")
        read = site.dynamic.reads[0]
        assert self.walk.rewriter.another is not None
        inner = self.walk.rewriter.another(read)
        if inner.unconverted:
            raise CannotDraft(inner.unconverted[0].reason)
        self._put_values(node, site, read, inner)
        inner.edits()  # sorts the points
        lines = self._statement(node, read.tree, inner)
        if inner.skipped:
            raise CannotDraft(inner.skipped[0].reason)
        return lines

    def _is_constant(self, site: Site) -> bool:
        """Whether a text is the same however the code came to run it: made of constants that stand there, or declared so once."""
        dynamic, subject = site.dynamic, self.walk.rewriter.subject
        if dynamic.reason or PLACEHOLDER in dynamic.text or any(piece.literal is None for piece in dynamic.pieces):
            return False
        assigned = {each.target.parts[0] for each in subject.all(Assign) if isinstance(each.target, Name)}
        declared = [
            each.default for each in subject.all(Variable) if each.default is not None and each.name not in assigned
        ]
        places = [site.node, *declared]
        return all(
            any(place.first <= piece.literal.first < place.last for place in places)
            for piece in dynamic.pieces
            if piece.literal is not None
        )

    def _put_values(self, node: Execute | ExecuteImmediate, site: Site, read: ReadStatement, inner: Rewriter) -> None:
        """Write each place for a value as the value that it is given."""
        binds = sorted(read.all(Bind), key=lambda bind: bind.first)
        given = node.using if isinstance(node, ExecuteImmediate) else []
        words = self.walk.rewriter.words
        if len(binds) != len(given) or any(words[each.first - 1] in ("OUT", "RETURNING") for each in given):
            raise CannotDraft("a text that is run with other values than it has places for")
        for bind, value in zip(binds, given, strict=True):
            inner.put(bind, self._value(value))
        for name in read.all(Name):
            if name.parts[0].startswith("@"):
                argument = site.argument(name.parts[0])
                if argument is None or "OUTPUT" in words[argument.first : argument.last + 1]:
                    raise CannotDraft(f"the variable {name.parts[0].lower()} of the text that is run")
                inner.put(name, self._value(argument))

    def _value(self, node: Node) -> str:
        text = self.walk.value(node)
        return text if node.last == node.first + 1 else f"({text})"

    def _statement(self, node: Execute | ExecuteImmediate, tree: Node | None, inner: Rewriter) -> Lines:
        walk = self.walk
        if isinstance(tree, Insert | Update | Delete | Merge) and not getattr(tree, "returning", None):
            walk.unit.changes = True
            return [f"{inner.node(tree).rstrip().rstrip(';')};"]
        block = tree.query.blocks[0] if isinstance(tree, QueryStatement) else None
        if not isinstance(tree, QueryStatement) or not isinstance(block, Select) or len(tree.query.blocks) > 1:
            raise CannotDraft("a text that is run and is no query or change of rows")
        walk.unit.reads = True
        if isinstance(node, ExecuteImmediate):
            if node.bulk or not node.into:
                raise CannotDraft("a query that is run as a text, with other rows than one")
            within = type(walk)(inner, walk.speech, walk.unit, {}, Cursors(inner, walk.speech, walk.unit))
            within.catching, within.missing = walk.catching, walk.missing
            return within.fill_into(tree.query, block, walk.targets(node.into))
        if walk.unit.form == "function" or block.into:
            raise CannotDraft("a query that is run as a text in a function, or fills something")
        return walk.speech.result(inner.node(tree).rstrip().rstrip(";"))
