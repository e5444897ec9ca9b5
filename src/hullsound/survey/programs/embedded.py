"""SQL that the language itself marks: EXEC SQL in C, C++, COBOL and their like, and heredocs and options of shell scripts."""

import re
from collections.abc import Iterator
from typing import Final

from .model import FoundSql, Piece
from .recognize import is_sql

_EXEC: Final = re.compile(r"(?is)\bEXEC\s+SQL\b(.*?)(?:\bEND-EXEC\b|;)")
_PASSED_OVER: Final = re.compile(
    r"(?i)\s*(?:INCLUDE|COMMIT|ROLLBACK|CONNECT|WHENEVER|BEGIN\s+DECLARE|END\s+DECLARE|OPEN|CLOSE|FETCH|PREPARE|EXECUTE|DESCRIBE|"
    r"ALLOCATE|DEALLOCATE|SET\s+:|VAR|TYPE|SAVEPOINT|FREE)\b"
)
"""Statements of the preprocessor, or on a cursor that is declared elsewhere."""
_CURSOR: Final = re.compile(r"(?is)\A(\s*DECLARE\s+[\w-]+\s+(?:\w+\s+)*CURSOR\s+(?:WITH\s+\w+\s+)*FOR\s+)")
_INTO: Final = re.compile(r"(?is)\bINTO\s+:[\w.\-]+(?:\s*:\s*[\w\-]+)?(?:\s*,\s*:[\w.\-]+(?:\s*:\s*[\w\-]+)?)*")
_COBOL_COMMENT: Final = re.compile(r"(?m)^.{6}[*/].*$")
_HEREDOC: Final = re.compile(r"<<[-~]?\s*(['\"]?)(\w+)\1[^\n]*\n(.*?)\n[ \t]*\2\b", re.DOTALL)
_QUOTED: Final = re.compile(r"\"((?:[^\"\\]|\\.)*)\"|'([^']*)'", re.DOTALL)
_REMARK: Final = re.compile(r"(?m)^\s*#.*$")


def find_embedded(text: str, *, is_cobol: bool) -> list[FoundSql]:
    """Return the statements behind EXEC SQL; where values go into is blanked out, as no engine takes it in plain SQL."""
    if is_cobol:
        text = _COBOL_COMMENT.sub(lambda match: " " * len(match[0]), text)
    found = []
    places = _Places(text)
    for match in _EXEC.finditer(text):
        body = match[1]
        if _PASSED_OVER.match(body):
            continue
        body = _CURSOR.sub(lambda head: re.sub(r"\S", " ", head[0]), body)
        body = _INTO.sub(lambda into: re.sub(r"\S", " ", into[0]), body)
        lead = len(body) - len(body.lstrip())
        if body.strip():
            found.append(FoundSql((places.piece(match.start(1) + lead, body.strip()),), is_embedded=True))
    return found


def find_in_shell(text: str) -> list[FoundSql]:
    """Return the SQL of a shell script: heredocs whose text is SQL, and quoted texts that are."""
    places = _Places(text)
    found = []
    covered: list[tuple[int, int]] = []
    for match in _HEREDOC.finditer(text):
        covered.append(match.span())
        statements = [part for part in re.split(r";[ \t]*(?:\n|$)", match[3]) if part.strip()]
        if statements and any(is_sql(_bare(part)) for part in statements):
            found += list(_statements(match[3], match.start(3), places))
    remarks = [match.span() for match in _REMARK.finditer(text)]
    for match in _QUOTED.finditer(text):
        inside = any(begin <= match.start() < end for begin, end in (*covered, *remarks))
        body = match[1] if match[1] is not None else match[2]
        if not inside and is_sql(body):
            found.append(FoundSql(tuple(_with_variables(body, match.start() + 1, places))))
    return sorted(found, key=lambda each: each.line)


def _bare(text: str) -> str:
    return re.sub(r"(?m)^\s*--.*$", "", text)


def _statements(text: str, offset: int, places: "_Places") -> Iterator[FoundSql]:
    start = 0
    for end in (*(match.end() for match in re.finditer(r";[ \t]*(?:\n|$)", text)), len(text)):
        part = text[start:end].rstrip().rstrip(";")
        lead = len(part) - len(part.lstrip())
        if is_sql(_bare(part)):
            yield FoundSql(tuple(_with_variables(part.strip(), offset + start + lead, places)))
        start = end


def _with_variables(text: str, offset: int, places: "_Places") -> Iterator[Piece]:
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


class _Places:
    """Lines and columns of offsets in a text."""

    def __init__(self, text: str) -> None:
        self.starts = [0, *(match.end() for match in re.finditer("\n", text))]

    def place(self, offset: int) -> tuple[int, int]:
        from bisect import bisect_right

        line = bisect_right(self.starts, offset)
        return line, offset - self.starts[line - 1] + 1

    def piece(self, offset: int, text: str) -> Piece:
        return Piece(text, *self.place(offset))
