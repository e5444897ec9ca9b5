"""What all steps share: progress, the time, and a pause for the garbage collector."""

import gc
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

Progress = Callable[[str, int, int], None]
"""Called with what is worked on, how many are done, and how many there are."""


def no_progress(what: str, done: int, total: int) -> None:
    """Report nothing."""


def now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


@contextmanager
def no_collection() -> Iterator[None]:
    """Hold the cyclic garbage collector back: trees have no cycles, and walking them again and again costs a third."""
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            gc.enable()
