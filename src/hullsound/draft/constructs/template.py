"""Templates of stances: text with {0}, {1} ... for arguments and {*} for all of them."""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Case, Comparison, Name, Node, Operation

_PLACE: Final = re.compile(r"\{(\d+|\*)\}")

_ONE_CALL: Final = re.compile(r"\w+\([^()]*\)")
"""A template that can take DISTINCT, and a clause behind it."""


def fill_template(template: str, place: Found, rewriter: Rewriter) -> str:
    """Fill a template with the rewritten arguments of a call or the operands of an operator.

    Raises CannotDraft if an argument is missing, or given without a place for it.
    """
    node = place.node
    if not isinstance(node, Call | Name | Operation | Comparison):
        raise CannotDraft("only calls and operators have arguments")
    arguments: list[Node] = (
        [] if isinstance(node, Name) else node.arguments if isinstance(node, Call) else node.operands
    )
    if isinstance(node, Operation) and len(arguments) > 2:
        raise CannotDraft("several operators in a row")

    if isinstance(node, Call):
        _check_words(node, template, rewriter)
    places = _PLACE.findall(template)
    if isinstance(node, Call) and "*" not in places and len(arguments) > max(map(int, places), default=-1) + 1:
        raise CannotDraft(f"{node.parts[-1]} with {len(arguments)} arguments")

    def fill(match: re.Match[str]) -> str:
        if match[1] == "*":
            return rewriter.nodes(arguments)
        index = int(match[1])
        if index >= len(arguments):
            raise CannotDraft(f"argument {index + 1} is missing")
        text = rewriter.node(arguments[index])
        stands_alone = template[match.start() - 1] in "(," or template[match.start() - 2 : match.start()] == ", "
        is_closed = template[match.end() : match.end() + 1] in (")", ",", "")
        loose = isinstance(arguments[index], Operation | Comparison | Case)
        return f"({text})" if loose and not (stands_alone and is_closed) else text

    text = _PLACE.sub(fill, template)
    if isinstance(node, Call):
        if node.quantifier:
            text = text.replace("(", f"({node.quantifier} ", 1)
        tail = rewriter.text(node.closing + 1, node.last)
        return f"{text} {tail}" if tail else text
    return text


def _check_words(call: Call, template: str, rewriter: Rewriter) -> None:
    """Raise CannotDraft for words in or behind the brackets for which the template has no place."""
    ends = [each.last for each in call.arguments] or [call.closing]
    begins = [each.first for each in call.arguments[1:]] + [call.closing]
    between = [rewriter.words[end:begin] for end, begin in zip(ends, begins, strict=True)]
    if call.opening >= 0 and any(words not in ([","], []) for words in between):
        raise CannotDraft(f"{call.parts[-1]} with words between its arguments")
    is_one_call = _ONE_CALL.fullmatch(template) is not None
    if not is_one_call and (call.quantifier or call.last > call.closing + 1):
        raise CannotDraft(f"{call.parts[-1]} with DISTINCT, or over a window or a part of the rows")
