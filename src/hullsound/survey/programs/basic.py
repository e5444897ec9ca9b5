"""The strings of Visual Basic, for which there is no well-kept grammar: Pygments tells its words; here they are put together."""

import re
from collections.abc import Iterator
from typing import Final, NamedTuple

from pygments.lexers.dotnet import VbNetLexer
from pygments.token import Comment, Error, String, Token, Whitespace, _TokenType

from .model import FoundSql, Piece, Places
from .texts import Pieces, Texts

SUFFIXES: Final = frozenset((".vb", ".bas", ".frm", ".cls", ".vbs"))
_APPENDS: Final = frozenset(("append", "appendline", "appendformat"))
_ROUTINES: Final = frozenset(("sub", "function", "property"))
_GO_ON: Final = frozenset(("&", "+", ",", "(", "="))
"""Signs behind which a statement goes on in the next line."""
_INTERPOLATED: Final = re.compile(r"\{[^{}]*\}")


class _Word(NamedTuple):
    """A word of the program; a string is one word, with its pieces."""

    text: str
    """'' for a string."""
    line: int
    column: int
    pieces: Pieces = ()


def find_in_basic(text: str) -> list[FoundSql]:
    """Return the SQL in the strings of a program in Visual Basic, in the order of its lines."""
    texts = Texts()
    for statement in _statements(text):
        _take(statement, texts)
    return texts.found()


def _take(words: list[_Word], texts: Texts) -> None:
    """Take the texts of one statement: what it assigns or appends, and what else stands in it."""
    if any(word.text.lower() in _ROUTINES for word in words[:4]):
        texts.end_scope()
    at = 0
    sign = next((n for n, word in enumerate(words) if word.text in ("=", "&=", "+=") and not word.pieces), -1)
    name = _assigned(words[:sign]) if sign > 0 else ""
    if name:
        pieces, at = _chain(words, sign + 1)
        if any(not piece.hole for piece in pieces):
            (texts.assign if words[sign].text == "=" else texts.extend)(name, pieces)
        else:
            at = sign + 1
    while at < len(words):
        pieces, end = _chain(words, at)
        if not any(not piece.hole for piece in pieces):
            at += 1
            continue
        builder, ends_line = _builder(words[:at])
        if builder:
            last = pieces[-1]
            texts.extend(builder, (*pieces, Piece(" ", last.line, last.column)) if ends_line else pieces)
        else:
            texts.add(pieces)
        at = end


def _assigned(words: list[_Word]) -> str:
    """Return the name on the left of an assignment: of Dim x As String, of x, or of a.x; '' for anything longer."""
    texts = [word.text.lower() for word in words]
    if "as" in texts:
        words = words[: texts.index("as")]
    if "(" in texts or '"' in texts or not words or not re.fullmatch(r"\w+", words[-1].text):
        return ""
    return words[-1].text.lower()


def _builder(words: list[_Word]) -> tuple[str, bool]:
    """Return the name in front of `.Append(`, and whether the call ends the line; '' where a string follows no such call."""
    if len(words) < 4 or words[-1].text != "(" or words[-2].text.lower() not in _APPENDS or words[-3].text != ".":
        return "", False
    return words[-4].text.lower(), words[-2].text.lower() == "appendline"


def _chain(words: list[_Word], at: int) -> tuple[Pieces, int]:
    """Return the pieces of a run of strings and values joined by & or +, and the place behind it; () where none begins here."""
    found: list[Piece] = []
    while at < len(words):
        word = words[at]
        if word.pieces:
            found += word.pieces
            at += 1
        elif re.match(r"\w", word.text):
            end = _end_of_value(words, at)
            found.append(_hole(words[at:end]))
            at = end
        else:
            break
        if at < len(words) and words[at].text in ("&", "+") and not words[at].pieces:
            at += 1
            continue
        break
    return tuple(found), at


def _end_of_value(words: list[_Word], at: int) -> int:
    """Return the place behind a value such as a.b(c, d)."""
    depth = 0
    while at < len(words):
        text = words[at].text
        depth += (text == "(") - (text == ")")
        if depth < 0 or (depth == 0 and (text in ("&", "+", ",", "=") or (words[at].pieces and text != "("))):
            return at
        at += 1
    return at


def _hole(words: list[_Word]) -> Piece:
    return Piece("", words[0].line, words[0].column, "".join(word.text for word in words) or "?")


def _statements(text: str) -> Iterator[list[_Word]]:
    """Yield the words of each statement: a line, with those that go on from it."""
    places = Places(text)
    words: list[_Word] = []
    inside: list[tuple[int, str]] | None = None
    begin = 0
    goes_on = is_interpolated = False
    for offset, kind, value in _tokens(text):
        if kind in String:
            if inside is None:
                inside, begin = [], offset
            elif value == '"':
                words.append(
                    _Word(
                        "",
                        *places.place(begin),
                        tuple(_pieces(inside, places, is_interpolated)) or (places.piece(begin, ""),),
                    )
                )
                inside, is_interpolated = None, False
            else:
                inside.append((offset, '"' if value == '""' else value))
            continue
        inside = None
        if kind in Comment:
            continue
        if kind in Whitespace or not value.strip():
            if "\n" in value and not goes_on and not (words and words[-1].text in _GO_ON):
                yield words
                words = []
            goes_on = goes_on and "\n" not in value
            continue
        goes_on = value == "_"
        is_interpolated = kind in Error and value == "$"
        if not goes_on and not is_interpolated:
            words.append(_Word(value, *places.place(offset)))
    yield words


def _tokens(text: str) -> Iterator[tuple[int, _TokenType, str]]:
    for offset, kind, value in VbNetLexer(stripnl=False, ensurenl=False).get_tokens_unprocessed(text):
        if kind in Token:
            yield offset, kind, value


def _pieces(parts: list[tuple[int, str]], places: Places, is_interpolated: bool) -> Iterator[Piece]:
    """Yield the text of a string; {name} is a hole where the string begins with a dollar sign."""
    for offset, value in parts:
        start = 0
        for match in _INTERPOLATED.finditer(value) if is_interpolated else ():
            if match.start() > start:
                yield places.piece(offset + start, value[start : match.start()])
            yield Piece("", *places.place(offset + match.start()), match[0])
            start = match.end()
        if start < len(value):
            yield places.piece(offset + start, value[start:])
