"""Fills waves with bundles in the order of what needs what, up to what the team can do, cutting few and cheap edges."""

import heapq
from collections import defaultdict
from typing import Final

from .bundles import Bundles
from .clusters import clusters_of

_CLUSTER_SHARE: Final = 0.5
"""Largest cluster, as a share of a wave: two always fit."""
_NEARLY_FULL: Final = 0.75
"""From this share of a wave on, no cluster is begun that would be cut."""
_PASSES: Final = 4
"""How often single bundles are moved to where they are tied more strongly."""


_Fresh = tuple[bool, bool, float, int]
"""A cluster that may be begun: whether it waits for others, whether it begins with a blocker, minus its minutes, its number."""


def fill_waves(bundles: Bundles, capacity: float, pilot: set[int]) -> list[list[int]]:
    """Return the bundles of each wave by their numbers; the first wave is the pilot, perhaps empty.

    `capacity` is in mean minutes; a bundle that is larger has a wave of its own. No bundle comes before one that it needs.
    """
    filling = _Filling(bundles, capacity, pilot)
    filling.run()
    wave_of = {number: place for place, wave in enumerate(filling.waves) for number in wave}
    _improve(bundles, wave_of, capacity)
    waves: list[list[int]] = [[] for _ in filling.waves]
    for number in sorted(wave_of):
        waves[wave_of[number]].append(number)
    return [wave for place, wave in enumerate(waves) if wave or not place]


