"""The texts of one program: those that stand alone, those that names are given, and what is appended to them later."""

import re
from collections.abc import Callable, Iterable
from typing import Final

from .model import FoundSql, Piece, trimmed
from .recognize import is_sql

Pieces = tuple[Piece, ...]
LookUp = Callable[[str, str], Pieces | None]
_DEEPEST: Final = 5
"""Constants within constants that are followed."""
_SELF: Final = frozenset(("this", "self", "static", "cls", "super", "parent", "me", "companion"))
_NAME: Final = re.compile(r"\$?(?:[\w\\]+(?:\.|::|->|\\))*?(?:(\w+)(?:\.|::|->))?\$?(\w+)")


class Texts:
    """Takes texts in the order of the program, and gives those that are SQL."""

    def __init__(self, own: Iterable[str] = ()) -> None:
        self.own = _SELF.union(own)
        """Names in front of a name that mean the program itself: its classes, and words such as this."""
        self.whole: list[Pieces] = []
        """Texts that are part of no other."""
        self.constants: dict[str, Pieces] = {}
        self.several: set[str] = set()
        """Names that are given more than one text."""
        self.open: dict[str, int] = {}
        """Place in `whole` of the text that a name was given last, for what is appended to it."""

    def found(self, elsewhere: LookUp = lambda *_: None) -> list[FoundSql]:
        """Return the texts that are SQL, with constants in their places, in the order of their lines.

        `elsewhere` is asked for the constants of other files, by the name of the file and of the constant.
        """
        folded = [trimmed(self._with_constants(pieces, elsewhere)) for pieces in self.whole]
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

    def known(self) -> dict[str, Pieces]:
        """Return the constants: names that are given one text alone."""
        return {
            name: self._with_constants(pieces) for name, pieces in self.constants.items() if name not in self.several
        }

    def _with_constants(self, pieces: Pieces, elsewhere: LookUp = lambda *_: None, depth: int = 0) -> Pieces:
        """Put constants in the place of their names, as far as one text is all that the name is given."""
        found: list[Piece] = []
        for piece in pieces:
            known = self._constant(piece.hole, elsewhere) if piece.hole and depth <= _DEEPEST else None
            if known is None:
                found.append(piece)
                continue
            inner = self._with_constants(known, elsewhere, depth + 1)
            found += [Piece(each.text, piece.line, piece.column, each.hole) for each in inner]
        return tuple(found)

    def _constant(self, hole: str, elsewhere: LookUp) -> Pieces | None:
        owner, name = _owner_and_name(hole)
        if owner and owner not in self.own:
            return elsewhere(owner, name)
        return self.constants.get(name) if name not in self.several else None


def _owner_and_name(hole: str) -> tuple[str, str]:
    """Return what a name that a program puts in belongs to, and the name: (Names, TABLE) of kb.Names.TABLE, ('', x) of $x."""
    match = _NAME.fullmatch(hole.strip("{} "))
    return (match[1] or "", match[2]) if match is not None else ("", "")


def _bare(hole: str) -> str:
    return _owner_and_name(hole)[1]
