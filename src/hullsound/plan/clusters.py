"""Bundles that hold together strongly, up to a size: what the filling of waves tries not to cut."""

from .bundles import Bundles


def clusters_of(bundles: Bundles, most_minutes: float, members: set[int]) -> dict[int, int]:
    """Return the cluster of each of `members`: joined along the heaviest edges first, none larger than `most_minutes`.

    An edge counts by its weight beside all edges of the bundle that has fewer of them. This is the coarsening by heavy edges
    of multilevel graph partitioning (Karypis and Kumar, SIAM J. Sci. Comput. 20, 1998), with a bound on the size.
    """
    degree = {
        number: sum(w for other, w in _ties(bundles, number) if other in members) or 1.0 for number in members
    }
    edges = sorted(
        (-weight / min(degree[number], degree[other]), number, other)
        for number in members
        for other, weight in bundles.all[number].needs.items()
        if other in members
    )
    root = {number: number for number in members}
    minutes = {number: bundles.all[number].minutes for number in members}

    def find(number: int) -> int:
        while root[number] != number:
            root[number] = root[root[number]]
            number = root[number]
        return number

    for _, number, other in edges:
        one, two = sorted((find(number), find(other)))
        if one != two and minutes[one] + minutes[two] <= most_minutes:
            root[two] = one
            minutes[one] += minutes[two]
    return {number: find(number) for number in members}


def _ties(bundles: Bundles, number: int) -> list[tuple[int, float]]:
    each = bundles.all[number]
    return [*each.needs.items(), *each.users.items()]
