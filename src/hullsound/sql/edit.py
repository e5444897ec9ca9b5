"""Edits on a source text: sorted, non-overlapping, each naming the construct that asked for it."""

import re
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from itertools import accumulate
from typing import Final


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


_WORDS: Final = re.compile(r"\w+|\s+|[^\w\s]")
_WORDS_COMPARED: Final = 2_000


def fine_edits(text: str, edits: Sequence[Edit]) -> list[Edit]:
    """Cut edits down to the words that really change, for people to see; the result of applying them stays the same."""
    fine: list[Edit] = []
    for edit in edits:
        old, new = _WORDS.findall(text[edit.start : edit.end]), _WORDS.findall(edit.new)
        if not old or not new or len(old) + len(new) > _WORDS_COMPARED:
            fine.append(edit)
            continue
        places = [0, *accumulate(map(len, old))]
        for tag, i1, i2, j1, j2 in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
            if tag != "equal":
                fine.append(Edit(edit.start + places[i1], edit.start + places[i2], "".join(new[j1:j2]), edit.construct))
    return fine


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
