"""Calls of a program, and the lists of strings that some of them put together."""

from typing import TYPE_CHECKING

from .languages import CALLS, ELEMENTS, LISTS, STRINGS

if TYPE_CHECKING:
    from tree_sitter import Node


def call_parts(node: "Node") -> "tuple[Node | None, Node | None, list[Node]]":
    """Return the object, the name and the values of a call, in any of the grammars; None for what it has not."""
    function = node.child_by_field_name("function")
    target = node.child_by_field_name("object") or node.child_by_field_name("receiver")
    method = node.child_by_field_name("name") or node.child_by_field_name("method")
    named = node.named_children
    if function is None and target is None and method is None and named:
        function = named[0]
    if function is not None:
        inner = function.named_children
        target, method = (inner[0], inner[-1]) if len(inner) > 1 else (None, function)
        if not inner and target is None:
            method = function
    arguments = node.child_by_field_name("arguments") or next(
        (child for child in named if child.type in ("value_arguments", "argument_list")), None
    )
    return target, method, elements_of(arguments) if arguments is not None else []


def elements_of(node: "Node") -> "list[Node]":
    """Return the values of a list or of the arguments of a call, without what a grammar puts around each."""
    found = []
    for child in node.named_children:
        while child.type in ELEMENTS and child.named_children:
            child = child.named_children[-1]
        if child.type != "comment":
            found.append(child)
    return found


def joined_list(node: "Node") -> "tuple[Node | None, list[Node]]":
    """Return the separator of a call that joins strings, and the strings; no strings where they are not written there.

    Languages differ in who comes first: `' '.join([a, b])`, `[a, b].join(' ')`, `join(' ', [a, b])`, `join([a, b], ' ')`,
    `join(' ', a, b)`; and concat(a, b) has no separator.
    """
    target, _, values = call_parts(node)
    if target is not None and _is_list(target):
        return (values[0] if values else None), _elements(target)
    if target is not None and target.type in STRINGS and len(values) == 1 and _is_list(values[0]):
        return target, _elements(values[0])
    lists = [value for value in values if _is_list(value)]
    if len(values) == 2 and len(lists) == 1:
        return next(value for value in values if not _is_list(value)), _elements(lists[0])
    if _method_text(node) in (b"Concat", b"concat"):
        return None, values
    return (values[0], values[1:]) if len(values) > 2 else (None, [])


def _is_list(node: "Node") -> bool:
    if node.type in LISTS:
        return True
    method = call_parts(node)[1] if node.type in CALLS else None
    return method is not None and method.text in (b"listOf", b"arrayOf", b"of", b"asList")


def _elements(node: "Node") -> "list[Node]":
    if node.type in CALLS:
        return call_parts(node)[2]
    inner = next((child for child in node.named_children if child.type == "literal_value"), None)
    return elements_of(inner if inner is not None else node)


def _method_text(node: "Node") -> bytes | None:
    method = call_parts(node)[1]
    return method.text if method is not None else None