class _Filling:
    def __init__(self, bundles: Bundles, capacity: float, pilot: set[int]) -> None:
        self.bundles = bundles.all
        self.capacity = capacity
        self.waves: list[list[int]] = [sorted(pilot)]
        rest = {number for number in range(len(self.bundles)) if number not in pilot}
        self.cluster_of = clusters_of(bundles, capacity * _CLUSTER_SHARE, rest)
        self.waiting = {number: sum(need in rest for need in self.bundles[number].needs) for number in rest}
        self.ready: dict[int, list[tuple[bool, int, int]]] = defaultdict(list)
        """By cluster: heaps of (is blocked, rank, number)."""
        self.outside: dict[int, int] = defaultdict(int)
        """How many needs of each cluster are in another cluster and in no wave yet: with some left, it cannot be finished."""
        self.left: dict[int, float] = defaultdict(float)
        """Minutes of each cluster that no wave holds yet."""
        self.ties: dict[int, float] = defaultdict(float)
        """How strongly each cluster is tied to the wave that is being filled."""
        self.tied: list[tuple[float, int]] = []
        self.begun: set[int] = set()
        self.room = capacity
        self.wave: list[int] = []
        for number in rest:
            cluster = self.cluster_of[number]
            self.left[cluster] += self.bundles[number].minutes
            self.outside[cluster] += sum(
                self.cluster_of.get(need, cluster) != cluster for need in self.bundles[number].needs
            )
        self.fresh: list[_Fresh] = []
        """A heap of the clusters that no wave has begun: those that can be finished first, then those without a blocker, large
        ones before small ones."""
        for number in sorted(rest):
            if not self.waiting[number]:
                self._make_ready(number)

    def run(self) -> None:
        remaining = len(self.waiting)
        passed: list[_Fresh] = []
        while remaining:
            number = self._from_begun()
            if number is None:
                number = self._from_another(passed)
            if number is None:
                self._close()
                for entry in passed:
                    heapq.heappush(self.fresh, entry)
                passed.clear()
                continue
            self._place(number)
            remaining -= 1
        self._close()

    def _make_ready(self, number: int) -> None:
        cluster, each = self.cluster_of[number], self.bundles[number]
        heap = self.ready[cluster]
        heapq.heappush(heap, (each.is_blocked, each.rank, number))
        if cluster not in self.begun and len(heap) == 1:
            self._offer(cluster)

    def _offer(self, cluster: int) -> None:
        is_blocked = self.ready[cluster][0][0]
        heapq.heappush(self.fresh, (self.outside[cluster] > 0, is_blocked, -self.left[cluster], cluster))

    def _fits(self, minutes: float) -> bool:
        return minutes <= self.room or not self.wave

    def _from_begun(self) -> int | None:
        """Return a bundle of a cluster that has been begun, so that it is finished before another."""
        for cluster in sorted(self.begun):
            heap = self.ready[cluster]
            if heap and self._fits(self.bundles[heap[0][2]].minutes):
                return heapq.heappop(heap)[2]
        return None

    def _from_another(self, passed: list[_Fresh]) -> int | None:
        """Return the first bundle of another cluster: one that is tied to this wave, else the largest that fits whole."""
        while self.tied:
            tie, cluster = heapq.heappop(self.tied)
            is_current = -tie == self.ties[cluster] and not self.outside[cluster]
            if is_current and cluster not in self.begun and self._may_begin(cluster):
                return self._begin(cluster)
        while self.fresh:
            entry = heapq.heappop(self.fresh)
            cluster = entry[3]
            if cluster in self.begun or not self.ready[cluster]:
                continue
            if self._may_begin(cluster):
                return self._begin(cluster)
            passed.append(entry)
        return None

    def _may_begin(self, cluster: int) -> bool:
        heap = self.ready[cluster]
        if not heap or not self._fits(self.bundles[heap[0][2]].minutes):
            return False
        is_whole = self._fits(self.left[cluster])
        return is_whole or self.room > self.capacity * (1 - _NEARLY_FULL)

    def _begin(self, cluster: int) -> int:
        self.begun.add(cluster)
        return heapq.heappop(self.ready[cluster])[2]

    def _place(self, number: int) -> None:
        each, cluster = self.bundles[number], self.cluster_of[number]
        self.wave.append(number)
        self.room -= each.minutes
        self.left[cluster] -= each.minutes
        for user in each.users:
            if user in self.waiting:
                self.waiting[user] -= 1
                if not self.waiting[user]:
                    self._make_ready(user)
                self._settle(cluster, self.cluster_of[user])
        for other, weight in (*each.needs.items(), *each.users.items()):
            tied = self.cluster_of.get(other)
            if tied is not None and tied not in self.begun:
                self.ties[tied] += weight
                heapq.heappush(self.tied, (-self.ties[tied], tied))
        del self.waiting[number]
        if cluster in self.begun and not any(self.ready[cluster]) and self.left[cluster] <= 1e-9:
            self.begun.discard(cluster)

    def _settle(self, cluster: int, user: int) -> None:
        """Note that one need of another cluster is met; where it was the last, that cluster can be finished now."""
        if user != cluster:
            self.outside[user] -= 1
            if not self.outside[user] and user not in self.begun and self.ready[user]:
                self._offer(user)

    def _close(self) -> None:
        if self.wave:
            self.waves.append(self.wave)
        self.wave = []
        self.room = self.capacity
        self.ties.clear()
        self.tied.clear()


def _improve(bundles: Bundles, wave_of: dict[int, int], capacity: float) -> None:
    """Move single bundles, between what they need and what needs them, to the wave that they are tied to most."""
    room: dict[int, float] = defaultdict(lambda: capacity)
    for number, wave in wave_of.items():
        room[wave] -= bundles.all[number].minutes
    last = max(wave_of.values(), default=0)
    for _ in range(_PASSES):
        moved = 0
        for number in sorted(wave_of):
            wave, each = wave_of[number], bundles.all[number]
            if not wave:
                continue  # the pilot stays as small as it is
            low = max([1, *(wave_of[need] for need in each.needs)])
            high = min([last, *(wave_of[user] for user in each.users)])
            ties: dict[int, float] = defaultdict(float)
            for other, weight in (*each.needs.items(), *each.users.items()):
                ties[wave_of[other]] += weight
            here = ties.get(wave, 0.0)
            better = [
                (tie, -to) for to, tie in ties.items()
                if low <= to <= high and to != wave and tie > here and each.minutes <= room[to]
            ]  # fmt: skip
            if better:
                goal = -max(better)[1]
                room[wave] += each.minutes
                room[goal] -= each.minutes
                wave_of[number] = goal
                moved += 1
        if not moved:
            return
