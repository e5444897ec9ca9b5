"""Turns text into tokens: parallel arrays cut by one compiled pattern per dialect; any text round-trips."""

import re
from array import array
from functools import cache
from itertools import accumulate, compress, islice
from string import ascii_lowercase, ascii_uppercase
from typing import Final

from .dialect import Dialect, load_dialect

_TRIVIA_KIND: Final = 0
WORD: Final = 1
QUOTED: Final = 2
STRING: Final = 3
NUMBER: Final = 4
BIND: Final = 5
SYMBOL: Final = 6
END: Final = 7

_SPACE: Final = "\x00-\x20\x7f\x85\xa0\u2000-\u200b\u2028\u2029\u202f\u3000\ufeff"
_SPACES: Final = frozenset(
    map(chr, [*range(0x21), 0x7F, 0x85, 0xA0, *range(0x2000, 0x200C), 0x2028, 0x2029, 0x202F])
) | {
    "\u3000",
    "\ufeff",
}
_COMMENTS: Final = frozenset(("--", "/*"))
_CLOSED_TRIVIA: Final = rf"(?:[{_SPACE}]+|--[^\n]*|/\*[^*]*\*+(?:[^/*][^*]*\*+)*/)+"
_TRIVIA: Final = rf"{_CLOSED_TRIVIA}|/\*[\s\S]*"
_is_closed_trivia: Final = re.compile(_CLOSED_TRIVIA).fullmatch
_ASCII_UPPER: Final = str.maketrans(ascii_lowercase, ascii_uppercase)
_KIND_BY_FIRST: Final = {
    **dict.fromkeys("0123456789", NUMBER),
    **dict.fromkeys("()[]{},;+-*/<>=!|^~%@.?#\\`$", SYMBOL),
    '"': QUOTED,
    "'": STRING,
}


class _Kinds(dict[str, int]):
    """Kind of each distinct piece of text, worked out once: words and gaps repeat a lot.

    A comment or literal that never ends is a SYMBOL, which fits nowhere, so that what it swallows shows as unread.
    """

    def __missing__(self, word: str) -> int:
        first = word[0]
        if first in _SPACES or word[:2] in _COMMENTS:
            kind = _TRIVIA_KIND if _is_closed_trivia(word) else SYMBOL
        elif (first == "'" or first == '"') and word.count(first) % 2:
            kind = SYMBOL
        elif first == ":":
            kind = SYMBOL if word in (":", ":=") else BIND
        elif first == ".":
            kind = NUMBER if word[-1].isalnum() else SYMBOL
        elif first in "NQ" and "'" in word:
            kind = STRING
        else:
            kind = _KIND_BY_FIRST.get(first, WORD)
        if len(self) > _KINDS_KEPT:
            self.clear()
        self[word] = kind
        return kind


_KINDS: Final = _Kinds()
_KINDS_KEPT: Final = 50_000


class Tokens:
    """The significant tokens of one text, in parallel arrays.

    `words[i]` is the upper-cased text of token i (quoted names and literals keep their quotes, so they never
    equal a keyword), `kinds[i]` one of the constants of this module, and `text[starts[i]:ends[i]]` its source.
    White space and comments are what lies between tokens. A token of kind END (an empty word) closes every
    statement, so that a parser never runs past it.
    """

    __slots__ = ("ends", "kinds", "starts", "text", "upper", "words")

    def __init__(self, text: str) -> None:
        self.text = text
        upper = text.upper()
        # A few letters grow when upper-cased; offsets must stay those of the original text.
        self.upper = upper if len(upper) == len(text) else text.translate(_ASCII_UPPER)
        self.words: list[str] = []
        self.kinds: list[int] = []
        # Offsets in arrays of machine numbers: a text of one huge statement must not fill the memory.
        self.starts = array("I")
        self.ends = array("I")

    def add_end(self, offset: int) -> None:
        """Close the running statement at `offset`."""
        self.words.append("")
        self.kinds.append(END)
        self.starts.append(offset)
        self.ends.append(offset)

    def source(self, first: int, last: int) -> str:
        """Return the source text of the tokens [first, last), with the trivia between them."""
        return self.text[self.starts[first] : self.ends[last - 1]] if last > first else ""


@cache
def _pattern(engine: str) -> re.Pattern[str]:
    return re.compile("|".join([_TRIVIA, *load_dialect(engine).token_patterns, r"[\s\S]"]))


def lex_into(tokens: Tokens, dialect: Dialect, start: int, end: int) -> int:
    """Append the tokens of text[start:end] to `tokens`; return where lexing stopped.

    The result is `end`, or more when a comment or literal opened before `end` closes behind it.
    """
    pattern = _pattern(dialect.engine)
    upper = tokens.upper
    pieces = pattern.findall(upper, start, end)
    if not pieces:
        return end
    stop = end
    last_start = end - len(pieces[-1])
    if end < len(upper) and _is_open(pieces[-1]):
        match = pattern.match(upper, last_start)
        assert match is not None
        pieces[-1], stop = match[0], match.end()
    kinds = list(map(_KINDS.__getitem__, pieces))
    tokens.words += compress(pieces, kinds)
    tokens.starts.extend(compress(accumulate(map(len, pieces), initial=start), kinds))
    tokens.ends.extend(compress(islice(accumulate(map(len, pieces), initial=start), 1, None), kinds))
    tokens.kinds += filter(None, kinds)
    return stop


def _is_open(piece: str) -> bool:
    """Whether a piece may be a comment or literal that was cut off by the end of its segment."""
    first = piece[0]
    return first in "'\"" or (first == "/" and not _is_closed_trivia(piece)) or (first in "NQ" and "'" in piece)


def lex(text: str, dialect: Dialect) -> Tokens:
    """Return the tokens of the whole of `text`, closed by one END token."""
    tokens = Tokens(text)
    lex_into(tokens, dialect, 0, len(text))
    tokens.add_end(len(text))
    return tokens
