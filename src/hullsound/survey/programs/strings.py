"""Folds the strings of a program: literals put together, constants, and builders that append step by step."""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

from .languages import (
    ADDITION_SIGNS,
    ADDITIONS,
    ASSIGNMENTS,
    BUILDERS,
    CALLS,
    CHAINS,
    COMMENTS,
    CONTENTS,
    DECLARATORS,
    DELIMITERS,
    ESCAPES,
    FUNCTIONS,
    GROUPS,
    JOIN_SIGNS,
    JOINERS,
    JOINS,
    KOTLIN,
    LINE_BUILDERS,
    NAMES,
    SHIFTS,
    STRINGS,
    parser_for,
)  # fmt: skip
from .lists import call_parts, elements_of, joined_list
from .model import FoundSql, Piece, without_margin
from .recognize import is_sql
from .texts import LookUp, Pieces, Texts

if TYPE_CHECKING:
    from tree_sitter import Node

_ESCAPED: Final = {"n": "\n", "t": "\t", "r": " ", '"': '"', "'": "'", "\\": "\\", "`": "`", "$": "$", "\n": " "}
_DEEPEST: Final = 200
"""Depth of nesting up to which strings are put together: generated code nests by thousands."""
_NOT_SQL: Final = ("NamedQuery", "NamedQueries")
"""Annotations whose queries are of the framework's own language."""
_MATTERS: Final = re.compile(rb"[\"'`]|<<|%[qQ]|\bqq?\W|[+.]=|=\s*\w+\s*[+.]|" + "|".join(sorted(BUILDERS)).encode())
"""Bytes without which a part of a program holds no string and puts nothing to one."""
_DOLLAR: Final = re.compile(rb"\$[A-Za-z_]\w*")
"""A value within a string of Kotlin, whose grammar takes it for text."""
_MACRO_PART: Final = re.compile(rb'"((?:[^"\\\n]|\\.)*)"|#\w+')
_MACRO_TEXT: Final = re.compile(rb'"(?:[^"\\\n]|\\.)*"(?:[\s\\]*(?:"(?:[^"\\\n]|\\.)*"|#\w+))*')
_CLASS: Final = re.compile(rb"\b(?:class|object|module|struct|enum|interface|trait|record|namespace|package)\s+(\w+)")
_RECEIVER: Final = "()"
"""Stands for the text that is being built where append has no object, as in buildString of Kotlin."""


def find_in_source(text: str, suffix: str, elsewhere: LookUp = lambda *_: None) -> list[FoundSql] | None:
    """Return the SQL in the strings of a program, in the order of its lines; None where its grammar is not there.

    `elsewhere` is asked for the constants of other files, by the name of the file and of the constant.
    """
    texts = _fold(text, suffix)
    return texts.found(elsewhere) if texts is not None else None


def constants_in(text: str, suffix: str) -> dict[str, Pieces]:
    """Return the texts of a program that names are given, each name but one text."""
    texts = _fold(text, suffix)
    return texts.known() if texts is not None else {}


def _fold(text: str, suffix: str) -> Texts | None:
    parser = parser_for(suffix)
    if parser is None:
        return None
    data = text.encode()
    tree = parser.parse(data)
    folder = _Folder(data, has_dollars=suffix in KOTLIN, is_python=suffix == ".py")
    folder.gather(tree.root_node)
    return folder.texts


