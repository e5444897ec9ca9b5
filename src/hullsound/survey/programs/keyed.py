"""SQL in files of queries: XML mappers and reports, properties, YAML and JSON."""

import re
from collections.abc import Iterator
from contextlib import suppress
from typing import Any, Final
from xml.parsers import expat

from .model import FoundSql, Piece, trimmed
from .recognize import is_sql

_STATEMENTS: Final = frozenset(
    ("select", "insert", "update", "delete", "sql", "query", "querystring", "sql-query", "procedure")
)
"""Elements whose whole text is one statement, whatever is nested within to put it together."""
_PROPERTY: Final = re.compile(r"^[ \t]*(?![#!])([^\s=:]+)[ \t]*[=:][ \t]*", re.MULTILINE)
_YAML: Final = re.compile(r"^([ \t]*)(?:- )?[\w.\-\"']+:[ \t]*(?:([|>])[-+0-9]*[ \t]*(?:\#.*)?\n|)", re.MULTILINE)
_YAML_QUOTED: Final = re.compile(r"""(["'])((?:(?!\1)[^\\]|\\.|\1\1)*)\1[ \t]*(?:\#.*)?$""")
_JSON: Final = re.compile(r'"((?:[^"\\]|\\.)*)"')


def find_in_xml(text: str) -> list[FoundSql]:
    """Return the SQL in the texts of elements. What is no XML any more is read as far as it is."""
    reader = _XmlReader()
    with suppress(expat.ExpatError, RecursionError):
        reader.parser.Parse(text.encode(), True)
    return reader.found


class _XmlReader:
    """Gathers the text of each element with its places. Entities of the document's own are not followed."""

    def __init__(self) -> None:
        self.found: list[FoundSql] = []
        self.stack: list[tuple[str, list[Piece]]] = []
        self.parser: Any = expat.ParserCreate()
        self.parser.buffer_text = False
        self.parser.StartElementHandler = self._start
        self.parser.EndElementHandler = self._end
        self.parser.CharacterDataHandler = self._text
        self.parser.EntityDeclHandler = lambda *_: None

    def _start(self, name: str, _: dict[str, str]) -> None:
        self.stack.append((name.rpartition(":")[2].lower(), []))

    def _text(self, data: str) -> None:
        if self.stack:
            self.stack[-1][1].append(Piece(data, self.parser.CurrentLineNumber, self.parser.CurrentColumnNumber + 1))

    def _end(self, _: str) -> None:
        name, pieces = self.stack.pop()
        inside = next((outer for outer, _ in self.stack if outer in _STATEMENTS), "")
        if inside and name not in _STATEMENTS:
            word = {"where": " WHERE ", "set": " SET "}.get(name, "")
            if word and pieces:
                pieces.insert(0, Piece(word, pieces[0].line, pieces[0].column))
            self.stack[-1][1].extend(pieces)
            return
        kept = trimmed(pieces)
        if kept and is_sql(FoundSql(kept).text):
            self.found.append(FoundSql(kept))


def find_in_properties(text: str) -> list[FoundSql]:
    """Return the values of a .properties file that are SQL; a backslash at the end of a line goes on in the next."""
    found = []
    lines = text.split("\n")
    number = 0
    while number < len(lines):
        match = _PROPERTY.match(lines[number])
        if match is None:
            number += 1
            continue
        pieces = []
        start = match.end()
        while True:
            line = lines[number].rstrip("\r")
            goes_on = line.endswith("\\") and not line.endswith("\\\\")
            body = line[start : -1 if goes_on else None]
            pieces.append(Piece(f"{body} " if goes_on else body, number + 1, start + 1))
            number += 1
            if not goes_on or number >= len(lines):
                break
            start = len(lines[number]) - len(lines[number].lstrip())
        whole = FoundSql(tuple(pieces))
        if is_sql(whole.text):
            found.append(whole)
    return found


def find_in_yaml(text: str) -> list[FoundSql]:
    """Return the scalars of a YAML file that are SQL: those behind a key, and blocks behind | and >."""
    return list(_yaml_values(text))


def _yaml_values(text: str) -> Iterator[FoundSql]:
    lines = text.split("\n")
    for number, line in enumerate(lines):
        match = _YAML.match(line + "\n")
        if match is None:
            continue
        if match[2]:
            depth = len(match[1])
            pieces = []
            for place in range(number + 1, len(lines)):
                own = lines[place]
                if own.strip() and len(own) - len(own.lstrip()) <= depth:
                    break
                pieces.append(Piece(own + "\n", place + 1, 1))
            kept = trimmed(pieces)
        else:
            body = line[match.end() :]
            quoted = _YAML_QUOTED.match(body)
            inner = quoted[2] if quoted is not None else re.sub(r"\s#.*$|\s+$", "", body)
            kept = (Piece(inner, number + 1, match.end() + bool(quoted) + 1),) if inner else ()
        if kept and is_sql(FoundSql(kept).text):
            yield FoundSql(kept)


def find_in_json(text: str) -> list[FoundSql]:
    """Return the strings of a JSON file that are SQL."""
    found = []
    starts = [0, *(match.end() for match in re.finditer("\n", text))]
    line = 0
    for match in _JSON.finditer(text):
        while line + 1 < len(starts) and starts[line + 1] <= match.start():
            line += 1
        body = re.sub(r"\\([nrt\"\\/])", lambda each: {"n": "\n", "t": " ", "r": " "}.get(each[1], each[1]), match[1])
        if is_sql(body):
            found.append(FoundSql((Piece(body, line + 1, match.start(1) - starts[line] + 1),)))
    return found
