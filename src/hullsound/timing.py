"""Where the time goes: seconds by step, and the pieces of work that took longest, where someone asks for them."""

import time
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from heapq import nlargest
from typing import NamedTuple


class Piece(NamedTuple):
    """One piece of a step's work, such as the draft of an object."""

    seconds: float
    step: str
    name: str


class Timings:
    """What a run took, in seconds of the clock; steps that run within others count there alone."""

    def __init__(self) -> None:
        self._begun = time.perf_counter()
        self._steps: defaultdict[str, float] = defaultdict(float)
        self._pieces: list[Piece] = []
        self._running: list[str] = []
        self._within: list[float] = []
        """Of each step that runs, the seconds that steps within it took."""

    @contextmanager
    def step(self, name: str) -> Iterator[None]:
        begun = time.perf_counter()
        self._within.append(0.0)
        self._running.append(name)
        try:
            yield
        finally:
            seconds = time.perf_counter() - begun
            self._running.pop()
            self._steps[name] += seconds - self._within.pop()
            if self._within:
                self._within[-1] += seconds

    def note(self, seconds: float, name: str) -> None:
        """Note what a piece of the step that runs now took."""
        self._pieces.append(Piece(seconds, self._running[-1] if self._running else "", name))

    def steps(self) -> list[tuple[str, float]]:
        """Return each step with its seconds, in the order of their beginnings, and what belongs to none."""
        total = time.perf_counter() - self._begun
        return [*self._steps.items(), ("everything else", total - sum(self._steps.values())), ("in all", total)]

    def slowest(self, count: int) -> list[Piece]:
        return nlargest(count, self._pieces)


_timings: Timings | None = None


def begin_timing() -> Timings:
    """Time all steps of this process from now on."""
    global _timings
    _timings = Timings()
    return _timings


def is_timed() -> bool:
    return _timings is not None


@contextmanager
def step(name: str) -> Iterator[None]:
    """Time a step, if anyone asked for it."""
    if _timings is None:
        yield
        return
    with _timings.step(name):
        yield


def note(seconds: float, name: str) -> None:
    """Note what a piece of the step that runs now took, if anyone asked for it."""
    if _timings is not None:
        _timings.note(seconds, name)
