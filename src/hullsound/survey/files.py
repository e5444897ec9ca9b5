"""Finding script files and turning their bytes into text."""

import hashlib
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from hullsound.errors import SourceError, UsageError
from hullsound.timing import step

SUFFIXES: Final = frozenset(
    """.sql .ddl .tsql .psql .mysql .db2 .bteq .btq .td .spl .mac .proc .udf .dump .pks .pkb .pck .pls .plb .prc .fnc .trg .vw
    .typ .tps .tpb .syn .seq .tab .ind .con .grt .pkg .spc .bdy .txt""".split()
)
"""Endings under which shops keep scripts; other files of a folder are passed over and counted."""
_FEW_NULLS: Final = 3
_STRAY_NULLS: Final = 0.01
"""Number and share of NUL bytes up to which a file is text."""
_BINARY_STARTS: Final = (
    b"\x7fELF",
    b"PK\x03\x04",
    b"\x89PNG",
    b"%PDF",
    b"SQLite format",
    b"\xd0\xcf\x11\xe0",
    b"PGDMP",
    b"\x1f\x8b",
)
_BOMS: Final = ((b"\xef\xbb\xbf", "utf-8"), (b"\xff\xfe", "utf-16-le"), (b"\xfe\xff", "utf-16-be"))


@dataclass(frozen=True, slots=True)
class ScriptFile:
    """One file of the source: its path as reports show it, and its text."""

    name: str
    text: str
    digest: str


def find_scripts(source: Path) -> list[Path]:
    """List the script files of a folder, or the file itself, in a stable order.

    Raises SourceError if the source does not exist, cannot be entered or holds no script.
    """
    if not source.exists():
        raise SourceError("no such file or folder", where=str(source), hint="Give a folder or a file of SQL scripts.")
    if source.is_file():
        return [source]
    found: list[Path] = []

    def refuse(error: OSError) -> None:
        raise SourceError(
            f"cannot enter the folder: {error.strerror}", where=str(error.filename), hint="Check its access rights."
        ) from error

    for folder, folders, files in os.walk(source, onerror=refuse):
        folders[:] = sorted(f for f in folders if not f.startswith("."))
        found += (Path(folder) / f for f in sorted(files) if Path(f).suffix.lower() in SUFFIXES)
    if not found:
        raise SourceError("no SQL scripts here", where=str(source), hint=f"Files read: {' '.join(sorted(SUFFIXES))}")
    return found


@step("open files")
def read_all(source: Path, encoding: str = "") -> tuple[list[ScriptFile], list[SourceError]]:
    """Read all scripts of a source. A file of a folder that cannot be read is returned as its error.

    Raises SourceError if the source is no folder or file of scripts, or none of its files can be read.
    """
    paths = find_scripts(source)
    read: list[ScriptFile] = []
    errors: list[SourceError] = []
    for path in paths:
        try:
            read.append(read_script_file(path, source, encoding))
        except SourceError as error:
            errors.append(error)
    if not read:
        raise errors[0]
    return read, errors


def read_script_file(path: Path, root: Path, encoding: str = "") -> ScriptFile:
    """Read and decode one file. Raises SourceError if it cannot be read or is not text."""
    try:
        data = path.read_bytes()
    except OSError as error:
        raise SourceError(
            f"cannot read the file: {error.strerror}", where=str(path), hint="Check its access rights."
        ) from error
    name = path.relative_to(root).as_posix() if path != root and path.is_relative_to(root) else path.name
    text = decode(data, str(path), encoding)
    return ScriptFile(name, text, hashlib.sha256(data).hexdigest())


def decode(data: bytes, where: str, encoding: str = "") -> str:
    """Decode script bytes: in `encoding` if given, else by byte order mark, else by their look.

    UTF-16 without a mark shows by its NUL bytes; what is not UTF-8 is taken for Windows-1252, of which Latin-1 is nearly a
    part. Bare carriage returns become line feeds. Raises SourceError for
    binary data, UsageError for an unknown encoding.
    """
    if encoding:
        try:
            text = data.decode(encoding, errors="replace")
        except LookupError as error:
            raise UsageError(
                f"unknown encoding {encoding!r}",
                where="--encoding",
                hint="Such as utf-8, utf-16, latin-1, cp1252, cp850.",
            ) from error
        return _with_line_feeds(text.removeprefix("\ufeff"))
    for mark, marked in _BOMS:
        if data.startswith(mark):
            return _with_line_feeds(data[len(mark) :].decode(marked, errors="replace"))
    wide = _wide_encoding(data[:65536], where)
    if wide:
        return _with_line_feeds(data.decode(wide, errors="replace"))
    try:
        return _with_line_feeds(data.decode("utf-8"))
    except UnicodeDecodeError:
        return _with_line_feeds(data.decode("cp1252", errors="replace"))


def _wide_encoding(sample: bytes, where: str) -> str:
    """Return utf-16-le or utf-16-be by where NUL bytes stand; '' for text of single bytes, perhaps with stray NULs."""
    nulls = sample.count(0)
    if not nulls:
        return ""
    if sample[1::2].count(0) > 0.6 * len(sample) / 2 and sample[::2].count(0) < 0.1 * len(sample):
        return "utf-16-le"
    if sample[::2].count(0) > 0.6 * len(sample) / 2 and sample[1::2].count(0) < 0.1 * len(sample):
        return "utf-16-be"
    if nulls > max(_STRAY_NULLS * len(sample), min(_FEW_NULLS, len(sample) // 10)) or sample.startswith(_BINARY_STARTS):
        raise SourceError("a binary file, not a script", where=where, hint="Give files of SQL text.")
    return ""


def _with_line_feeds(text: str) -> str:
    """Let a text of bare carriage returns have lines; offsets stay the same."""
    return text.replace("\r", "\n") if "\r" in text and "\n" not in text else text
