"""Work on many things in several processes, where that pays and is safe; the results are those of one process."""

import gc
import os
import signal
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Any, Final, NamedTuple, TypeVar

from .timing import is_timed, note

_R = TypeVar("_R")
_PACKS: Final = 6
"""Packs for each process, at least: enough that all end at about the same time."""


class Workers(NamedTuple):
    """How many processes a step may use."""

    jobs: int = 1

    def are_used(self, sizes: Sequence[int], worth: int) -> bool:
        """Whether other processes do the work: it pays, no other threads run, and the operating system copies processes."""
        pays = self.jobs > 1 and len(sizes) > 1 and sum(sizes) >= worth
        return pays and hasattr(os, "fork") and threading.active_count() == 1

    def map(
        self, work: Callable[[int], _R], sizes: Sequence[int], worth: int, *, names: Callable[[int], str] = str
    ) -> Iterator[_R]:
        """Yield work(0), work(1) ... in order.

        `sizes` say how much each is, in any unit; where they come to less than `worth`, starting processes costs more than it
        saves. Workers are copies of this process as it is now, so that `work` may read what it holds, and changes nothing here.
        What `work` returns is pickled. `names` tells what each piece is called where the time that it takes is asked for.
        """
        if not is_timed():
            yield from self._map(work, sizes, worth)
            return
        for place, (result, seconds) in enumerate(self._map(partial(_timed, work), sizes, worth)):
            note(seconds, names(place))
            yield result

    def _map(self, work: Callable[[int], _R], sizes: Sequence[int], worth: int) -> Iterator[_R]:
        if not self.are_used(sizes, worth):
            yield from map(work, range(len(sizes)))
            return
        import multiprocessing  # costs more to import than a small source takes to read
        from concurrent.futures import ProcessPoolExecutor

        context = multiprocessing.get_context("fork")
        pool = ProcessPoolExecutor(self.jobs, mp_context=context, initializer=_take, initargs=(work,))
        try:
            for results in pool.map(_do, packs_of(sizes, min(sum(sizes) / (_PACKS * self.jobs), worth)), chunksize=1):
                yield from results
        finally:  # also where someone interrupts this process, or takes no more results
            pool.shutdown(cancel_futures=True)


def _timed(work: Callable[[int], _R], place: int) -> tuple[_R, float]:
    begun = time.perf_counter()
    result = work(place)
    return result, time.perf_counter() - begun


def packs_of(sizes: Sequence[int], enough: float) -> list[range]:
    """Cut places into runs, each of which ends where the sum of its `sizes` is `enough`."""
    packs: list[range] = []
    first, held = 0, 0
    for place, size in enumerate(sizes):
        held += size
        if held >= enough or place == len(sizes) - 1:
            packs.append(range(first, place + 1))
            first, held = place + 1, 0
    return packs


_work: Callable[[int], Any]


def _take(work: Callable[[int], Any]) -> None:
    """Keep what a worker does; handed over by the fork, so that nothing is pickled."""
    global _work
    _work = work
    # An interrupt goes to all processes of a terminal; one that ends while it holds the lock of a queue would hold up the others.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    gc.disable()
    gc.freeze()  # what came with the fork is never looked at again


def _do(places: range) -> list[Any]:
    results = [_work(place) for place in places]
    gc.collect()
    return results
