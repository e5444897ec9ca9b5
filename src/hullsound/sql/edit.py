"""Edits on a source text: sorted, non-overlapping, each naming the construct that asked for it."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Edit:
    """Replace text[start:end] by `new`; `construct` is '' where only the form of the statement asks for it."""

    start: int
    end: int
    new: str
    construct: str = ""


def apply_edits(text: str, edits: Sequence[Edit]) -> str:
    """Return `text` with all edits applied; everything outside them stays to the letter."""
    pieces: list[str] = []
    at = 0
    for edit in edits:
        pieces += (text[at : edit.start], edit.new)
        at = edit.end
    pieces.append(text[at:])
    return "".join(pieces)


def source_offset(edits: Sequence[Edit], offset: int) -> int:
    """Return the place in the source text that `offset` of the edited text comes from."""
    starts: list[int] = []
    shift = 0
    shifts: list[int] = []
    for edit in edits:
        starts.append(edit.start + shift)
        shift += len(edit.new) - (edit.end - edit.start)
        shifts.append(shift)
    index = bisect_right(starts, offset) - 1
    if index < 0:
        return offset
    edit = edits[index]
    if offset < starts[index] + len(edit.new):
        return edit.start
    return offset - shifts[index]
