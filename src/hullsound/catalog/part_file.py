"""What a survey of scripts has read so far, beside its hull file, so that one that is stopped goes on where it was."""

import sqlite3
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Final

_FLUSH_SECONDS: Final = 2.0
"""How often what was read is put on disk: a short survey writes nothing."""


class PartFile:
    """Packed parts by their keys. A disk that takes nothing costs the going on and not the survey."""

    def __init__(self, hull: Path) -> None:
        self.path = hull.with_name(f"{hull.name}.parts")
        self._waiting: list[tuple[str, bytes]] = []
        self._flushed = time.monotonic()

    def read(self, keys: Iterable[str]) -> dict[str, bytes]:
        """Return the parts that an earlier survey left."""
        if not self.path.is_file():
            return {}
        wanted = set(keys)
        try:
            with sqlite3.connect(self.path) as connection:
                rows = connection.execute("SELECT key, content FROM part").fetchall()
        except sqlite3.Error:
            return {}
        finally:
            connection.close()
        return {key: content for key, content in rows if key in wanted}

    def add(self, key: str, content: bytes) -> None:
        self._waiting.append((key, content))
        if time.monotonic() - self._flushed >= _FLUSH_SECONDS:
            self._flush()

    def _flush(self) -> None:
        try:
            connection = sqlite3.connect(self.path)
            try:
                with connection:
                    connection.execute("CREATE TABLE IF NOT EXISTS part (key TEXT PRIMARY KEY, content BLOB NOT NULL)")
                    connection.executemany("INSERT OR REPLACE INTO part VALUES (?, ?)", self._waiting)
            finally:
                connection.close()
        except sqlite3.Error:
            return
        finally:
            self._waiting.clear()
            self._flushed = time.monotonic()

    def finish(self) -> None:
        """Put the rest on disk, if the survey has taken long enough for anything to be there."""
        if self.path.is_file():
            self._flush()

    def remove(self) -> None:
        """Remove the file: all that it holds is in the hull file by now."""
        self.path.unlink(missing_ok=True)
