"""SQL that the language itself marks: EXEC SQL in C, C++, COBOL and their like, and heredocs of shell scripts."""

import re
from collections.abc import Iterator
from typing import Final

from .model import FoundSql, Piece, Places
from .recognize import is_sql

_EXEC: Final = re.compile(
    r"(?is)\bEXEC\s+SQL\b(?:\s+EXECUTE\s+(?P<block>(?:BEGIN|DECLARE)\b.*?)\bEND-EXEC\b|(?P<text>.*?)(?:\bEND-EXEC\b|;))"
)
_PASSED_OVER: Final = re.compile(
    r"(?i)\s*(?:INCLUDE|COMMIT|ROLLBACK|CONNECT|WHENEVER|BEGIN\s+DECLARE|END\s+DECLARE|OPEN|CLOSE|FETCH|PREPARE|EXECUTE|DESCRIBE|"
    r"ALLOCATE|DEALLOCATE|SET\s+:|VAR|TYPE|SAVEPOINT|FREE)\b"
)
"""Statements of the preprocessor, or on a cursor that is declared elsewhere."""
_CURSOR: Final = re.compile(r"(?is)\A(\s*DECLARE\s+[\w-]+\s+(?:\w+\s+)*CURSOR\s+(?:WITH\s+\w+\s+)*FOR\s+)")
_INTO: Final = re.compile(r"(?is)\bINTO\s+:[\w.\-]+(?:\s*:\s*[\w\-]+)?(?:\s*,\s*:[\w.\-]+(?:\s*:\s*[\w\-]+)?)*")
_COBOL_COMMENT: Final = re.compile(r"(?m)^.{6}[*/].*$")
_HEREDOC: Final = re.compile(r"<<[-~]?\s*(['\"]?)(\w+)\1[^\n]*\n(.*?)\n[ \t]*\2\b", re.DOTALL)

_CLIENT_LINES: Final = re.compile(
    r"(?i)(?:[ \t]*(?:(?:(?:SET|WHENEVER|PROMPT|SPOOL|COLUMN|COL|DEFINE|VARIABLE|CONNECT|TTITLE|BREAK|USE|GO)\b|\\|[.:@]|--)"
    r"[^\n;]*)?\n)*"
)
"""Lines of the client ahead of a statement."""


def has_embedded(text: str) -> bool:
    """Whether a program holds EXEC SQL."""
    return _EXEC.search(text) is not None


def find_embedded(text: str, *, is_cobol: bool) -> list[FoundSql]:
    """Return the statements behind EXEC SQL; where values go into is blanked out, as no engine takes it in plain SQL."""
    if is_cobol:
        text = _COBOL_COMMENT.sub(lambda match: " " * len(match[0]), text)
    found = []
    places = Places(text)
    for match in _EXEC.finditer(text):
        group = "block" if match["block"] else "text"
        body = match[group]
        if group == "text" and _PASSED_OVER.match(body):
            continue
        body = _CURSOR.sub(lambda head: re.sub(r"\S", " ", head[0]), body)
        body = _INTO.sub(lambda into: re.sub(r"\S", " ", into[0]), body)
        lead = len(body) - len(body.lstrip())
        if body.strip():
            found.append(FoundSql((places.piece(match.start(group) + lead, body.strip()),), is_embedded=True))
    return found


def find_in_heredocs(text: str) -> tuple[list[FoundSql], set[int]]:
    """Return the SQL in the heredocs of a shell script, and the lines that they cover."""
    places = Places(text)
    found: list[FoundSql] = []
    covered: set[int] = set()
    for match in _HEREDOC.finditer(text):
        covered.update(range(places.place(match.start(3))[0], places.place(match.end(3))[0] + 1))
        found += _statements(match[3], match.start(3), places)
    return found, covered


def _bare(text: str) -> str:
    return re.sub(r"(?m)^\s*--.*$", "", text)


def _statements(text: str, offset: int, places: Places) -> Iterator[FoundSql]:
    start = 0
    for end in (*(match.end() for match in re.finditer(r";[ \t]*(?:\n|$)", text)), len(text)):
        lines = _CLIENT_LINES.match(text, start, end)
        start = lines.end() if lines is not None else start
        part = text[start:end].rstrip().rstrip(";")
        lead = len(part) - len(part.lstrip())
        if is_sql(_bare(part)):
            yield FoundSql(tuple(_with_variables(part.strip(), offset + start + lead, places)))
        start = end


def _with_variables(text: str, offset: int, places: Places) -> Iterator[Piece]:
    """Yield a text of a shell script with its variables as holes."""
    start = 0
    for match in re.finditer(r"\$\{?\w+\}?", text):
        if re.fullmatch(r"\$\d", match[0]):
            continue
        if match.start() > start:
            yield places.piece(offset + start, text[start : match.start()])
        line, column = places.place(offset + match.start())
        yield Piece("", line, column, match[0])
        start = match.end()
    if start < len(text):
        yield places.piece(offset + start, text[start:])
