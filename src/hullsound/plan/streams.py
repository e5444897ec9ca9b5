"""Which stream copies what when: pieces in a fixed order, each to the stream that is free first."""

import heapq
import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from hullsound.settings import WindowRules

from .sizes import TableSize

if TYPE_CHECKING:
    from numpy.typing import NDArray

_MOST_PARTS: Final = 128
_MB: Final = 1_000_000


class Piece(NamedTuple):
    """A table, or a range of its key, that one stream copies."""

    table: str
    part: int
    """From 1; 0 where the table is one piece."""
    mb: float
    rows: float


class Task(NamedTuple):
    """A piece on its stream; times in hours from the start."""

    stream: int
    piece: Piece
    begin: float
    end: float


def pieces_of(sizes: Sequence[TableSize], rules: WindowRules) -> list[Piece]:
    """Split large tables by ranges of their key; return all pieces, those first that take longest at likely rates.

    A row counts for the bytes that could be written while it is handled, so that tables of many short rows are split as well.
    """
    row_mb = rules.write_mb_s[1] / rules.rows_s[1]
    pieces = []
    for size in sizes:
        mb = size.bytes / _MB
        weight = mb + size.rows * row_mb
        is_split = size.can_split and size.has_key and weight > rules.part_mb
        parts = min(math.ceil(weight / rules.part_mb), _MOST_PARTS) if is_split else 1
        for part in range(1, parts + 1):
            pieces.append(Piece(size.id, part if parts > 1 else 0, mb / parts, size.rows / parts))
    return sorted(pieces, key=lambda piece: (-piece.mb - piece.rows * row_mb, piece.table, piece.part))


def makespans(durations: "NDArray[np.float64]", streams: int) -> "NDArray[np.float64]":
    """Return when all pieces are done, for each draw of their durations: shape (pieces, draws) -> (draws).

    The order of the pieces is fixed, so that one more stream never makes any piece begin later.
    """
    count, draws = durations.shape
    if not count:
        return np.zeros(draws)
    if streams >= count:
        return np.asarray(durations.max(axis=0))
    free = np.zeros((streams, draws))
    columns = np.arange(draws)
    for row in durations:
        first = free.argmin(axis=0)
        free[first, columns] += row
    return np.asarray(free.max(axis=0))


def schedule(pieces: Sequence[Piece], durations: Sequence[float], streams: int) -> list[Task]:
    """Return the pieces on their streams for one set of durations, in hours."""
    free = [(0.0, stream) for stream in range(streams)]
    tasks = []
    for piece, duration in zip(pieces, durations, strict=True):
        begin, stream = heapq.heappop(free)
        tasks.append(Task(stream, piece, begin, begin + duration))
        heapq.heappush(free, (begin + duration, stream))
    return tasks
