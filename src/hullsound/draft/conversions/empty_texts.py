"""Empty texts of Oracle, which are NULL there: where a function gives one and what is around it tells the two apart.

Source: Oracle SQL Language Reference, "Nulls" and "REPLACE".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    Comparison,
    Literal,
    NamedArgument,
    Node,
    Operation,
    Paren,
    Return,
    Select,
)

_CUTTING: Final = frozenset(("TRIM", "LTRIM", "RTRIM", "REPLACE", "TRANSLATE", "REGEXP_REPLACE"))
"""Functions that may leave nothing of a text."""
_FILLING: Final = frozenset(("LPAD", "RPAD"))
_PASSING: Final = _CUTTING | {"SUBSTR", "SUBSTRB", "UPPER", "LOWER", "INITCAP", "NLS_UPPER", "NLS_LOWER", "NLS_INITCAP"}
"""Functions that make nothing of nothing, whether that is NULL or an empty text."""
_TRIMMING: Final = frozenset(("TRIM", "RTRIM"))
"""Functions that leave no text of blanks alone."""
_WRITING: Final = frozenset(("CONCAT", "PUT", "PUT_LINE", "RAISE_APPLICATION_ERROR"))
"""Calls to which NULL and an empty text are the same."""
_EQUAL: Final = frozenset(("=", ">", ">="))
"""Comparisons that an empty text on the left fails as NULL does, where the other side is none."""


def add_empty_texts(rewriter: Rewriter) -> None:
    """Make NULL of what may be an empty text; take NULL for an empty text in REPLACE."""
    for node in (*rewriter.subject.all(Call), *rewriter.subject.all(Operation)):
        if may_be_empty(node, rewriter):
            outer = _told_apart(node, rewriter)
            if outer is not None:
                rewriter.wrap(outer, partial(_null_if_empty, outer), rank=8)
    for call in rewriter.subject.all(Call):
        if call.parts == ("REPLACE",):
            for argument in call.arguments[1:]:
                if not rewriter.types.is_never_null(argument):
                    rewriter.wrap(argument, partial(_empty_if_null, argument), rank=8)


def may_be_empty(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value may be an empty text though what it is made of is none."""
    if isinstance(node, Paren):
        return may_be_empty(node.inner, rewriter)
    if isinstance(node, Operation):
        return set(node.operators) == {"||"} and _joins_nothing(node.operands, rewriter)
    if not isinstance(node, Call) or len(node.parts) > 1:
        return False
    name, values = node.parts[0], node.arguments
    sources = [rewriter.subject.source(each) for each in values[1:]]
    if name in ("SUBSTR", "SUBSTRB") and sources:
        return sources[0] != "1" or any(not length.isdigit() for length in sources[1:])
    if name in _FILLING and sources:
        return not sources[0].isdigit() or sources[0] == "0"
    if name == "CONCAT":
        return _joins_nothing(values, rewriter)
    if name in ("REPLACE", "REGEXP_REPLACE") and len(values) > 2:
        return "\\" in sources[1] or not text_value(values[2], rewriter)
    if name == "TRANSLATE" and len(values) == 3:
        old, new = (text_value(each, rewriter) for each in values[1:])
        return old is None or new is None or len(old) > len(new)
    return name in _CUTTING


def _joins_nothing(operands: list[Node], rewriter: Rewriter) -> bool:
    return not any(rewriter.types.is_never_null(each) and rewriter.subject.source(each) != "''" for each in operands)


def _told_apart(node: Node, rewriter: Rewriter) -> Node | None:
    """Return the outermost expression that is empty where the node is, if what is around it tells that from NULL."""
    keys = _keys(node, rewriter)
    while True:
        parent = rewriter.subject.read.parent(node)
        is_key = bool(keys) and rewriter.subject.source(node) in keys
        if isinstance(parent, Paren) or (not is_key and _passes(parent, node)):
            node = parent  # type: ignore[assignment]  # one that passes is there
            continue
        return node if is_key or not _takes_both_alike(parent, node, rewriter) else None


def _keys(node: Node, rewriter: Rewriter) -> set[str]:
    """Return the texts of the keys of the innermost query around a node: the same text must stay the same everywhere in it."""
    select = rewriter.subject.read.innermost(Select, node)
    return {rewriter.subject.source(key) for key in select.group} if select is not None else set()


def _passes(parent: Node | None, node: Node) -> bool:
    """Whether the value of a node decides whether that of its parent is NULL or empty, and nothing else tells the two apart."""
    if isinstance(parent, Case):
        return parent.otherwise is node or any(result is node for _, result in parent.branches)
    return isinstance(parent, Call) and parent.parts[-1] in _PASSING and parent.arguments[:1] == [node]


def _takes_both_alike(parent: Node | None, node: Node, rewriter: Rewriter) -> bool:
    """Whether NULL and an empty text are the same to what is around a node."""
    if isinstance(parent, Call):
        return parent.parts[-1] in _WRITING or (parent.parts == ("REPLACE",) and parent.arguments[:1] != [node])
    if isinstance(parent, Operation):
        if set(parent.operators) == {"||"}:
            return True
        others = [each for each in parent.operands if each is not node]
        is_left = parent.operands[0] is node
        fails = parent.operators == ["="] or (is_left and len(parent.operators) == 1 and parent.operators[0] in _EQUAL)
        return fails and not any(may_be_empty(each, rewriter) for each in others) and _is_plain_test(parent, rewriter)
    if isinstance(parent, Comparison) and not parent.negated and parent.operands[0] is node:
        others = parent.operands[1:]
        if parent.operator == "IN":
            fails = all(isinstance(each, Literal) for each in others)
        else:
            fails = parent.operator == "LIKE" and bool((text_value(others[0], rewriter) or "").strip("%"))
        return fails and _is_plain_test(parent, rewriter)
    return False


def _is_plain_test(test: Node, rewriter: Rewriter) -> bool:
    """Whether a condition that is not known does what one that is false does: it is not negated, and its value is not kept."""
    parent = rewriter.subject.read.parent(test)
    while isinstance(parent, Paren) or (isinstance(parent, Operation) and set(parent.operators) <= {"AND", "OR"}):
        parent = rewriter.subject.read.parent(parent)
    return not isinstance(parent, Operation | Comparison | Call | Assign | Return | NamedArgument)


def _null_if_empty(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    if rewriter.target.engine in ("mysql", "mariadb") and not (isinstance(node, Call) and node.parts[0] in _TRIMMING):
        return f"IF({text} LIKE '', NULL, {text})"  # blanks alone are equal to an empty text there
    return f"NULLIF({text}, '')"


def _empty_if_null(node: Node, rewriter: Rewriter) -> str:
    if isinstance(node, Literal):
        return "''"
    return f"COALESCE({rewriter.node(node)}, '')"
