"""Scripts of the T-SQL family: batches ended by GO, whose statements need no terminator."""

import re
from functools import cache
from typing import Final

from hullsound.sql.clients.reader import FAULT, LOOK_AHEAD, ScriptReader, sniff
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import END, lex_into
from hullsound.sql.parser.tsql_flow import TsqlFlowParser
from hullsound.sql.statements import Directive, ReadStatement, Script
from hullsound.sql.tree import (
    AlterTable,
    AnonymousBlock,
    Block,
    CreateIndex,
    CreateRoutine,
    CreateSequence,
    CreateSynonym,
    CreateTable,
    CreateTrigger,
    CreateType,
    CreateView,
    Execute,
    Grant,
    If,
    Loop,
    Node,
    OtherStatement,
    PlainStatement,
    Statement,
    TryCatch,
    Unread,
)

_DEFINITIONS: Final = (
    CreateTable, AlterTable, CreateIndex, CreateView, CreateSequence, CreateSynonym, CreateType, CreateRoutine, CreateTrigger,
    Grant,
)  # fmt: skip
_FLOW: Final = (If, Loop, TryCatch, Block)
_SETTINGS: Final = {
    "QUOTED_IDENTIFIER": ("QUOTED_IDENTIFIER", "NO_QUOTED_IDENTIFIER"),
    "ANSI_NULLS": ("ANSI_NULLS", "NO_ANSI_NULLS"),
    "ANSINULL": ("ANSI_NULLS", "NO_ANSI_NULLS"),
}
"""Settings that routines keep as they were when these were made, with the modes they switch on and off."""


@cache
def _boundaries(engine: str) -> re.Pattern[str]:
    words = "|".join(re.escape(w) for w in sorted(load_dialect(engine).directives, key=len, reverse=True))
    return re.compile(
        rf"^[ \t]*(?:GO(?:[ \t]+(?P<times>\d+))?[ \t]*;?[ \t]*(?:--[^\n]*)?\r?$|(?P<word>{words})(?!\w)(?P<rest>[^\n]*))",
        re.MULTILINE,
    )


