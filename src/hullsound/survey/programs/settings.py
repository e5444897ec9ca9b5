"""Where programs and their configuration name the engine of the source: addresses, drivers, dialects."""

import re
import tomllib
from functools import cache
from importlib.resources import files
from typing import NamedTuple


class Setting(NamedTuple):
    """One place that names the engine."""

    line: int
    column: int
    text: str


@cache
def load_program_settings() -> dict[str, dict[str, object]]:
    """Return the words of each engine, with an example and a look-alike."""
    text = (files(__package__) / "settings.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


@cache
def _pattern(engine: str) -> re.Pattern[str] | None:
    row = load_program_settings().get(engine)
    if row is None:
        return None
    words = row["words"]
    assert isinstance(words, list)
    longest_first = sorted(map(str, words), key=len, reverse=True)
    # A star ends at / and @, so that a name and its password in an address are never shown.
    parts = [r"[\w.:\-]*".join(map(re.escape, word.split("*"))) for word in longest_first]
    return re.compile(rf"(?<!\w)(?:{'|'.join(parts)})")


def find_settings(text: str, engine: str) -> list[Setting]:
    """Return the places of a text that name an engine, the first of each line."""
    pattern = _pattern(engine)
    if pattern is None or not pattern.search(text):
        return []
    found = []
    for number, line in enumerate(text.split("\n"), start=1):
        match = pattern.search(line)
        if match is not None:
            found.append(Setting(number, match.start() + 1, match[0]))
    return found