class _Folder:
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

    def gather(self, root: "Node") -> None:
        """Walk the tree without recursion, statement by statement in the order of the text."""
        stack = [root]
        while stack:
            node = stack.pop()
            kind = node.type
            at = bisect_left(self.matters, node.start_byte)
            if kind not in STRINGS and (at == len(self.matters) or self.matters[at] >= node.end_byte):
                continue
            if kind in COMMENTS or self._is_passed_over(node):
                continue
            if kind in FUNCTIONS:
                self.texts.end_scope()
            if self._take(node):
                stack.extend(reversed(self.within))
            else:
                stack.extend(reversed(node.children))
            self.within.clear()

    def _is_passed_over(self, node: "Node") -> bool:
        """Whether a node holds no text of the program: a documentation string, or a query of a framework's own language."""
        if self.is_python and node.type == "expression_statement":
            return len(node.named_children) == 1 and node.named_children[0].type in STRINGS
        return node.type in ("marker_annotation", "annotation") and (
            self._text(node.child_by_field_name("name")) in _NOT_SQL
        )

    def _take(self, node: "Node") -> bool:
        """Take the text that a node is or gives; returns whether there is nothing else in it."""
        kind = node.type
        if kind in ASSIGNMENTS:
            return self._assign(node)
        if kind in ADDITIONS:
            return self._add(node)
        if kind in SHIFTS and any(child.type == "<<" for child in node.children):
            return self._shift(node)
        if kind in CALLS and self._append(node):
            return True
        if kind in ("preproc_def", "preproc_function_def"):
            return self._define(node)
        pieces = self._fold(node)
        if pieces is not None:
            self.texts.add(pieces)
        return pieces is not None

    # --- statements ---

    def _assign(self, node: "Node") -> bool:
        if any(child.type in ADDITION_SIGNS for child in node.children):
            return self._add(node)
        name, value = self._name_and_value(node)
        if not name or value is None:
            return False
        pieces = self._fold(self._built(value))
        if pieces is None:
            self.texts.forget(name)
            return False
        self.texts.assign(name, pieces)
        return True

    def _name_and_value(self, node: "Node") -> "tuple[str, Node | None]":
        fields = ("name", "value"), ("left", "right"), ("declarator", "value")
        name = next((found for each, _ in fields if (found := node.child_by_field_name(each)) is not None), None)
        value = next((found for _, each in fields if (found := node.child_by_field_name(each)) is not None), None)
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
            inner = elements_of(arguments if arguments is not None else value)
            if len(inner) == 1:
                return self._built(inner[0])
        return value

    def _add(self, node: "Node") -> bool:
        name, value = self._name_and_value(node)
        if name not in self.texts.open or value is None:
            return False
        return self._extend(name, value)

    def _append(self, node: "Node") -> bool:
        """Take in builder.append(x), also in a chain; returns whether the node was one."""
        target, method, values = call_parts(node)
        if method is None or self._text(method) not in BUILDERS or not values:
            return False
        if target is not None and target.type in CALLS:
            self._append(target)
        name = self._root_name(target) if target is not None else _RECEIVER
        return bool(name) and self._extend(name, values[0], ends_line=self._text(method) in LINE_BUILDERS)

    def _shift(self, node: "Node") -> bool:
        """Take in text << x << y, which appends to a text."""
        parts: list[Node] = []
        while node.type in SHIFTS and any(child.type == "<<" for child in node.children):
            parts.append(node.named_children[-1])
            node = node.named_children[0]
        name = self._name(node)
        taken = [self._extend(name, part, in_list=True) for part in reversed(parts)] if name else [False]
        return any(taken)

    def _define(self, node: "Node") -> bool:
        """Take in the texts of a macro of C, which the grammar leaves as they stand: strings side by side, with #name put in."""
        name, value = node.child_by_field_name("name"), node.child_by_field_name("value")
        if name is None or value is None:
            return False
        for run in _MACRO_TEXT.finditer(self.data, value.start_byte, value.end_byte):
            pieces = []
            for part in _MACRO_PART.finditer(run[0]):
                start = run.start() + part.start()
                if part[1] is not None:
                    pieces.append(self._piece_at(start + 1, start + len(part[0]) - 1))
                else:
                    pieces.append(Piece("", *self._place(start), part[0].decode()))
            if node.type == "preproc_def":
                self.texts.assign(self._text(name), tuple(pieces))
            else:
                self.texts.add(tuple(pieces))
        return True

    def _root_name(self, node: "Node") -> str:
        while node.type in CALLS:
            function = node.child_by_field_name("object") or node.child_by_field_name("function")
            if function is None or (not function.named_children and function.type not in NAMES):
                return _RECEIVER if function is not None else ""
            node = function if function.type in NAMES or function.type in CALLS else function.named_children[0]
        return self._name(node)

    def _extend(self, name: str, value: "Node", *, ends_line: bool = False, in_list: bool = False) -> bool:
        pieces = self._fold(value)
        if pieces is None:
            if name not in self.texts.open:
                return False
            pieces = (self._hole(value),)
        if ends_line:
            pieces = (*pieces, Piece(" ", *self._place(value.end_byte)))
        self.texts.extend(name, pieces, in_list=in_list or self.is_python)
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
            pieces = tuple(self._string(node, depth))
            if self.has_dollars:
                pieces = without_margin(pieces)
            return pieces or (self._piece_at(node.start_byte, node.start_byte),)
        if node.type in CALLS or node.type == "element_value_array_initializer":
            return self._fold_list(node, depth)
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

    def _fold_list(self, node: "Node", depth: int) -> Pieces | None:
        """Fold the strings of a list that a call puts together, or that an annotation holds one line each."""
        if node.type in CALLS:
            method = call_parts(node)[1]
            if method is None or self._text(method) not in JOINERS:
                return None
            separator, parts = joined_list(node)
        else:
            separator, parts = None, elements_of(node)
        between = (
            "".join(piece.text for piece in self._fold(separator, depth + 1) or ()) if separator is not None else ""
        )
        if node.type not in CALLS:
            between = " "
        folded = [self._fold(part, depth + 1) for part in parts]
        if all(pieces is None for pieces in folded) or any(
            pieces is not None and is_sql(FoundSql(pieces).text) for pieces in folded[1:]
        ):
            return None
        found: list[Piece] = []
        for part, pieces in zip(parts, folded, strict=True):
            if found and between:
                found.append(Piece(between, *self._place(part.start_byte)))
            found += pieces if pieces is not None else (self._hole(part),)
        return tuple(found)

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
            elif kind in GROUPS or (kind in STRINGS and depth < _DEEPEST):
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

    # --- text and places ---

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