class BatchReader(ScriptReader):
    """Reads a script batch by batch."""

    _modes: frozenset[str] = frozenset()
    """Settings in force for the batch that is read."""

    def read(self) -> Script:
        tokens = self.tokens
        position = 0
        for match in _boundaries(self.dialect.engine).finditer(tokens.upper):
            start = match.start()
            if start < position:
                continue
            position = lex_into(tokens, self.dialect, position, start)
            if position > start:
                continue
            self._batch(start)
            if match["word"]:
                rest = tokens.text[match.start("rest") : match.end()].strip()
                self._directive(Directive(match["word"], rest, start, match.end()))
            elif match["times"] and int(match["times"]) != 1:
                self._directive(Directive("GO", match["times"], start, match.end()))
            position = match.end()
        lex_into(tokens, self.dialect, position, len(tokens.text))
        self._batch(len(tokens.text))
        return self.script

    def opens_code(self, at: int) -> bool:
        return True

    def _directive(self, directive: Directive) -> None:
        self.script.items.append(directive)
        if directive.word == ":SETVAR":
            name, _, value = directive.rest.partition(" ")
            self.variables[name.strip().upper()] = value.strip().strip("\"'")

    def _batch(self, offset: int) -> None:
        """Read the statements of a batch, which ends at `offset`."""
        tokens = self.tokens
        end = len(tokens.words)
        if self.open >= end:
            return
        tokens.add_end(offset)
        tokens.words += [""] * LOOK_AHEAD
        tokens.kinds += [END] * LOOK_AHEAD
        parser = TsqlFlowParser(tokens, self.dialect, self.open, self.variables)
        found: list[tuple[Node, list[Node]]] = []
        while parser.pos < end:
            if tokens.words[parser.pos] == ";":
                parser.pos += 1
                continue
            parser.nodes = []
            parser.depth = 0
            first = parser.pos
            try:
                node = parser.one_statement()
            except Exception as error:  # a fault of the parser costs the rest of the batch, and shows
                parser.nodes = []
                node = parser.unread(first, end, f"{FAULT}: {type(error).__name__}")
                parser.pos = end
            found.append((node, parser.nodes))
        del tokens.words[-LOOK_AHEAD:], tokens.kinds[-LOOK_AHEAD:]
        self._modes = self.dialect.modes
        self._switch_modes(self.open, end)
        self.open = end + 1
        shares_variables = any(isinstance(n, PlainStatement) and n.words == "declare" for n, _ in found)
        rest: list[tuple[Node, list[Node]]] = []
        for node, nodes in found:
            rest += self._definitions(node, nodes, is_alone=not shares_variables)
        if rest:
            self._block(rest)

    def _switch_modes(self, first: int, end: int) -> None:
        """Follow SET of what double quotes mean, and how NULLs compare, in the batches behind this one."""
        words, modes = self.tokens.words, set(self.dialect.modes)
        if "CREATE" in words[first:end] and "PROCEDURE" in words[first:end]:
            return  # what a procedure sets holds for nothing behind it
        for at in range(first, end - 1):
            if words[at] != "SET":
                continue
            stop = at + 2
            while words[stop] == "," and stop < end:
                stop += 2
            for name, (on, off) in _SETTINGS.items():
                if name in words[at + 1 : stop] and words[stop] in ("ON", "OFF"):
                    modes -= {on, off}
                    modes.add(on if words[stop] == "ON" else off)
        self.dialect = load_dialect(self.dialect.engine, frozenset(modes))

    def _definitions(self, node: Node, nodes: list[Node], *, is_alone: bool) -> list[tuple[Node, list[Node]]]:
        """Add what stands for itself; return what is left for the block that the batch is."""
        if isinstance(node, Unread):
            self._unread(node, nodes)
            return []
        if isinstance(node, _DEFINITIONS) and not _is_temporary(node):
            self._add(node, nodes)
            return []
        if isinstance(node, _FLOW):
            inner = [n for n in nodes if _defines(n) and n is not node]
            if inner or _only_drops(nodes):
                return self._guarded(node, nodes, inner)
        if not is_alone:
            return [(node, nodes)]
        if isinstance(node, Statement):
            self._add(node, nodes)
            return []
        if isinstance(node, Execute):
            words = "exec" if node.routine else "exec text"
            self._add(OtherStatement(node.first, node.last, words, node.routine), nodes)
            return []
        if isinstance(node, _FLOW):
            self._block([(node, nodes)])
            return []
        words = node.words if isinstance(node, PlainStatement) else type(node).__name__.lower()
        self._add(OtherStatement(node.first, node.last, words, ()), nodes)
        return []

    def _guarded(self, node: Node, nodes: list[Node], inner: list[Node]) -> list[tuple[Node, list[Node]]]:
        """Add definitions that stand inside IF or BEGIN ... END each by itself, and their guard as what it is."""
        outer = [n for n in inner if not any(m is not n and m.first <= n.first and n.last <= m.last for m in inner)]
        left = nodes
        for definition in outer:
            own = [n for n in left if definition.first <= n.first and n.last <= definition.last]
            left = [n for n in left if not (definition.first <= n.first and n.last <= definition.last)]
            assert isinstance(definition, Statement)
            self._add(definition, own)
        self._add(OtherStatement(node.first, node.last, "guard", ()), left)
        return []

    def _block(self, parts: list[tuple[Node, list[Node]]]) -> None:
        """Add statements that share variables as one anonymous block."""
        first, last = parts[0][0].first, parts[-1][0].last
        block = Block(first, last, [], [node for node, _ in parts], [], first, -1, last)
        tree = AnonymousBlock(first, last, block)
        nodes = [n for _, own in parts for n in own]
        self._add(tree, [*nodes, block, tree])

    def _unread(self, node: Unread, nodes: list[Node]) -> None:
        parser = self.make_parser(node.first)
        tokens = self.tokens
        tokens.words += [""] * LOOK_AHEAD
        tokens.kinds += [END] * LOOK_AHEAD
        tree = sniff(parser, node.first)
        del tokens.words[-LOOK_AHEAD:], tokens.kinds[-LOOK_AHEAD:]
        self.script.items.append(ReadStatement(tokens, node.first, node.last, tree, [*nodes, tree], False, self._modes))

    def _add(self, tree: Statement, nodes: list[Node]) -> None:
        if tree not in nodes[-1:]:
            nodes = [*nodes, tree]
        self.script.items.append(ReadStatement(self.tokens, tree.first, tree.last, tree, nodes, True, self._modes))


def _defines(node: Node) -> bool:
    """Whether a node brings an object about, or changes one that lasts."""
    if isinstance(node, OtherStatement):
        return node.words.startswith(("create ", "alter "))
    return isinstance(node, _DEFINITIONS) and not _is_temporary(node)


def _only_drops(nodes: list[Node]) -> bool:
    """Whether all that statements do is to drop objects, as scripts do before they create them."""
    doing = [n for n in nodes if isinstance(n, Statement | PlainStatement | Execute)]
    return bool(doing) and all(isinstance(n, OtherStatement) and n.words.startswith("drop ") for n in doing)


def _is_temporary(node: Node) -> bool:
    """Whether a definition is of a temporary table, which belongs to the code around it."""
    name = (
        node.name if isinstance(node, CreateTable | AlterTable) else node.table if isinstance(node, CreateIndex) else ()
    )
    return bool(name) and name[-1].startswith("#")
