"""Adds a decision to a project file: a finding that may stay, with its reason and owner."""

import json
from pathlib import Path
from typing import Final

from .errors import SourceError, UsageError
from .project import AcceptEntry, read_project

_HEAD: Final = "# What this project decides for itself; the manual shows every section.\n"
_DELETE: Final = "\x7f"
"""The one control character that JSON writes as it is and TOML forbids."""


def accept_text(entry: AcceptEntry) -> str:
    """Return an entry as a section of hullsound.toml."""
    lines = ["[[accept]]", f"construct = {_quoted(entry.construct)}"]
    lines += [f"object = {_quoted(entry.object)}"] if entry.object != "*" else []
    lines += [f"reason = {_quoted(entry.reason)}", f"owner = {_quoted(entry.owner)}"]
    lines += [f"until = {entry.until.isoformat()}"] if entry.until is not None else []
    return "\n".join(lines) + "\n"


def _quoted(text: str) -> str:
    """Write a basic string of TOML, whose escapes are those of JSON."""
    return json.dumps(text).replace(_DELETE, "\\u007f")


def add_accept(path: Path, entry: AcceptEntry) -> None:
    """Add an entry at the end of a project file, which is made where it is missing.

    Raises UsageError for an entry without a reason or an owner and for a file that cannot be read, SourceError for one that
    cannot be written. Nothing is written half.
    """
    if not entry.reason.strip() or not entry.owner.strip():
        raise UsageError("a finding is accepted for a reason and by an owner", hint="Give both.")
    read_project(path)
    fresh = path.with_name(f"{path.name}.new")
    try:
        before = path.read_text(encoding="utf-8") if path.is_file() else _HEAD
        gap = "\n" if before.endswith("\n") else "\n\n"
        fresh.write_text(f"{before}{gap}{accept_text(entry)}", encoding="utf-8")
        read_project(fresh)
        fresh.replace(path)
    except OSError as error:
        raise SourceError(f"cannot write the project file: {error.strerror or error}", where=str(path)) from error
    finally:
        fresh.unlink(missing_ok=True)
