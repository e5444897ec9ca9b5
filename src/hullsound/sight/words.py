"""Finds words that follow each other in a statement: what a row of knowledge can say without a clause of the parser."""

from bisect import bisect_left
from collections.abc import Iterator

from hullsound.knowledge.model import ConstructId
from hullsound.sql.lexer import Tokens

_Pattern = tuple[frozenset[str] | None, ...]
"""One set of words for each token; None for any token."""


class WordSequences:
    """Patterns of words, found by their first word."""

    def __init__(self) -> None:
        self._by_first: dict[str, list[tuple[_Pattern, ConstructId]]] = {}
        self._now: dict[str, list[tuple[_Pattern, ConstructId]]] = {}
        self._text: tuple[Tokens | None, int] = (None, 0)
        self._places: list[int] = []
        """Tokens of the text looked at last that a pattern may begin with, in order."""

    def _possible(self, upper: str) -> dict[str, list[tuple[_Pattern, ConstructId]]]:
        """Return the patterns all of whose words stand somewhere in a text: few, and mostly none."""
        found: dict[str, list[tuple[_Pattern, ConstructId]]] = {}
        for first, patterns in self._by_first.items():
            if first in upper:
                for pattern in patterns:
                    if all(p is None or any(word in upper for word in p) for p in pattern[0][1:]):
                        found.setdefault(first, []).append(pattern)
        return found

    def put(self, pattern: str, construct: ConstructId) -> None:
        """Add a pattern: words with blanks between them, A|B for either, * for any one token; the first is plain."""
        parts = tuple(None if part == "*" else frozenset(part.split("|")) for part in pattern.split())
        first = parts[0]
        if first is None:
            raise ValueError(f"{construct}: a pattern begins with a word")
        for word in first:
            self._by_first.setdefault(word, []).append((parts, construct))

    def see(self, tokens: Tokens, first: int, last: int) -> Iterator[tuple[ConstructId, int, int]]:
        """Yield (construct, first token, token behind the last) for each place in the tokens [first, last)."""
        words = tokens.words
        if self._text != (tokens, len(words)):
            self._text = (tokens, len(words))
            self._now = self._possible(tokens.upper)
            self._places = [at for at, word in enumerate(words) if word in self._now] if self._now else []
        places = self._places
        for place in range(bisect_left(places, first), bisect_left(places, last)):
            at = places[place]
            for parts, construct in self._now[words[at]]:
                end = at + len(parts)
                if end <= last and all(p is None or words[at + i] in p for i, p in enumerate(parts)):
                    yield construct, at, end
