"""Folds the strings of a program: literals put together, constants, and builders that append step by step."""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

from .languages import (
    ADDITIONS,
    ASSIGNMENTS,
    BUILDERS,
    CALLS,
    COMMENTS,
    CONTENTS,
    DELIMITERS,
    ESCAPES,
    GROUPS,
    JOIN_SIGNS,
    JOINS,
    NAMES,
    STRINGS,
    parser_for,
)  # fmt: skip
from .model import FoundSql, Piece, trimmed
from .recognize import is_sql

if TYPE_CHECKING:
    from tree_sitter import Node

_ESCAPED: Final = {"n": "\n", "t": "\t", "r": " ", '"': '"', "'": "'", "\\": "\\", "`": "`", "$": "$"}
_DEEPEST: Final = 200
"""Depth of nesting up to which strings are put together: generated code nests by thousands."""
_NOT_SQL: Final = ("NamedQuery", "NamedQueries")
"""Annotations whose queries are of the framework's own language."""

Pieces = tuple[Piece, ...]
_MATTERS: Final = re.compile(rb"[\"'`]|<<|%[qQ]|[+.]=|=\s*\w+\s*[+.]|" + "|".join(sorted(BUILDERS)).encode())
"""Bytes without which a part of a program holds no string and puts nothing to one."""

_DOLLAR: Final = re.compile(rb"\$[A-Za-z_]\w*")
"""A value within a string of Kotlin, whose grammar takes it for text."""


def find_in_source(text: str, suffix: str) -> list[FoundSql] | None:
    """Return the SQL in the strings of a program, in the order of its lines; None where its grammar is not there."""
    parser = parser_for(suffix)
    if parser is None:
        return None
    data = text.encode()
    tree = parser.parse(data)
    folder = _Folder(data, has_dollars=suffix in (".kt", ".kts"))
    folder.gather(tree.root_node)
    return sorted(folder.found(), key=lambda each: (each.line, each.pieces[0].column))


