"""The knowledge as one packed file, so that its TOML is parsed once for each state of it and not by every command."""

import hashlib
import os
import tempfile
import tomllib
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import Any, Final

import msgspec

ROOT: Final = files(__package__)
"""Folder of the knowledge that ships with Hull Sound."""
CACHE_VARIABLE: Final = "HULLSOUND_CACHE"
"""Environment variable that names the folder of the packed file; empty for none."""


def read_document(file: Traversable) -> dict[str, Any]:
    """Return a TOML file of the shipped knowledge. Raises TOMLDecodeError, UnicodeDecodeError or OSError."""
    packed = _documents().get(str(file))
    if packed is not None:
        document: dict[str, Any] = msgspec.msgpack.decode(packed)
        return document
    return tomllib.loads(file.read_text(encoding="utf-8"))


@cache
def _documents() -> dict[str, msgspec.Raw]:
    """Return all files by their path, each still packed, from the packed file if it holds this state of them.

    Returns {} where none can be kept.
    """
    folder = cache_folder()
    root = Path(str(ROOT))
    if folder is None or not root.is_dir():
        return {}
    paths = sorted(root.rglob("*.toml"))
    state = [(str(path), facts.st_size, facts.st_mtime_ns) for path in paths for facts in (path.stat(),)]
    packed = folder / f"knowledge-{hashlib.sha256(repr(state).encode()).hexdigest()[:20]}.msgpack"
    try:
        return msgspec.msgpack.decode(packed.read_bytes(), type=dict[str, msgspec.Raw])
    except (OSError, msgspec.DecodeError):
        return _pack(paths, packed)


def _pack(paths: list[Path], packed: Path) -> dict[str, msgspec.Raw]:
    """Parse all files and keep them; files with faults are left out, so that whoever reads them meets the fault."""
    try:
        packed.parent.mkdir(parents=True, exist_ok=True)
        if not os.access(packed.parent, os.W_OK):
            return {}
    except OSError:
        return {}
    documents: dict[str, msgspec.Raw] = {}
    for path in paths:
        try:
            document = tomllib.loads(path.read_text(encoding="utf-8"))
            documents[str(path)] = msgspec.Raw(msgspec.msgpack.encode(document))
        except (tomllib.TOMLDecodeError, UnicodeDecodeError, OSError):
            continue
    try:
        with tempfile.NamedTemporaryFile(dir=packed.parent, prefix=".knowledge-", delete=False) as fresh:
            fresh.write(msgspec.msgpack.encode(documents))
        Path(fresh.name).replace(packed)
        _forget_others(packed)
    except OSError:
        return documents
    return documents


def _forget_others(packed: Path) -> None:
    """Remove the packed files of earlier states but the last few: several versions may be in use side by side."""
    others = sorted(packed.parent.glob("knowledge-*.msgpack"), key=lambda path: path.stat().st_mtime)
    for path in others[:-4]:
        path.unlink(missing_ok=True)


def cache_folder() -> Path | None:
    """Return the folder for what can be made again; None where the user wants none."""
    named = os.environ.get(CACHE_VARIABLE)
    if named is not None:
        return Path(named) if named else None
    base = os.environ.get("XDG_CACHE_HOME") or ""
    try:
        return (Path(base) if base else Path.home() / ".cache") / "hullsound"
    except RuntimeError:  # no home
        return None
