"""Wave 0: the smallest set of objects that meets most kinds of construct and no blocker."""

import heapq
from typing import Final

from .bundles import Bundles

_MOST_NEEDED: Final = 300
"""Bundles that one candidate may need; what needs more is no small start."""
_MINUTES_AS_OBJECT: Final = 20.0
"""Minutes that weigh as much as one more object."""
_DONE: Final = 1e-9


def choose_pilot(bundles: Bundles, share: float, capacity: float) -> set[int]:
    """Return bundles, with all that they need, that meet `share` of the constructs that occur without a blocker.

    Greedy by constructs for what each costs, which comes within a factor ln(n) of the smallest set (Chvátal, Math. Oper. Res. 4,
    1979); `capacity`, in mean minutes, is never exceeded.
    """
    closures = _closures(bundles)
    constructs = {number: _constructs(bundles, closure) for number, closure in closures.items()}
    reachable = frozenset[str]().union(*constructs.values()) if constructs else frozenset[str]()
    wanted = share * len(reachable)
    chosen: set[int] = set()
    met: set[str] = set()
    # Gains only shrink as others are chosen, so an entry whose gain still holds is the best there is.
    heap = [(-_gain(bundles, closure, constructs[n], chosen, met), n) for n, closure in closures.items()]
    heapq.heapify(heap)
    while heap and len(met) < wanted:
        gain, number = heapq.heappop(heap)
        closure = closures[number]
        now = -_gain(bundles, closure, constructs[number], chosen, met)
        if now >= -_DONE:
            continue
        if now > gain + _DONE:
            heapq.heappush(heap, (now, number))
            continue
        added = closure - chosen
        used = sum(bundles.all[each].minutes for each in chosen)
        if used + sum(bundles.all[each].minutes for each in added) > capacity:
            continue
        chosen |= added
        met |= constructs[number]
    return _without_needless(bundles, chosen)


def _closures(bundles: Bundles) -> dict[int, frozenset[int]]:
    """Return each bundle with all that it needs; those that meet a blocker or need very much are left out."""
    closures: dict[int, frozenset[int]] = {}
    for number, each in enumerate(bundles.all):  # in this order, what is needed comes first
        if each.is_blocked or not all(need in closures for need in each.needs):
            continue
        closure = frozenset([number]).union(*(closures[need] for need in each.needs))
        if len(closure) <= _MOST_NEEDED:
            closures[number] = closure
    return closures


def _constructs(bundles: Bundles, closure: frozenset[int]) -> frozenset[str]:
    return frozenset(name for number in closure for unit in bundles.all[number].units for name in unit.constructs)


def _gain(
    bundles: Bundles, closure: frozenset[int], constructs: frozenset[str], chosen: set[int], met: set[str]
) -> float:
    """Return how many new constructs a closure brings for what it adds: its objects, and its minutes as objects."""
    added = [bundles.all[number] for number in closure if number not in chosen]
    objects = sum(len(unit.members) for each in added for unit in each.units)
    return len(constructs - met) / (objects + sum(each.minutes for each in added) / _MINUTES_AS_OBJECT + _DONE)


def _without_needless(bundles: Bundles, chosen: set[int]) -> set[int]:
    """Drop what no other chosen bundle needs and whose constructs others bring as well, the largest first."""
    counts: dict[str, int] = {}
    for number in chosen:
        for name in _constructs(bundles, frozenset([number])):
            counts[name] = counts.get(name, 0) + 1
    for number in sorted(chosen, key=lambda each: (-bundles.all[each].minutes, each)):
        own = _constructs(bundles, frozenset([number]))
        is_needed = any(user in chosen for user in bundles.all[number].users)
        if not is_needed and all(counts[name] > 1 for name in own):
            chosen.discard(number)
            for name in own:
                counts[name] -= 1
    return chosen
