"""Folds the strings of a program: literals put together, constants, and builders that append step by step."""

import re
from bisect import bisect_left
from typing import TYPE_CHECKING, Final

from hullsound.survey.programs.pieces import DEEPEST, TextReader

from .languages import (
    ADDITION_SIGNS,
    ADDITIONS,
    ASSIGNMENTS,
    BUILDERS,
    CALLS,
    COMMENTS,
    FUNCTIONS,
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

_NOT_SQL: Final = ("NamedQuery", "NamedQueries")
"""Annotations whose queries are of the framework's own language."""
_MACRO_PART: Final = re.compile(rb'"((?:[^"\\\n]|\\.)*)"|#\w+')
_MACRO_TEXT: Final = re.compile(rb'"(?:[^"\\\n]|\\.)*"(?:[\s\\]*(?:"(?:[^"\\\n]|\\.)*"|#\w+))*')
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


class _Folder(TextReader):
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
        if depth > DEEPEST:
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

    # --- text and places ---
