"""Turns text into tokens: parallel arrays cut by one compiled pattern per dialect; any text round-trips."""

import re
from array import array
from functools import cache
from itertools import accumulate, compress, islice
from string import ascii_lowercase, ascii_uppercase
from typing import Final

from .dialect import Dialect

_TRIVIA_KIND: Final = 0
WORD: Final = 1
QUOTED: Final = 2
STRING: Final = 3
NUMBER: Final = 4
BIND: Final = 5
SYMBOL: Final = 6
END: Final = 7
FENCE: Final = 8
"""The mark that opens or closes a text whose inside is lexed as well, such as a dollar quote."""

_SPACE: Final = "\x00-\x20\x7f\x85\xa0\u2000-\u200b\u2028\u2029\u202f\u3000\ufeff"
_SPACES: Final = frozenset(
    map(chr, [*range(0x21), 0x7F, 0x85, 0xA0, *range(0x2000, 0x200C), 0x2028, 0x2029, 0x202F])
) | {
    "\u3000",
    "\ufeff",
}
_ASCII_UPPER: Final = str.maketrans(ascii_lowercase, ascii_uppercase)
_SYMBOLS: Final = frozenset("()[]{},;+-*/<>=!|^~%@.?#\\`$&:")
_KINDS_KEPT: Final = 50_000
_NUMBER_TEXT: Final = re.compile(r"0X[0-9A-F]+|0B[01]+|\d*\.?\d*(?:E[+-]?\d+)?")


class _Kinds(dict[str, int]):
    """Kind of each distinct piece of text, worked out once: words and gaps repeat a lot.

    A comment or literal that never ends is a SYMBOL, which fits nowhere, so that what it swallows shows as unread.
    """

    def __init__(self, dialect: Dialect) -> None:
        self.openers = dialect.comment_openers
        self.is_closed_trivia = re.compile(_closed_trivia(dialect)).fullmatch
        self.literals = [
            (re.compile(form.opening).match, re.compile(form.opening + form.body + form.closing).fullmatch,
             QUOTED if form.is_name else STRING)
            for form in dialect.literals
        ]  # fmt: skip
        self.digit_names = dialect.digit_names
        self.words = dialect.word_openers
        self.binds = dialect.bind_openers

    def __missing__(self, piece: str) -> int:
        first = piece[0]
        if first in _SPACES or (piece.startswith(self.openers) and len(piece) > 1) or piece.startswith("*/"):
            kind = self._trivia(piece)
        elif first in "0123456789" or (first == "." and len(piece) > 1 and piece[1].isdigit()):
            kind = WORD if self.digit_names and not _NUMBER_TEXT.fullmatch(piece) else NUMBER
        else:
            kind = self._literal(piece) if piece[-1] in "'\"`]" or "'" in piece or first in '"`[' else -1
            if kind < 0:
                kind = self._other(piece, first)
        if len(self) > _KINDS_KEPT:
            self.clear()
        self[piece] = kind
        return kind

    def _trivia(self, piece: str) -> int:
        if self.is_closed_trivia(piece):
            return _TRIVIA_KIND
        return SYMBOL

    def _literal(self, piece: str) -> int:
        """Return the kind of a literal, SYMBOL if it never closes, -1 if it is none."""
        is_open = False
        for opens, closed, kind in self.literals:
            if opens(piece):
                if closed(piece):
                    return kind
                is_open = True
        return SYMBOL if is_open and len(piece) > 1 else -1

    def _other(self, piece: str, first: str) -> int:
        if first in self.binds and len(piece) > 1 and (piece[1].isalnum() or piece[1] in "_@'\""):
            return BIND
        if first in self.words and len(piece) > 1:
            return NUMBER if first == "$" and piece[1].isdigit() else WORD
        return SYMBOL if first in _SYMBOLS or first in "'\"" else WORD


@cache
def _kinds(dialect_key: tuple[str, frozenset[str]]) -> _Kinds:
    return _Kinds(_BY_KEY[dialect_key])