class _Folder:
    def __init__(self, data: bytes, *, has_dollars: bool = False) -> None:
        self.data = data
        self.has_dollars = has_dollars
        self.matters = [match.start() for match in _MATTERS.finditer(data)]
        self.starts = [0, *(match.end() for match in re.finditer(b"\n", data))]
        self.constants: dict[str, Pieces] = {}
        self.several: set[str] = set()
        """Names that are given more than one text."""
        self.whole: list[Pieces] = []
        """Strings that are in no other string."""
        self.open: dict[str, int] = {}
        """Place in `whole` of the text that a name was given last, for what is appended to it."""

    def found(self) -> list[FoundSql]:
        folded = [trimmed(self._with_constants(pieces)) for pieces in self.whole]
        return [FoundSql(pieces) for pieces in folded if pieces and is_sql(FoundSql(pieces).text)]

    def gather(self, root: "Node") -> None:
        """Walk the tree without recursion, statement by statement in the order of the text."""
        stack = [root]
        while stack:
            node = stack.pop()
            kind = node.type
            at = bisect_left(self.matters, node.start_byte)
            if kind not in STRINGS and (at == len(self.matters) or self.matters[at] >= node.end_byte):
                continue
            if kind in COMMENTS:
                continue
            if kind in ASSIGNMENTS and self._assign(node):
                continue
            if kind in ADDITIONS and self._add(node):
                continue
            if kind in CALLS and self._append(node):
                continue
            if kind in ("marker_annotation", "annotation") and self._text(node.child_by_field_name("name")) in _NOT_SQL:
                continue
            if kind in STRINGS or (kind in JOINS and self._joins(node)):
                pieces = self._fold(node)
                if pieces is not None:
                    self.whole.append(pieces)
                    continue
            stack.extend(reversed(node.children))

    # --- statements ---

    def _assign(self, node: "Node") -> bool:
        name, value = self._name_and_value(node)
        if not name or value is None:
            return False
        pieces = self._fold(self._built(value))
        if pieces is None:
            return False
        if name in self.constants:
            self.several.add(name)
        self.constants[name] = pieces
        self.open[name] = len(self.whole)
        self.whole.append(pieces)
        return True

    def _name_and_value(self, node: "Node") -> "tuple[str, Node | None]":
        name = node.child_by_field_name("name") or node.child_by_field_name("left")
        value = node.child_by_field_name("value") or node.child_by_field_name("right")
        named = node.named_children
        if name is None and len(named) > 1:
            name = named[0]
        if value is None and len(named) > 1:
            value = named[-1]
        return (self._name(name) if name is not None else "", value)

    def _built(self, value: "Node") -> "Node":
        """Return what a builder begins with: the string in new StringBuilder("..."), or the one of a list of values."""
        if value.type in (
            "object_creation_expression",
            "expression_list",
            "parenthesized_expression",
            "variable_declaration",
        ):
            arguments = value.child_by_field_name("arguments")
            inner = (arguments if arguments is not None else value).named_children
            if len(inner) == 1:
                return self._built(
                    inner[0].named_children[0] if inner[0].type == "argument" and inner[0].named_children else inner[0]
                )
        return value

    def _add(self, node: "Node") -> bool:
        name, value = self._name_and_value(node)
        if name not in self.open or value is None:
            return False
        return self._extend(name, value)

    def _append(self, node: "Node") -> bool:
        """Take in builder.append(x), also in a chain; returns whether the node was one."""
        function = node.child_by_field_name("function")
        target = node.child_by_field_name("object")
        method = node.child_by_field_name("name")
        if function is not None and function.named_children:
            target = function.named_children[0]
            method = function.named_children[-1]
        if target is None or method is None or self._text(method) not in BUILDERS:
            return False
        if target.type in CALLS:
            self._append(target)
        name = self._root_name(target)
        arguments = node.child_by_field_name("arguments")
        values = arguments.named_children if arguments is not None else []
        if name not in self.open or len(values) != 1:
            return False
        value = values[0]
        return self._extend(
            name, value.named_children[0] if value.type == "argument" and value.named_children else value
        )

    def _root_name(self, node: "Node") -> str:
        while node.type in CALLS:
            function = node.child_by_field_name("object") or node.child_by_field_name("function")
            if function is None or (not function.named_children and function.type not in NAMES):
                return ""
            node = function if function.type in NAMES or function.type in CALLS else function.named_children[0]
        return self._name(node)

    def _extend(self, name: str, value: "Node") -> bool:
        pieces = self._fold(value)
        if pieces is None:
            pieces = (self._hole(value),)
        place = self.open[name]
        self.whole[place] = self.whole[place] + pieces
        self.constants[name] = self.whole[place]
        return True

    # --- expressions ---

    def _joins(self, node: "Node") -> bool:
        sign = node.child_by_field_name("operator")
        text = (
            self._text(sign) if sign is not None else next((c.type for c in node.children if c.type in JOIN_SIGNS), "")
        )
        return text in JOIN_SIGNS

    def _fold(self, node: "Node", depth: int = 0) -> Pieces | None:
        """Return the pieces of an expression that is, at least in part, a string; None where it is none."""
        if depth > _DEEPEST:
            return None
        if node.type in STRINGS:
            return tuple(self._string(node, depth))
        if node.type == "parenthesized_expression" and len(node.named_children) == 1:
            return self._fold(node.named_children[0], depth + 1)
        if node.type in JOINS and self._joins(node):
            return self._fold_join(node)
        if node.type in JOINS and any(child.type == "%" for child in node.children):
            # "... %s" % values: the text is the format, whose places are values
            return self._fold(node.named_children[0], depth + 1)
        return None

    def _fold_join(self, node: "Node") -> Pieces | None:
        """Fold a chain of joins, which nests to the left by as many as there are parts, without recursion."""
        parts: list[Node] = []
        while node.type in JOINS and self._joins(node):
            sides = [child for child in node.named_children if child.type not in COMMENTS]
            if len(sides) < 2:
                break
            parts.append(sides[-1])
            node = sides[0]
        parts.append(node)
        folded = [(part, self._fold(part)) for part in reversed(parts)]
        if all(pieces is None for _, pieces in folded):
            return None
        found: list[Piece] = []
        for part, pieces in folded:
            found += pieces if pieces is not None else (self._hole(part),)
        return tuple(found)

    def _string(self, node: "Node", depth: int) -> Iterator[Piece]:
        children = node.children
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
            if b"\n" in gap and not gap.strip():  # a line end that the grammar leaves out
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
            elif kind in GROUPS or (kind in STRINGS and depth < _DEEPEST):
                yield from self._string(child, depth + 1)
            elif kind in DELIMITERS or kind in COMMENTS or not child.is_named:
                continue
            else:
                yield self._hole(child)

    def _content(self, node: "Node") -> Iterator[Piece]:
        """Yield plain text, with the escapes that stand in it as nodes of their own."""
        start = node.start_byte
        for child in node.children:
            if child.type in ESCAPES:
                if child.start_byte > start:
                    yield self._piece_at(start, child.start_byte)
                yield self._piece(child, self._unescaped(child))
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
        line, column = self._place(node.start_byte)
        return Piece("", line, column, self._text(node).strip() or "?")

    def _with_constants(self, pieces: Pieces, depth: int = 0) -> Pieces:
        """Put constants in the place of their names, as far as one text is all that the name is given."""
        found: list[Piece] = []
        for piece in pieces:
            name = piece.hole.rpartition(".")[2].lstrip("$") if piece.hole else ""
            known = self.constants.get(name) if name and name not in self.several else None
            if known is None or depth > 5:
                found.append(piece)
                continue
            inner = self._with_constants(known, depth + 1)
            found += [Piece(each.text, piece.line, piece.column, each.hole) for each in inner]
        return tuple(found)

    # --- text and places ---

    def _name(self, node: "Node") -> str:
        if node.type in ("expression_list", "variable_declaration") and node.named_children:
            return self._name(node.named_children[0])
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
