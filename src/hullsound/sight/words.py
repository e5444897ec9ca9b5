"""Finds words that follow each other in a statement: what a row of knowledge can say without a clause of the parser."""

from collections.abc import Iterator

from hullsound.knowledge.model import ConstructId
from hullsound.sql.lexer import Tokens

_Pattern = tuple[frozenset[str] | None, ...]
"""One set of words for each token; None for any token."""


class WordSequences:
    """Patterns of words, found by their first word."""

    def __init__(self) -> None:
        self._by_first: dict[str, list[tuple[_Pattern, ConstructId]]] = {}

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
        for word in self._by_first.keys() & set(words[first:last]):
            patterns = self._by_first[word]
            at = first - 1
            while True:
                try:
                    at = words.index(word, at + 1, last)
                except ValueError:
                    break
                for parts, construct in patterns:
                    end = at + len(parts)
                    if end <= last and all(p is None or words[at + i] in p for i, p in enumerate(parts)):
                        yield construct, at, end