_BY_KEY: Final[dict[tuple[str, frozenset[str]], Dialect]] = {}
"""Dialects met so far by engine and modes: the key of what is compiled for them."""


def _key(dialect: Dialect) -> tuple[str, frozenset[str]]:
    key = (dialect.engine, dialect.modes)
    _BY_KEY.setdefault(key, dialect)
    return key


class Tokens:
    """The significant tokens of one text, in parallel arrays.

    `words[i]` is the upper-cased text of token i (quoted names and literals keep their quotes, so they never
    equal a keyword), `kinds[i]` one of the constants of this module, and `text[starts[i]:ends[i]]` its source.
    White space and comments are what lies between tokens. A token of kind END (an empty word) closes every
    statement, so that a parser never runs past it.
    """

    __slots__ = ("ends", "fences", "kinds", "starts", "text", "upper", "words")

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
        self.fences: dict[int, int] = {}
        """Token that opens a fenced text -> token that closes it."""

    def add_end(self, offset: int) -> None:
        """Close the running statement at `offset`."""
        self.add("", END, offset, offset)

    def add(self, word: str, kind: int, start: int, end: int) -> None:
        """Append one token."""
        self.words.append(word)
        self.kinds.append(kind)
        self.starts.append(start)
        self.ends.append(end)

    def source(self, first: int, last: int) -> str:
        """Return the source text of the tokens [first, last), with the trivia between them."""
        return self.text[self.starts[first] : self.ends[last - 1]] if last > first else ""


def _closed_trivia(dialect: Dialect) -> str:
    return rf"(?:[{_SPACE}]+|{'|'.join(dialect.comments)})+"


@cache
def _pattern(key: tuple[str, frozenset[str]]) -> re.Pattern[str]:
    dialect = _BY_KEY[key]
    literals = (f"{form.opening}{form.body}(?:{form.closing})?" for form in dialect.literals)
    openings = "|".join(re.escape(o) + r"[\s\S]*" for o in dialect.comment_openers if o.startswith("/"))
    return re.compile("|".join([_closed_trivia(dialect), openings, *literals, *dialect.token_patterns, r"[\s\S]"]))


def lex_into(tokens: Tokens, dialect: Dialect, start: int, end: int, *, is_bounded: bool = False) -> int:
    """Append the tokens of text[start:end] to `tokens`; return where lexing stopped.

    The result is `end`, or more when a comment or literal opened before `end` closes behind it and the stretch is not
    bounded.
    """
    key = _key(dialect)
    pattern, known = _pattern(key), _kinds(key)
    upper = tokens.upper
    pieces = pattern.findall(upper, start, end)
    if not pieces:
        return end
    stop = end
    if end < len(upper) and not is_bounded:
        if pieces[-1] == "\\" and len(pieces) > 1 and known[pieces[-2]] == SYMBOL:
            pieces[-2:] = [pieces[-2] + "\\"]  # an escape that was cut in two belongs to the literal before it
        last = pieces[-1]
        last_start = end - len(last)
        kind = known[last]
        # Cut off inside a literal, a block comment, or a comment that its line has not ended yet?
        is_open = (kind == SYMBOL and len(last) > 1) or last in "'\"`["
        if is_open or (kind == _TRIVIA_KIND and "--" in last[last.rfind("\n") + 1 :]):
            match = pattern.match(upper, last_start)
            assert match is not None
            pieces[-1], stop = match[0], match.end()
    kinds = list(map(known.__getitem__, pieces))
    tokens.words += compress(pieces, kinds)
    tokens.starts.extend(compress(accumulate(map(len, pieces), initial=start), kinds))
    tokens.ends.extend(compress(islice(accumulate(map(len, pieces), initial=start), 1, None), kinds))
    tokens.kinds += filter(None, kinds)
    return stop


def lex(text: str, dialect: Dialect) -> Tokens:
    """Return the tokens of the whole of `text`, closed by one END token."""
    tokens = Tokens(text)
    lex_into(tokens, dialect, 0, len(text))
    tokens.add_end(len(text))
    return tokens
