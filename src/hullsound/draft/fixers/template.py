"""Templates of stances: text with {0}, {1} ... for arguments and {*} for all of them."""

import re
from typing import Final

from hullsound.draft.rewrite import CannotDraft, Rewriter
from hullsound.sight.subject import Found
from hullsound.sql.tree import Call, Name, Node

_PLACE: Final = re.compile(r"\{(\d+|\*)\}")


def fill_template(template: str, place: Found, rewriter: Rewriter) -> str:
    """Fill a template with the rewritten arguments of a call. Raises CannotDraft if an argument is missing."""
    arguments: list[Node] = place.node.arguments if isinstance(place.node, Call) else []
    if not isinstance(place.node, Call | Name):
        raise CannotDraft("only calls have arguments")

    def fill(match: re.Match[str]) -> str:
        if match[1] == "*":
            return rewriter.nodes(arguments)
        index = int(match[1])
        if index >= len(arguments):
            raise CannotDraft(f"argument {index + 1} is missing")
        return rewriter.node(arguments[index])

    text = _PLACE.sub(fill, template)
    if isinstance(place.node, Call):
        tail = rewriter.text(place.node.closing + 1, place.node.last)
        return f"{text} {tail}" if tail else text
    return text
