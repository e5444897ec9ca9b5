"""What all steps share: progress, the time, and a pause for the garbage collector."""

import gc
import hashlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

Progress = Callable[[str, int, int], None]
"""Called with what is worked on, how many are done, and how many there are."""


def no_progress(what: str, done: int, total: int) -> None:
    """Report nothing."""


def now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


@contextmanager
def no_collection() -> Iterator[None]:
    """Hold the cyclic garbage collector back: trees have no cycles, and walking them again and again costs a third."""
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            gc.enable()


READING: tuple[str, ...] = ("sql", "catalog", "survey", "analyze", "sight", "knowledge")
"""Folders of what a survey depends on."""
DRAFTING: tuple[str, ...] = (*READING, "assess", "draft")
"""Folders of what drafts depend on."""

REPORTING: tuple[str, ...] = (*DRAFTING, "report")
"""Folders of what documents depend on."""


@cache
def tool_fingerprint(folders: tuple[str, ...] = READING) -> str:
    """Return what tells one state of code and knowledge in folders from another: names, sizes and times of files."""
    root = Path(__file__).parents[1]
    entries: list[tuple[str, int, int]] = []
    inside = (path for folder in folders for path in sorted((root / folder).rglob("*")))
    for path in (*sorted(root.glob("*.py")), *inside):
        if path.suffix in (".py", ".toml"):
            facts = path.stat()
            entries.append((path.relative_to(root).as_posix(), facts.st_size, facts.st_mtime_ns))
    return hashlib.sha256(repr(entries).encode()).hexdigest()
