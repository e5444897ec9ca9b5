"""SQL that code builds as text: the constants it is built from are drafted as the statement that they make together."""

import re
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.dynamic import PLACEHOLDER, Dynamic, read_dynamic
from hullsound.sql.edit import Edit, apply_edits
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Assign,
    Bind,
    Delete,
    Execute,
    Insert,
    Literal,
    Merge,
    Name,
    NamedArgument,
    Node,
    Operation,
    OtherStatement,
    Prepare,
    QueryStatement,
    Select,
    SelectItem,
    Update,
)

from .queries import assigns

_PARAMETER = re.compile(r"(@[\w#$]+)([^@]*)")


@dataclass(eq=False)
class Site:
    """A statement that runs a text: what the text is, and what is handed in and out."""

    node: Node
    dynamic: Dynamic
    inputs: list[str] = field(default_factory=list)
    """Names of the text's parameters in their order, those that give something back among them."""
    outputs: list[str] = field(default_factory=list)
    """Names of the parameters that the text gives values to, in the order of its columns."""
    taken: list[Name] = field(default_factory=list)
    """The places for values in the text, in their order."""
    problem: str = ""
    """Why it cannot be drafted; '' if it can."""

    @property
    def tree(self) -> Node | None:
        reads = self.dynamic.reads
        return reads[0].tree if len(reads) == 1 else None

    @property
    def gives_rows(self) -> bool:
        """Whether the text is a query whose rows go to the caller."""
        tree = self.tree
        return isinstance(tree, QueryStatement) and not _assigning_items(tree) and not _into(tree)

    def argument(self, name: str) -> Node | None:
        """Return what is handed over for a parameter of the text."""
        if not isinstance(self.node, Execute):
            return None
        given = self.node.arguments[2:]
        for place, each in enumerate(given):
            named = isinstance(each, NamedArgument)
            if (isinstance(each, NamedArgument) and each.name == name) or (
                not named and place < len(self.inputs) and self.inputs[place] == name
            ):
                return each.value if isinstance(each, NamedArgument) else each
        return None


_ENGINES: Final = frozenset(("sqlserver", "ase", "oracle", "mysql", "mariadb", "db2"))
_UNKNOWN_NAME: Final = re.compile(rf"`[^`]*{PLACEHOLDER}[^`]*`|\[[^\]]*{PLACEHOLDER}[^\]]*\]")
_QUOTES: Final = {"mysql": ("`", "`"), "mariadb": ("`", "`"), "sqlserver": ("[", "]"), "oracle": ("", "")}
"""Quotes around such names; Oracle would tell case apart between quotes."""
_ASIDE: Final = ("before", "behind")
"""Where an edit may go on that keeps an unknown part."""
_MOST_WORDS: Final = 5
_PLAIN: Final = frozenset(("truncate table", "truncate", "drop table"))
"""Statements that read alike on both sides, as long as they only name a table."""
_ODD_WORDS: Final = frozenset(("PURGE", "STORAGE", "CONSTRAINTS", "PARTITION", "IMMEDIATE"))
"""Words behind the table that PostgreSQL does not read."""


def read_sites(read: ReadStatement, engine: str) -> dict[Node, Site]:
    """Return the places of a unit that run a text, by their nodes."""
    if engine not in _ENGINES:
        return {}
    sites = {}
    for dynamic in read_dynamic(read, engine):
        names = [name.upper() for name, _ in _PARAMETER.findall(dynamic.parameters)]
        sites[dynamic.node] = Site(dynamic.node, dynamic, names)
    for node in read.all(Execute):
        name = node.text.parts[-1] if isinstance(node.text, Name) else ""
        prepared = [p for p in read.all(Prepare) if p.name == name and p.first < node.first and p in sites]
        if prepared and node not in sites:
            sites[node] = sites[prepared[-1]]
    return sites


def _into(tree: Node | None) -> list[Node]:
    """Return the variables that a query of a text fills."""
    blocks = tree.query.blocks if isinstance(tree, QueryStatement) else []
    return [name for block in blocks if isinstance(block, Select) for name in block.into]


def prepare_dynamic(rewriter: Rewriter) -> dict[Node, Site]:
    """Add points for the constants of texts that are run."""
    sites = read_sites(rewriter.subject.read, rewriter.catalog.engine)
    prepare_sites(list(dict.fromkeys(sites.values())), rewriter)
    return sites


def prepare_sites(sites: list[Site], rewriter: Rewriter) -> None:
    """Add points for the constants of the texts of some places; say in each place why its text cannot be drafted."""
    changed: dict[Literal, str] = {}
    for site in sites:
        try:
            assert rewriter.another is not None
            edits = _edits_inside(site, rewriter.another)
            for constant, text in _spread(edits, site.dynamic).items():
                if changed.setdefault(constant, text) != text:
                    raise CannotDraft("a constant that stands in several texts that are run")
        except CannotDraft as reason:
            site.problem = str(reason)
    for constant, text in changed.items():
        rewriter.add(Point(constant.first, constant.last, partial(_content, rewriter.names.text(text)), rank=3))


def _content(text: str, rewriter: Rewriter) -> str:
    return text


def _edits_inside(site: Site, make: Callable[[ReadStatement], Rewriter]) -> list[Edit]:
    """Return the edits on the built text. Raises CannotDraft if it is not one statement that can be drafted."""
    tree = site.tree
    read = site.dynamic.reads[0] if site.dynamic.reads else None
    if read is not None and isinstance(tree, OtherStatement) and tree.words in _PLAIN:
        if tree.last - tree.first > _MOST_WORDS or not _ODD_WORDS.isdisjoint(read.tokens.words[tree.first : tree.last]):
            raise CannotDraft("a statement built at run time with words that the target does not read")
        return []
    if read is None or not isinstance(tree, QueryStatement | Insert | Update | Delete | Merge | Assign):
        raise CannotDraft("a statement built at run time that is not known well enough")
    with closing(make(read)) as inner:
        return _edits_of_statement(read, tree, site, inner)


