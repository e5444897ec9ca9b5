"""Catalogue queries, the rows they gave, and what these rows say."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any, Final, NamedTuple

Row = tuple[Any, ...]
Rows = list[Row]

_HEAD: Final = re.compile(r"^-- (name|part): (\w+)\n((?:-- \w+: .*\n)*)", re.MULTILINE)
_FACT: Final = re.compile(r"^-- (\w+): (.*)$", re.MULTILINE)
_COMMENT: Final = re.compile(r"^--.*\n", re.MULTILINE)
_FILES: Final = {"mariadb": "mysql"}
"""Engines whose catalogue is described in the file of another."""

FACTS: Final = frozenset(("sizes", "settings"))
"""Names of queries that tell facts rather than objects: (schema, table, rows, bytes) and (name, value)."""


@dataclass(frozen=True)
class Query:
    """One query on the catalogue of an engine, as its file has it."""

    name: str
    text: str
    right: str = ""
    """The statement that gives a user, written {user}, the right to what the query reads."""


@dataclass(frozen=True)
class Statement:
    """One object of the source as the statement that makes it."""

    schema: str
    type: str
    name: str
    text: str


class Size(NamedTuple):
    """How much a table holds: rows as the engine estimates them, bytes with its indexes."""

    schema: str
    table: str
    rows: int
    bytes: int


@dataclass
class Capture:
    """What a catalogue said: the rows of each query by its name, and the reason for each query that was refused."""

    engine: str
    version: str = ""
    name: str = ""
    found: dict[str, Rows] = field(default_factory=dict)
    refused: dict[str, str] = field(default_factory=dict)

    def rows(self, query: str) -> Rows:
        """Return the rows of a query; none where it was refused or is not asked of this engine."""
        return self.found.get(query, [])

    def sizes(self) -> Iterator[Size]:
        """Yield how much each table holds, where the engine knows it."""
        for schema, table, rows, size in self.rows("sizes"):
            if rows is not None:
                yield Size(str(schema), str(table), max(int(rows), 0), int(size or 0))

    def settings(self) -> dict[str, str]:
        """Return the settings of server and database that a move depends on."""
        return {str(name): "" if value is None else str(value) for name, value in self.rows("settings")}


@cache
def load_queries(engine: str, version: str = "", when: str = "survey") -> dict[str, Query]:
    """Return the catalogue queries of an engine by name, in the order of their file: those of a survey, or others (`-- when:`).

    A query may be meant for one engine of a family (`-- for:`) or for versions (`-- since:`, `-- before:`); an empty
    version takes the newest. `{part}` in its text stands for a part of that name, which several queries share.
    """
    text = (files(__package__) / f"{_FILES.get(engine, engine)}.sql").read_text(encoding="utf-8")
    heads = list(_HEAD.finditer(text))
    ends = [*(head.start() for head in heads[1:]), len(text)]
    queries: dict[str, Query] = {}
    parts: dict[str, str] = {}
    for head, end in zip(heads, ends, strict=True):
        kind, name, facts = head[1], head[2], dict(_FACT.findall(head[3]))
        if engine not in facts.get("for", engine).split():
            continue
        if not holds(version, facts.get("since", ""), facts.get("before", "")):
            continue
        body = _COMMENT.sub("", text[head.end() : end]).strip()
        if kind == "part":
            parts[name] = body
        elif facts.get("when", "survey") == when:
            for part, meaning in parts.items():
                body = body.replace(f"{{{part}}}", meaning)
            queries[name] = Query(name, body, facts.get("right", ""))
    return queries


def holds(version: str, since: str = "", before: str = "") -> bool:
    """Whether a version lies in a span; an empty version is the newest."""
    if not version:
        return not before
    return _order(since) <= _order(version) and (not before or _order(version) < _order(before))


def _order(version: str) -> tuple[int, ...]:
    return tuple(int(part) for part in re.findall(r"\d+", version)[:2])


def by_first(rows: Iterable[Row], count: int = 1) -> dict[Any, Rows]:
    """Group rows by their first column, or by the first `count` of them."""
    found: dict[Any, Rows] = {}
    for row in rows:
        found.setdefault(row[0] if count == 1 else row[:count], []).append(row)
    return found


def literal(text: Any) -> str:
    """Write a text literal of standard SQL."""
    return "'" + str(text).replace("'", "''") + "'"
