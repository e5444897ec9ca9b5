"""The order to work in, with its reason."""

from typing import Final

from .model import WORST_FIRST, Judged, Outcome

_PLACE: Final = {outcome: place for place, outcome in enumerate(WORST_FIRST)}
_WORDS: Final = {
    Outcome.BLOCKED: "blocks the move",
    Outcome.REWRITE: "needs a rewrite",
    Outcome.CONFIRM: "needs a second look",
    Outcome.DRAFTED: "is drafted",
    Outcome.AS_IS: "crosses as it is",
}


def rank_objects(objects: list[Judged]) -> list[Judged]:
    """Sort: what blocks first, then what most depends on, then what is cheap; set rank and reason of each."""
    ranked = sorted(objects, key=lambda each: (_PLACE[each.outcome], -each.dependents, each.effort[1], each.object.id))
    for rank, each in enumerate(ranked, start=1):
        each.rank = rank
        each.reason = f"{_WORDS[each.outcome]}; {_count(each.dependents)}"
    return ranked


def _count(dependents: int) -> str:
    if not dependents:
        return "nothing depends on it"
    return "1 object depends on it" if dependents == 1 else f"{dependents} objects depend on it"
