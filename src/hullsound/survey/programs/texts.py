"""The texts of one program: those that stand alone, those that names are given, and what is appended to them later."""

from .model import FoundSql, Piece, trimmed
from .recognize import is_sql

Pieces = tuple[Piece, ...]
_DEEPEST = 5
"""Constants within constants that are followed."""


class Texts:
    """Takes texts in the order of the program, and gives those that are SQL."""

    def __init__(self) -> None:
        self.whole: list[Pieces] = []
        """Texts that are part of no other."""
        self.constants: dict[str, Pieces] = {}
        self.several: set[str] = set()
        """Names that are given more than one text."""
        self.open: dict[str, int] = {}
        """Place in `whole` of the text that a name was given last, for what is appended to it."""

    def found(self) -> list[FoundSql]:
        """Return the texts that are SQL, with constants in their places, in the order of their lines."""
        folded = [trimmed(self._with_constants(pieces)) for pieces in self.whole]
        found = [FoundSql(pieces) for pieces in folded if pieces and is_sql(FoundSql(pieces).text)]
        return sorted(found, key=lambda each: (each.line, each.pieces[0].column))

    def add(self, pieces: Pieces) -> None:
        """Take a text that no name is given."""
        self.whole.append(pieces)

    def assign(self, name: str, pieces: Pieces) -> None:
        """Give a name a text; one that begins with the name itself goes on with what the name was given before."""
        if name in self.open and pieces[0].hole and _bare(pieces[0].hole) == name:
            self.extend(name, pieces[1:])
            return
        if name in self.constants:
            self.several.add(name)
        self.constants[name] = pieces
        self.open[name] = len(self.whole)
        self.whole.append(pieces)

    def extend(self, name: str, pieces: Pieces, *, in_list: bool = False) -> None:
        """Append to the text of a name, or begin it.

        In a list of texts, each that is SQL by itself is a text of its own.
        """
        place = self.open.get(name)
        if place is None or (in_list and is_sql(FoundSql(pieces).text)):
            self.open[name] = len(self.whole)
            self.whole.append(pieces)
            return
        self.whole[place] = self.whole[place] + pieces
        if name in self.constants:
            self.constants[name] = self.whole[place]

    def forget(self, name: str) -> None:
        """End the text of a name that is given something else: what is appended from here on begins a new one."""
        self.open.pop(name, None)
        self.several.add(name)

    def end_scope(self) -> None:
        """End the texts of all names, as a function begins."""
        self.open.clear()

    def _with_constants(self, pieces: Pieces, depth: int = 0) -> Pieces:
        """Put constants in the place of their names, as far as one text is all that the name is given."""
        found: list[Piece] = []
        for piece in pieces:
            name = _bare(piece.hole) if piece.hole else ""
            known = self.constants.get(name) if name and name not in self.several else None
            if known is None or depth > _DEEPEST:
                found.append(piece)
                continue
            inner = self._with_constants(known, depth + 1)
            found += [Piece(each.text, piece.line, piece.column, each.hole) for each in inner]
        return tuple(found)


def _bare(hole: str) -> str:
    """Return the last name of what a program puts in: TABLE of self::TABLE, $this->TABLE or Names.TABLE."""
    return hole.rpartition(".")[2].rpartition("::")[2].rpartition("->")[2].lstrip("$").strip("{} ")
