"""Lines and columns from offsets, worked out only where something is reported."""

import re
from bisect import bisect_right
from itertools import accumulate
from typing import Final

_NEWLINE: Final = re.compile(r"\r\n|\r|\n")


class Positions:
    """Maps offsets of a text to lines and columns, both counted from 1; LF, CRLF and CR end a line."""

    def __init__(self, text: str, first_line: int = 1) -> None:
        if "\r" in text:
            self.starts = [0, *(match.end() for match in _NEWLINE.finditer(text))]
        else:  # most texts, and much faster
            self.starts = list(accumulate((len(line) + 1 for line in text.split("\n")[:-1]), initial=0))
        self.first_line = first_line

    def line(self, offset: int) -> int:
        return bisect_right(self.starts, offset) - 1 + self.first_line

    def at(self, offset: int) -> tuple[int, int]:
        index = bisect_right(self.starts, offset) - 1
        return index + self.first_line, offset - self.starts[index] + 1


def excerpt(text: str, start: int, end: int, width: int = 160) -> str:
    """Return text[start:end] on one line, cut to `width` characters."""
    piece = " ".join(text[start : min(end, start + 2 * width)].split())
    return piece if len(piece) <= width else piece[: width - 1] + "…"
