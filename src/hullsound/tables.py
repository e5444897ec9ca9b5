"""Reads tables that people and monitoring export: CSV with a head, kindly, and with every fault told by line and column."""

import csv
import io
import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, Final, NamedTuple

from hullsound.errors import SourceError

Row = dict[str, Any]
"""Values by the names of columns; what is empty is None. `LINE` holds the line of the file."""
LINE: Final = "line of the file"
_FAULTS_TOLD: Final = 5
_MOST_BYTES: Final = 500_000_000
_YES: Final = frozenset(("yes", "y", "true", "1", "x", "done"))
_NO: Final = frozenset(("no", "n", "false", "0", "", "open"))


class Column(NamedTuple):
    """One column of a table: how it is called, how its cells are read, and by what other names it is known."""

    name: str
    read: Callable[[str], Any]
    is_required: bool = False
    also: tuple[str, ...] = ()


def read_table(path: Path, columns: Sequence[Column], what: str, *, others: bool = False) -> list[Row]:
    """Read a CSV file with a head; commas, semicolons or tabs separate, case and spaces of heads do not count.

    Columns that nobody knows are an error unless `others` says that they may be there. Raises SourceError, which names file,
    line and column of up to five faults.
    """
    lines = _lines(path, what)
    number, head = next(lines, (1, []))
    if not any(cell.strip() for cell in head):
        raise SourceError(
            "is empty", where=str(path), hint=f"{what} begins with a line of column names: {_named(columns)}."
        )
    faults: list[str] = []
    placed = _places(head, columns, faults, others=others)
    known = set(placed.values())
    faults += [
        f"line {number}: no column {each.name}" for each in columns if each.is_required and each.name not in known
    ]
    if faults:
        raise table_error(path, faults, f"{what} has the columns {_named(columns)}.")
    by_name = {each.name: each for each in columns}
    rows: list[Row] = []
    for line, cells in lines:
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) > len(head):
            faults.append(f"line {line}: {len(cells)} cells under {len(head)} column names")
        row: Row = {LINE: line} | dict.fromkeys(known)
        for place, name in placed.items():
            _read_cell(row, by_name[name], cells[place] if place < len(cells) else "", line, faults)
        rows.append(row)
    if faults:
        raise table_error(path, faults, "Nothing was taken from the file.")
    return rows


def _lines(path: Path, what: str) -> Iterator[tuple[int, list[str]]]:
    try:
        if path.stat().st_size > _MOST_BYTES:
            raise SourceError("is larger than 500 MB", where=str(path), hint="Give a shorter span of time.")
        content = path.read_bytes()
    except OSError as error:
        raise SourceError(f"cannot read {what}: {error.strerror}", where=str(path)) from error
    try:
        text = content.decode("utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    first = text.partition("\n")[0]
    delimiter = max(",;\t", key=first.count)
    reader = csv.reader(io.StringIO(text.replace("\0", ""), newline=""), delimiter=delimiter)
    return _numbered(reader, path)


def _numbered(reader: Any, path: Path) -> Iterator[tuple[int, list[str]]]:
    before = 0
    try:
        for cells in reader:
            yield before + 1, cells
            before = reader.line_num
    except csv.Error as error:
        raise SourceError(f"line {reader.line_num}: {error}", where=str(path)) from error


def _places(head: list[str], columns: Sequence[Column], faults: list[str], *, others: bool) -> dict[int, str]:
    names = {_plain(name): each.name for each in columns for name in (each.name, *each.also)}
    placed: dict[int, str] = {}
    for place, cell in enumerate(head):
        name = names.get(_plain(cell))
        if name is None:
            if cell.strip() and not others:
                faults.append(f"line 1: the column {cell.strip()!r} is not known here")
        elif name in placed.values():
            faults.append(f"line 1: two columns mean {name}")
        else:
            placed[place] = name
    return placed


def _plain(name: str) -> str:
    return "".join(each for each in name.lower() if each.isalnum() or each in "%/")


def _read_cell(row: Row, column: Column, cell: str, line: int, faults: list[str]) -> None:
    text = cell.strip()
    if not text:
        if column.is_required:
            faults.append(f"line {line}, column {column.name}: empty")
        return
    try:
        row[column.name] = column.read(text)
    except ValueError as error:
        faults.append(f"line {line}, column {column.name}: {error}")


def table_error(path: Path, faults: list[str], hint: str) -> SourceError:
    """Return the error for a table with faults: the first five of them, and how many more there are."""
    told = faults[:_FAULTS_TOLD]
    more = f"; and {len(faults) - len(told)} more" if len(faults) > len(told) else ""
    return SourceError("; ".join(told) + more, where=str(path), hint=hint)


def _named(columns: Iterable[Column]) -> str:
    return ", ".join(each.name if each.is_required else f"[{each.name}]" for each in columns)


# --- how cells are read; each raises ValueError with what is wrong ---


def text(cell: str) -> str:
    """Return a cell as it is."""
    return cell


def amount(cell: str) -> float:
    """Read a number that is not below 0; 1,234.5 and 1.234,5 and 1 234,5 are the same."""
    plain = cell.replace(" ", "").replace("\N{NO-BREAK SPACE}", "").removesuffix("%")
    if "," in plain and (plain.rfind(",") > plain.rfind(".")):
        is_grouped = plain.count(",") > 1 or (
            len(plain.rpartition(",")[2]) == 3 and "." not in plain and len(plain) > 4
        )
        plain = plain.replace(",", "") if is_grouped else plain.replace(".", "").replace(",", ".")
    else:
        plain = plain.replace(",", "")
    try:
        value = float(plain)
    except ValueError:
        raise ValueError(f"{cell!r} is not a number") from None
    if not math.isfinite(value):
        raise ValueError(f"{cell!r} is not a finite number")
    if value < 0:
        raise ValueError(f"{cell} is below 0")
    return value


def flag(cell: str) -> bool:
    """Read yes or no."""
    if cell.lower() in _YES:
        return True
    if cell.lower() in _NO:
        return False
    raise ValueError(f"{cell!r} is neither yes nor no")


def timestamp(cell: str) -> datetime:
    """Read a point in time: ISO 8601, or seconds or milliseconds since 1970. Without a zone it counts as UTC."""
    if cell.replace(".", "", 1).isdigit() and len(cell) >= 9:
        seconds = float(cell)
        try:
            return datetime.fromtimestamp(seconds / 1000 if seconds > 1e11 else seconds, UTC)
        except (OverflowError, OSError, ValueError):
            raise ValueError(f"{cell!r} is not a point in time") from None
    try:
        value = datetime.fromisoformat(cell)
    except ValueError:
        raise ValueError(f"{cell!r} is not a point in time such as 2027-02-01T08:30:00Z") from None
    return value if value.tzinfo else value.replace(tzinfo=UTC)


def day(cell: str) -> date:
    """Read a date, YYYY-MM-DD."""
    try:
        return date.fromisoformat(cell)
    except ValueError:
        raise ValueError(f"{cell!r} is not a date such as 2027-02-01") from None