def _edits_of_statement(read: ReadStatement, tree: Node, site: Site, inner: Rewriter) -> list[Edit]:
    if inner.unconverted:
        raise CannotDraft(inner.unconverted[0].reason)
    if isinstance(tree, Assign):
        _assignment(tree, site, inner)
    for item in _assigning_items(tree):
        value = item.value
        assert isinstance(value, Operation)
        assert isinstance(value.operands[0], Name)
        site.outputs.append(value.operands[0].parts[0])
        inner.replace(item.first, value.operands[1].first, "")
    filled = _into(tree)
    for block in read.all(Select):
        if block.into and block.into_span is not None:
            site.outputs += [name.parts[0] for name in block.into if isinstance(name, Name)]
            inner.replace(*block.into_span, "")
    places: list[Name] = list(read.all(Bind))
    places += [each for each in read.all(Name) if each.parts[0].startswith("@") and each not in filled]
    places = [each for each in places if not any(each in item.value.operands[:1] for item in _assigning_items(tree))]  # type: ignore[attr-defined]
    site.taken = sorted(places, key=lambda each: each.first)
    for number, each in enumerate(site.taken, start=1):
        if not isinstance(each, Bind) and each.parts[0] not in site.inputs:
            raise CannotDraft(f"the variable {each.parts[0].lower()} of the text that is run")
        given = number if isinstance(each, Bind) else site.inputs.index(each.parts[0]) + 1
        text = _place(inner.target.engine, number, given)
        inner.add(Point(each.first, each.last, partial(_content, text), rank=3))
    edits = inner.edits()
    if inner.skipped:
        raise CannotDraft(inner.skipped[0].reason)
    moved = (Edit(edit.start + read.start, edit.end + read.start, edit.new, edit.construct) for edit in edits)
    apart = (each for edit in moved for each in _around_unknown(edit, site.dynamic))
    quotes = _QUOTES.get(inner.target.engine, ('"', '"'))
    return [each for edit in apart for each in _quotes_apart(edit, site.dynamic.text, quotes)]


def _place(engine: str, number: int, given: int) -> str:
    """Write a place for a value: the one of so many that the text has, for the one of so many values that are given."""
    return {"postgresql": f"${given}", "oracle": f":{number}", "sqlserver": f"@hs_{number}"}.get(engine, "?")


def _around_unknown(edit: Edit, dynamic: Dynamic) -> list[Edit]:
    """Return the edits before and behind the one unknown part that an edit goes around and keeps."""
    kept = re.split(PLACEHOLDER, edit.new, flags=re.IGNORECASE)
    if len(kept) != len(_ASIDE) or _UNKNOWN_NAME.fullmatch(dynamic.text[edit.start : edit.end]) is not None:
        return [edit]
    sides: list[list[Edit]] = [[]]
    at = 0
    for piece in dynamic.pieces:
        start, at = at, at + len(piece.text)
        inside = max(edit.start, start), min(edit.end, at)
        if inside[0] >= inside[1]:
            continue
        if piece.literal is None:
            if piece.text != PLACEHOLDER:
                return [edit]
            sides.append([])
        else:
            sides[-1].append(Edit(*inside, "" if sides[-1] else kept[min(len(sides), 2) - 1], edit.construct))
    if len(sides) != len(_ASIDE) or any(text and not side for text, side in zip(kept, sides, strict=True)):
        return [edit]
    return [each for side in sides for each in side]


def _quotes_apart(edit: Edit, text: str, quotes: tuple[str, str]) -> list[Edit]:
    """Return the edits on the two quotes of a name of which only running code knows what stands between them."""
    if _UNKNOWN_NAME.fullmatch(text[edit.start : edit.end]) is None:
        return [edit]
    return [
        Edit(edit.start, edit.start + 1, quotes[0], edit.construct),
        Edit(edit.end - 1, edit.end, quotes[1], edit.construct),
    ]


def _assignment(tree: Assign, site: Site, inner: Rewriter) -> None:
    """SET @name = value in a text gives the value back as a query would."""
    if not isinstance(tree.target, Name):
        raise CannotDraft("an assignment in a text that is run")
    site.outputs.append(tree.target.parts[0])
    inner.replace(tree.first, tree.value.first, "SELECT ")


def _assigning_items(tree: Node) -> list[SelectItem]:
    if not isinstance(tree, QueryStatement) or len(tree.query.blocks) != 1:
        return []
    block = tree.query.blocks[0]
    return [item for item in block.items if assigns(item)] if isinstance(block, Select) else []


def _spread(edits: list[Edit], dynamic: Dynamic) -> dict[Literal, str]:
    """Return the new content of each constant. Raises CannotDraft for an edit that is not inside of one."""
    own: dict[Literal, list[Edit]] = {}
    contents: dict[Literal, str] = {}
    for edit in edits:
        at = 0
        for piece in dynamic.pieces:
            end = at + len(piece.text)
            if piece.literal is not None and at <= edit.start and edit.end <= end:
                moved = Edit(edit.start - at, edit.end - at, edit.new, edit.construct)
                if moved not in own.setdefault(piece.literal, []):
                    own[piece.literal].append(moved)
                contents[piece.literal] = piece.text
                break
            at = end
        else:
            raise CannotDraft("a part of a text that only running code knows, and that the target writes otherwise")
    return {constant: apply_edits(contents[constant], own[constant]) for constant in own}
