"""Texts between quotes in programs, by the rules of each language."""

import re
from bisect import bisect_right
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

from .languages import (
    BUILDERS,
    CHAINS,
    COMMENTS,
    CONTENTS,
    DECLARATORS,
    DELIMITERS,
    ESCAPES,
    GROUPS,
    NAMES,
    STRINGS,
)  # fmt: skip
from .model import Piece
from .texts import Texts

if TYPE_CHECKING:
    from tree_sitter import Node


DEEPEST: Final = 200
"""Depth of nesting up to which strings are put together: generated code nests by thousands."""


_ESCAPED: Final = {"n": "\n", "t": "\t", "r": " ", '"': '"', "'": "'", "\\": "\\", "`": "`", "$": "$", "\n": " "}
_MATTERS: Final = re.compile(rb"[\"'`]|<<|%[qQ]|\bqq?\W|[+.]=|=\s*\w+\s*[+.]|" + "|".join(sorted(BUILDERS)).encode())
"""Bytes without which a part of a program holds no string and puts nothing to one."""


_DOLLAR: Final = re.compile(rb"\$[A-Za-z_]\w*")
"""A value within a string of Kotlin, whose grammar takes it for text."""


_CLASS: Final = re.compile(rb"\b(?:class|object|module|struct|enum|interface|trait|record|namespace|package)\s+(\w+)")


class TextReader:
    """Reads one text of a program, with its holes."""

    def __init__(self, data: bytes, *, has_dollars: bool, is_python: bool) -> None:
        self.data = data
        self.has_dollars = has_dollars
        self.is_python = is_python
        """Whether a string alone is documentation, and append is for lists."""
        self.matters = [match.start() for match in _MATTERS.finditer(data)]
        self.starts = [0, *(match.end() for match in re.finditer(b"\n", data))]
        self.texts = Texts(match[1].decode() for match in _CLASS.finditer(data))
        self.within: list[Node] = []
        """Values that were put into the text taken last, which may hold texts of their own."""

    def _string(self, node: "Node", depth: int) -> Iterator[Piece]:
        children = node.children
        if node.type in CONTENTS:
            yield from self._content(node)
            return
        if not any(
            child.type in CONTENTS or child.type in STRINGS or child.type in GROUPS or child.is_named
            for child in children
        ):
            yield from self._bare(node)
            return
        end = children[0].start_byte
        done = 0
        for child in children:
            gap = self.data[end : child.start_byte]
            if gap and not gap.strip() and node.type not in CHAINS:  # space that the grammar leaves out
                yield self._piece_at(end, child.start_byte)
            end = child.end_byte
            kind = child.type
            if kind in CONTENTS and self.has_dollars and not child.named_children:
                if child.start_byte >= done:  # the grammar cuts text at each dollar
                    done = self._end_of_text(child, children)
                    yield from self._with_dollars(child.start_byte, done)
            elif kind in CONTENTS:
                if child.named_children and kind not in ("string_content", "heredoc_content"):
                    yield from self._string(child, depth + 1)
                else:
                    yield from self._content(child)
            elif kind in ESCAPES:
                yield self._piece(child, self._unescaped(child))
            elif kind in GROUPS or (kind in STRINGS and depth < DEEPEST):
                yield from self._string(child, depth + 1)
            elif kind in DELIMITERS or kind in COMMENTS or not child.is_named:
                continue
            else:
                yield self._hole(child)

    def _content(self, node: "Node") -> Iterator[Piece]:
        """Yield plain text, with the escapes and values that stand in it as nodes of their own."""
        start = node.start_byte
        for child in node.children:
            if child.start_byte > start and child.is_named:
                yield self._piece_at(start, child.start_byte)
            if child.type in ESCAPES:
                yield self._piece(child, self._unescaped(child))
            elif child.is_named and child.type not in DELIMITERS:
                yield self._hole(child)
            if child.is_named:
                start = child.end_byte
        if node.end_byte > start:
            yield self._piece_at(start, node.end_byte)

    @staticmethod
    def _end_of_text(first: "Node", children: "list[Node]") -> int:
        """Return where the text ends that begins with a node and goes on in those behind it."""
        end = first.end_byte
        for child in children:
            if child.start_byte == end and child.type in CONTENTS and not child.named_children:
                end = child.end_byte
        return end

    def _with_dollars(self, start: int, end: int) -> Iterator[Piece]:
        """Yield plain text of Kotlin, with $name as a hole."""
        for match in _DOLLAR.finditer(self.data, start, end):
            if match.start() > start:
                yield self._piece_at(start, match.start())
            line, column = self._place(match.start())
            yield Piece("", line, column, match[0].decode())
            start = match.end()
        if end > start:
            yield self._piece_at(start, end)

    def _bare(self, node: "Node") -> Iterator[Piece]:
        """Yield the text of a string that has no nodes within: its quotes are cut off, doubled ones are one."""
        text = self._text(node)
        head = len(text) - len(text.lstrip("@$")) + 1
        quote = text[head - 1 : head]
        inner = text[head:-1] if len(text) > head and text.endswith(quote) else text[head:]
        line, column = self._place(node.start_byte)
        if inner:
            yield Piece(inner.replace(quote * 2, quote) if text.startswith("@") else inner, line, column + head)

    def _hole(self, node: "Node") -> Piece:
        if node.named_children:
            self.within.append(node)
        line, column = self._place(node.start_byte)
        return Piece("", line, column, self._text(node).strip() or "?")

    def _name(self, node: "Node") -> str:
        if node.type in DECLARATORS or node.type in ("expression_list", "variable_declaration"):
            return self._name(node.named_children[0]) if node.named_children else ""
        if node.type not in NAMES:
            return ""
        return self._text(node).rpartition(".")[2].lstrip("$").rpartition("->")[2]

    def _text(self, node: "Node | None") -> str:
        return self.data[node.start_byte : node.end_byte].decode(errors="replace") if node is not None else ""

    def _unescaped(self, node: "Node") -> str:
        sign = self._text(node)[1:2]
        return _ESCAPED.get(sign, " ")

    def _piece(self, node: "Node", text: str) -> Piece:
        line, column = self._place(node.start_byte)
        return Piece(text, line, column)

    def _piece_at(self, start: int, end: int) -> Piece:
        line, column = self._place(start)
        return Piece(self.data[start:end].decode(errors="replace"), line, column)

    def _place(self, offset: int) -> tuple[int, int]:
        line = bisect_right(self.starts, offset)
        return line, len(self.data[self.starts[line - 1] : offset].decode(errors="replace")) + 1
