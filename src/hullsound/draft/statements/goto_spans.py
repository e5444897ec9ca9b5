"""GOTO without GOTO: which statements of a list a block or loop holds that a jump leaves or repeats."""

from collections.abc import Sequence
from dataclasses import dataclass

from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.tree import Jump, Label, Node


@dataclass
class Span:
    """Statements [first, last] of one list that a label's block or loop holds."""

    first: int
    last: int
    label: str
    is_loop: bool


def places_of(
    label: Label, place: int, statements: Sequence[Node], gotos: Sequence[Jump]
) -> tuple[list[tuple[int, Jump]], list[tuple[int, Jump]]]:
    """Return the jumps ahead and back to the label at a place of a list, each with the place of the statement it stands in.

    Raises CannotDraft for a jump from outside of the list.
    """
    ahead: list[tuple[int, Jump]] = []
    back: list[tuple[int, Jump]] = []
    for goto in gotos:
        if goto.label != label.name:
            continue
        at = next((i for i, s in enumerate(statements) if s.first <= goto.first < s.last), None)
        if at is None:
            raise CannotDraft("GOTO into a block")
        (ahead if at < place else back).append((at, goto))
    return ahead, back


def nest(spans: list[Span]) -> None:
    """Widen spans that cross each other: blocks may begin earlier, loops may end later."""
    changed = True
    while changed:
        changed = False
        for one in spans:
            for other in spans:
                if one.first < other.first < one.last < other.last:
                    if not other.is_loop:
                        other.first = one.first
                    elif one.is_loop:
                        one.last = other.last
                    else:
                        raise CannotDraft("GOTO across each other")
                    changed = True
