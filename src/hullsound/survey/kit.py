"""Kits: plain scripts for an engine's own client, which ask the catalogue what a live survey asks and print it as a record."""

import re
from dataclasses import dataclass
from importlib.resources import files
from typing import Final

from hullsound.errors import UsageError

from .catalogues.model import load_queries
from .catalogues.record import FORMAT


@dataclass(frozen=True)
class Client:
    """The client of an engine: how a kit is run with it, and the newest versions that the kit keeps to."""

    name: str
    command: str
    about: str


CLIENTS: Final = {
    "postgresql": Client("psql", "psql -X -q -d DATABASE -f FILE > OUTPUT", "PostgreSQL 12 to 18; psql 11 or newer"),
    "mysql": Client("mysql", "mysql -N -r DATABASE < FILE > OUTPUT", "MySQL 8.0 to 9"),
    "mariadb": Client("mariadb", "mariadb -N -r DATABASE < FILE > OUTPUT", "MariaDB 10.6 to 11"),
    "oracle": Client("SQL*Plus", "sqlplus -S USER@SERVICE @FILE > OUTPUT", "Oracle Database 12.2 to 23ai"),
    "sqlserver": Client(
        "sqlcmd", "sqlcmd -S SERVER -d DATABASE -y 0 -i FILE -o OUTPUT -f 65001", "SQL Server 2017 to 2022"
    ),
    "db2": Client("db2", "db2 -t -f FILE > OUTPUT", "Db2 11.1 to 11.5; the engine's own db2look writes the statements"),
    "teradata": Client(
        "bteq", "bteq < FILE > OUTPUT", "Teradata 16.20 to 17.20; it writes and then runs a second script"
    ),
}
"""By engine."""
_PARTS: Final = re.compile(r"^-- (?:each query|the end)\n", re.MULTILINE)


def write_kit(engine: str) -> str:
    """Return the kit for an engine's own client. Raises UsageError for an engine without one.

    What it prints is a record of the catalogue (see `catalogues.record`), which `survey` reads; Teradata's is a script.
    """
    client = CLIENTS.get(engine)
    if client is None:
        raise UsageError(f"no kit for {engine!r}", where="kit", hint=f"There are kits for {', '.join(CLIENTS)}.")
    template = (files(__package__) / "kits" / f"{'mysql' if engine == 'mariadb' else engine}.sql").read_text(
        encoding="utf-8"
    )
    head, *rest = _PARTS.split(template)
    text = head
    if rest:  # Teradata's kit asks no queries of its own
        block, tail = rest
        for query in load_queries(engine).values():
            text += block.replace("{name}", query.name).replace("{query}", _printed(engine, query.name, query.text))
        text += tail
    facts = {
        "engine": engine,
        "client": client.name,
        "command": client.command,
        "about": client.about,
        "format": FORMAT,
    }
    for key, value in facts.items():
        text = text.replace(f"{{{key}}}", value)
    return text


def _printed(engine: str, name: str, query: str) -> str:
    """Return a query that gives one text in each row: its values, put together as JSON by the engine."""
    if engine == "oracle":
        return query  # the kit's own procedure puts the values together
    pieces = []
    for branch in re.split(r"\bUNION ALL\b", query):
        start, end = _select_list(branch)
        values = [_without_alias(value) for value in _split(branch[start:end])]
        if engine == "sqlserver":
            told = ", ".join(f"{value} AS c{place}" for place, value in enumerate(values, start=1))
            row = f"(SELECT '{name}' AS q, {told} FOR JSON PATH, INCLUDE_NULL_VALUES, WITHOUT_ARRAY_WRAPPER)"
        else:
            function = "json_build_array" if engine == "postgresql" else "JSON_ARRAY"
            row = f"{function}('{name}', {', '.join(values)})"
        pieces.append(f"{branch[:start]} {row}\n{branch[end:]}")
    return "UNION ALL".join(pieces)


def _select_list(query: str) -> tuple[int, int]:
    """Return where the list behind the outer SELECT begins and ends."""
    start = query.index("SELECT") + len("SELECT")
    for place, word in _outer_words(query, start):
        if word == "FROM":
            return start, place
    return start, len(query.rstrip())


def _outer_words(text: str, start: int) -> list[tuple[int, str]]:
    """Return the words and commas that stand in no brackets and no quotes, with their places."""
    found: list[tuple[int, str]] = []
    depth = 0
    for match in re.finditer(r"'(?:[^']|'')*'|[()]|\w+|,", text[start:]):
        word = match[0]
        depth += {"(": 1, ")": -1}.get(word, 0)
        if depth == 0 and (word == "," or word[0].isalpha()):
            found.append((start + match.start(), word.upper()))
    return found


def _split(values: str) -> list[str]:
    """Split a list at its outer commas."""
    ends = [place for place, word in _outer_words(values, 0) if word == ","]
    starts = [0, *(end + 1 for end in ends)]
    return [values[start:end].strip() for start, end in zip(starts, [*ends, len(values)], strict=True)]


def _without_alias(value: str) -> str:
    words = _outer_words(value, 0)
    return value[: words[-2][0]].strip() if len(words) > 1 and words[-2][1] == "AS" else value
