"""What is found in a program: texts of SQL in pieces, each with its place."""

import re
from bisect import bisect_right
from collections.abc import Iterable
from typing import NamedTuple


class Piece(NamedTuple):
    """A run of text, or a hole where a value of the program goes in at run time."""

    text: str
    """'' for a hole."""
    line: int
    """Counted from 1, as are columns."""
    column: int
    hole: str = ""
    """What the program writes there; '' for text."""


class FoundSql(NamedTuple):
    """One text of SQL in a program."""

    pieces: tuple[Piece, ...]
    is_embedded: bool = False
    """Whether the language itself says that it is SQL, as EXEC SQL does: it is not weighed then."""

    @property
    def line(self) -> int:
        return self.pieces[0].line

    @property
    def text(self) -> str:
        """The text with ? for each hole."""
        return "".join(piece.text if not piece.hole else "?" for piece in self.pieces)


_MARGIN = re.compile(r"(?m)^([ \t]*)\|")


def without_margin(pieces: Iterable[Piece]) -> tuple[Piece, ...]:
    """Blank out the sign | with which Kotlin and Scala mark where the lines of a text begin."""
    kept = tuple(pieces)
    if not any(re.match(r"\s*\n[ \t]*\|", piece.text) for piece in kept[:2]):
        return kept
    return tuple(piece._replace(text=_MARGIN.sub(r"\1 ", piece.text)) for piece in kept)


def trimmed(pieces: Iterable[Piece]) -> tuple[Piece, ...]:
    """Leave out the space before the text, so that its place is that of its first word."""
    kept = list(pieces)
    while kept and not kept[0].hole and not kept[0].text.strip():
        kept.pop(0)
    if kept and not kept[0].hole:
        first = kept[0]
        lead = first.text[: len(first.text) - len(first.text.lstrip())]
        if lead:
            lines = lead.count("\n")
            column = len(lead) - lead.rfind("\n") if lines else first.column + len(lead)
            kept[0] = Piece(first.text.lstrip(), first.line + lines, column)
    return tuple(kept)


class Places:
    """Lines and columns, counted from 1, of offsets in a text."""

    def __init__(self, text: str) -> None:
        self._starts = [0, *(match.end() for match in re.finditer("\n", text))]

    def place(self, offset: int) -> tuple[int, int]:
        line = bisect_right(self._starts, offset)
        return line, offset - self._starts[line - 1] + 1

    def piece(self, offset: int, text: str) -> Piece:
        return Piece(text, *self.place(offset))
