"""What is found in a program: texts of SQL in pieces, each with its place."""

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
        return "".join(piece.text if not piece.hole else " ? " for piece in self.pieces)


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
