"""The WINDOW clause, for targets that have none: each function says its window in full.

Source: SQL:2003, "window clause"; Oracle has it since version 21, SQL Server since 2022.
"""

from functools import partial
from typing import Final, NamedTuple

from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Call, Select

SINCE: Final = {"oracle": 21, "sqlserver": 2022}
"""First versions with the clause."""
_FRAMES: Final = frozenset(("ROWS", "RANGE", "GROUPS"))
_RANK: Final = 3


class _Named(NamedTuple):
    """The tokens of a definition, without its parentheses."""

    first: int
    last: int


def add_named_windows(rewriter: Rewriter) -> None:
    """Write the definition of each named window where its name stands, and leave the clause out."""
    if rewriter.target.version >= SINCE.get(rewriter.target.engine, 0):
        return
    for block in rewriter.subject.all(Select):
        at = _clause_at(block, rewriter)
        if at >= 0:
            windows, end = _read(at, rewriter)
            rewriter.put_over(at, end, "")
            for call in rewriter.subject.read.inside(Call, block.first, block.last):
                if call.over is not None:
                    _add_window(call, windows, rewriter)


def _clause_at(block: Select, rewriter: Rewriter) -> int:
    words = rewriter.words
    depth = 0
    for at in range(block.first, min(block.last, len(words) - 2)):
        depth += (words[at] == "(") - (words[at] == ")")
        if depth == 0 and words[at] == "WINDOW" and words[at + 2] == "AS":
            return at
    return -1


def _read(at: int, rewriter: Rewriter) -> tuple[dict[str, _Named], int]:
    """Return the definitions by name, and the token behind the clause."""
    found: dict[str, _Named] = {}
    place = at
    while place == at or rewriter.words[place] == ",":
        closing = closing_of(rewriter, place + 3)
        found[rewriter.words[place + 1]] = _Named(place + 4, closing)
        place = closing + 1
        if place >= len(rewriter.words):
            break
    return found, place


def _add_window(call: Call, windows: dict[str, _Named], rewriter: Rewriter) -> None:
    words, over = rewriter.words, call.over
    assert over is not None
    if words[over.first] in windows and over.last == over.first + 1:
        render = partial(_defined, windows[words[over.first]], windows)
        rewriter.add(Point(over.first, over.last, lambda r: f"({render(r)})", rank=_RANK))
    elif words[over.first] == "(" and words[over.first + 1] in windows:
        named = windows[words[over.first + 1]]
        rewriter.add(Point(over.first + 1, over.first + 2, partial(_defined, named, windows), rank=_RANK))


def _defined(window: _Named, windows: dict[str, _Named], rewriter: Rewriter) -> str:
    """Write a definition, which may build on another. Raises CannotDraft for one with a frame."""
    if not _FRAMES.isdisjoint(rewriter.words[window.first : window.last]) and len(windows) > 1:
        raise CannotDraft("several named windows, of which some have a frame")
    first = window.first
    base = ""
    if first < window.last and rewriter.words[first] in windows and windows[rewriter.words[first]] != window:
        base = f"{_defined(windows[rewriter.words[first]], windows, rewriter)} "
        first += 1
    return base + rewriter.text_elsewhere(first, window.last)
