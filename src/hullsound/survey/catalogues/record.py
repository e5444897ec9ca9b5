"""Captured catalogues as text, one JSON value in a line: what kits print, and what a survey cut short leaves behind.

The first line says what was asked, `{"hullsound": "catalogue/1", "engine": ..., "version": ..., "name": ...}`. A row is an array
that begins with the name of its query, `["tables", ...]`, or an object with that name as its first value. `{"end": "tables"}`
closes a query and `{"refused": "tables", "reason": ...}` says that it was not allowed; `{"end": ""}` closes the whole. A line that
ends in + goes on in the next, behind its >, for clients that break long lines.
"""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final, TextIO

import msgspec

from hullsound.errors import SourceError

from .model import Capture, Row

FORMAT: Final = "catalogue/1"
_LOOKS_LIKE: Final = re.compile(r'^\s*\{"hullsound" ?: ?"catalogue/')
_FEW: Final = 400
"""Lines of a client's own talk that may stand before the first line of a record."""


class Record(msgspec.Struct):
    """A record as read: the capture, the queries that ended, and what stood between its lines."""

    capture: Capture
    ended: set[str]
    is_whole: bool = False
    noise: list[tuple[int, str]] = []
    """Lines that are no part of the record, such as a client's error messages: (line number, text)."""


def is_record(path: Path) -> bool:
    """Whether a file holds a captured catalogue, by its first lines."""
    try:
        with path.open(encoding="utf-8-sig", errors="replace") as file:
            return any(_LOOKS_LIKE.match(line) for _, line in zip(range(_FEW), file, strict=False))
    except OSError:
        return False


def read_record(path: Path) -> Record:
    """Read what a kit printed or a survey left. Raises SourceError if the file cannot be read or is no such record."""
    try:
        text = path.read_bytes().decode("utf-8-sig", errors="replace")
    except OSError as error:
        raise SourceError(f"cannot read the file: {error.strerror}", where=str(path)) from error
    record: Record | None = None
    for number, line in _joined(text):
        value = _value(line)
        if isinstance(value, dict) and value.get("hullsound") == FORMAT:
            engine, version, name = (str(value.get(key) or "") for key in ("engine", "version", "name"))
            record = Record(Capture(engine, version, name), set())
        elif record is not None and line.strip():
            _add(record, value, number, line)
    if record is None:
        raise SourceError(
            "no captured catalogue is in it", where=str(path), hint="Write a kit with: hullsound kit ENGINE"
        )
    return record


def _joined(text: str) -> Iterator[tuple[int, str]]:
    """Yield lines with their numbers; a line that ends in + goes on behind the > of the next."""
    begun, start = "", 0
    for number, line in enumerate(text.split("\n"), start=1):
        if begun and line.startswith(">"):
            begun += line[1:].rstrip()
        else:
            if begun:
                yield start, begun
            begun, start = line.rstrip(), number
        if begun.endswith("+"):
            begun = begun[:-1]
            continue
        yield start, begun
        begun = ""
    if begun:
        yield start, begun


def _value(line: str) -> Any:
    try:
        return msgspec.json.decode(line)
    except msgspec.DecodeError:
        return None


def _add(record: Record, value: Any, number: int, line: str) -> None:
    capture = record.capture
    row = tuple(value.values()) if isinstance(value, dict) else tuple(value) if isinstance(value, list) else ()
    if isinstance(value, dict) and "end" in value:
        record.is_whole = record.is_whole or not value["end"]
        record.ended.add(str(value["end"]))
        capture.found.setdefault(str(value["end"]), [])
    elif isinstance(value, dict) and "refused" in value:
        capture.refused[str(value["refused"])] = str(value.get("reason", ""))
    elif row and isinstance(row[0], str):
        capture.found.setdefault(row[0], []).append(row[1:])
    else:
        record.noise.append((number, line.strip()[:160]))


class Recorder:
    """Writes a capture down as it comes in, so that nothing read is lost when a connection is."""

    def __init__(self, file: TextIO) -> None:
        self.file = file

    def begin(self, capture: Capture) -> None:
        self._write({"hullsound": FORMAT, "engine": capture.engine, "version": capture.version, "name": capture.name})

    def add(self, query: str, rows: list[Row]) -> None:
        self.file.writelines(_line([query, *row]) for row in rows)
        self._write({"end": query})
        self.file.flush()

    def _write(self, value: Any) -> None:
        self.file.write(_line(value))


def _line(value: Any) -> str:
    return msgspec.json.encode(value).decode() + "\n"


def write_record(capture: Capture) -> Iterator[str]:
    """Yield the lines of a whole capture, as a kit prints them."""
    yield _line({"hullsound": FORMAT, "engine": capture.engine, "version": capture.version, "name": capture.name})
    for query, rows in capture.found.items():
        yield from (_line([query, *row]) for row in rows)
        yield _line({"end": query})
    yield _line({"end": ""})
