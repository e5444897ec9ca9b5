"""Templates of stances: text with {0}, {1} ... for arguments and {*} for all of them."""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Case, Comparison, Name, Node, Operation

_PLACE: Final = re.compile(r"\{(\d+|\*)\}")


def fill_template(template: str, place: Found, rewriter: Rewriter) -> str:
    """Fill a template with the rewritten arguments of a call or the operands of an operator.

    Raises CannotDraft if an argument is missing, or given without a place for it in a template that has places.
    """
    node = place.node
    if not isinstance(node, Call | Name | Operation | Comparison):
        raise CannotDraft("only calls and operators have arguments")
    arguments: list[Node] = (
        [] if isinstance(node, Name) else node.arguments if isinstance(node, Call) else node.operands
    )
    if isinstance(node, Operation) and len(arguments) > 2:
        raise CannotDraft("several operators in a row")

    places = _PLACE.findall(template)
    if isinstance(node, Call) and places and "*" not in places and len(arguments) > max(map(int, places)) + 1:
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
        tail = rewriter.text(node.closing + 1, node.last)
        return f"{text} {tail}" if tail else text
    return text
