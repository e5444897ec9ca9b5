"""Kits: plain scripts for an engine's own client, which ask the catalogue what a live survey asks and print it as a record."""

import re
from dataclasses import dataclass
from importlib.resources import files
from typing import Final, NamedTuple

from hullsound.errors import UsageError

from .catalogues.model import holds, load_queries
from .catalogues.record import FORMAT


@dataclass(frozen=True)
class Client:
    """The client of an engine: how a kit is run with it, and the versions that the newest kit keeps to."""

    name: str
    command: str
    about: str
    oldest: str = ""
    """The oldest version that a kit can be written for; '' where there is one kit for all."""


CLIENTS: Final = {
    "postgresql": Client("psql", "psql -X -q -d DATABASE -f FILE > OUTPUT", "PostgreSQL 12 to 18; psql 11 or newer"),
    "mysql": Client("mysql", "mysql -N -r DATABASE < FILE > OUTPUT", "MySQL 8.0 to 9", "5.7"),
    "mariadb": Client("mariadb", "mariadb -N -r DATABASE < FILE > OUTPUT", "MariaDB 10.6 to 11"),
    "oracle": Client("SQL*Plus", "sqlplus -S USER@SERVICE @FILE > OUTPUT", "Oracle Database 12.2 to 23ai", "11"),
    "sqlserver": Client(
        "sqlcmd", "sqlcmd -S SERVER -d DATABASE -y 0 -i FILE -o OUTPUT -f 65001", "SQL Server 2017 to 2022", "2008"
    ),
    "ase": Client(
        "isql", "isql -U USER -S SERVER -i FILE", "ASE 15.7 to 16; the engine's own ddlgen writes the statements"
    ),
    "db2": Client("db2", "db2 -t -f FILE > OUTPUT", "Db2 11.1 to 11.5; the engine's own db2look writes the statements"),
    "teradata": Client(
        "bteq", "bteq < FILE > OUTPUT", "Teradata 16.20 to 17.20; it writes and then runs a second script"
    ),
}
"""By engine."""
SCRIPTED: Final = frozenset(("ase", "db2", "teradata"))
"""Engines of which a kit brings a script, so that a survey is told whose it is."""
_VERSION: Final = re.compile(r"\d+(\.\d+)*")
_PARTS: Final = re.compile(r"^-- (?:each query|the end)\n", re.MULTILINE)


def write_kit(engine: str, version: str = "") -> str:
    """Return the kit for an engine's own client, for the newest versions or for an older one.

    What it prints is a record of the catalogue (see `catalogues.record`), which `survey` reads; that of ASE, Db2 and Teradata is
    a script. Raises UsageError for an engine or a version without one.
    """
    client = CLIENTS.get(engine)
    if client is None:
        raise UsageError(f"no kit for {engine!r}", where="kit", hint=f"There are kits for {', '.join(CLIENTS)}.")
    _check_version(engine, version, client)
    head, *rest = _PARTS.split(_template(engine, version))
    text = head
    if rest:  # some engines write the statements themselves
        block, tail = rest
        for query in load_queries(engine, version).values():
            printed = printed_query(engine, version, query.name, query.text)
            text += block.replace("{name}", query.name).replace("{query}", printed)
        text += tail
    facts = {
        "engine": engine,
        "client": client.name,
        "command": client.command,
        "about": f"version {version}" if version else client.about,
        "format": FORMAT,
        "version": version,
    }
    for key, value in facts.items():
        text = text.replace(f"{{{key}}}", value)
    return text


def _check_version(engine: str, version: str, client: Client) -> None:
    if not version:
        return
    if not client.oldest:
        raise UsageError(
            f"the kit for {engine} is not made by version", where="kit", hint=f"It holds for {client.about}."
        )
    if not _VERSION.fullmatch(version) or not holds(version, since=client.oldest):
        raise UsageError(
            f"no kit for {engine} {version}", where="kit",
            hint=f"Kits are written for {client.about}, and for older versions since {client.oldest}.",
        )  # fmt: skip


def _has_no_json(engine: str, version: str) -> bool:
    """FOR JSON came with SQL Server 2016: Transact-SQL reference, "FOR JSON"."""
    return engine == "sqlserver" and bool(version) and not holds(version, since="2016")


def _template(engine: str, version: str) -> str:
    name = "mysql" if engine == "mariadb" else "sqlserver-before-2016" if _has_no_json(engine, version) else engine
    return (files(__package__) / "kits" / f"{name}.sql").read_text(encoding="utf-8")


def printed_query(engine: str, version: str, name: str, query: str) -> str:
    """Return a query that gives one text in each row: its values, put together as JSON by the engine."""
    if engine == "oracle":
        return query  # the kit's own procedure puts the values together
    pieces = []
    for branch in re.split(r"\bUNION ALL\b", query):
        start, end = _select_list(branch)
        values = [_without_alias(value) for value in _split(branch[start:end])]
        if _has_no_json(engine, version):
            row = " + N', ' + ".join((f"CAST(N'[\"{name}\"' AS nvarchar(max))", *map(_as_json, values))) + " + N']'"
        elif engine == "sqlserver":
            told = ", ".join(f"{value} AS c{place}" for place, value in enumerate(values, start=1))
            row = f"(SELECT '{name}' AS q, {told} FOR JSON PATH, INCLUDE_NULL_VALUES, WITHOUT_ARRAY_WRAPPER)"
        else:
            function = "json_build_array" if engine == "postgresql" else "JSON_ARRAY"
            row = f"{function}('{name}', {', '.join(values)})"
        pieces.append(f"{branch[:start]} {row}\n{branch[end:]}")
    return "UNION ALL".join(pieces)


_NUMBER: Final = re.compile(
    r"\d+|\(SELECT SUM\(.*|\w+\.(?:(?:is|uses)_\w+|\w+_(?:id|ordinal|type|length|size|on_right)|precision|scale|enabled)",
    re.DOTALL,
)
"""Values of the catalogue of SQL Server that are numbers: literals, sums, and columns by their names."""
_ESCAPED: Final = (
    ("'\\'", "'\\\\'"),
    ("'\"'", "'\\\"'"),
    ("CHAR(13)", "'\\r'"),
    ("CHAR(10)", "'\\n'"),
    ("CHAR(9)", "'\\t'"),
)


def _as_json(value: str) -> str:
    """Return a T-SQL expression that writes a value as JSON without FOR JSON."""
    if is_number(value):
        return f"COALESCE(CAST({value} AS nvarchar(40)), N'null')"
    text = f"CAST({value} AS nvarchar(max))"
    for found, written in _ESCAPED:
        text = f"REPLACE({text}, {found}, {written})"
    return f"COALESCE(N'\"' + {text} + N'\"', N'null')"


def is_number(value: str) -> bool:
    """Whether a value of a catalogue query of SQL Server is a number, so that JSON has it without quotes."""
    return _NUMBER.fullmatch(value) is not None


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


class _MeterForm(NamedTuple):
    """How a client prints counters as lines of CSV: what comes before, and the query around each query of the meter."""

    before: str
    line: str


_MYSQL_LINE: Final = (
    "SELECT CONCAT(DATE_FORMAT(UTC_TIMESTAMP(), '%Y-%m-%dT%H:%i:%sZ'), ',', name, ',', value) FROM ({query}) AS c;"
)
_METER_FORMS: Final = {
    "postgresql": _MeterForm(
        "\\pset format unaligned\n\\pset tuples_only on\n\\pset pager off",
        "SELECT to_char(now() AT TIME ZONE 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"') || ',' || name || ',' || value "
        "FROM ({query}) AS c;",
    ),
    "mysql": _MeterForm("", _MYSQL_LINE),
    "mariadb": _MeterForm("", _MYSQL_LINE),
    "oracle": _MeterForm(
        "SET PAGESIZE 0 FEEDBACK OFF HEADING OFF LINESIZE 200 TRIMOUT ON",
        "SELECT TO_CHAR(SYS_EXTRACT_UTC(SYSTIMESTAMP), 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"') || ',' || name || ',' || value "
        "FROM ({query}) c;",
    ),
    "sqlserver": _MeterForm(
        "SET NOCOUNT ON;",
        "SELECT CONVERT(varchar(19), SYSUTCDATETIME(), 126) + 'Z,' + name + ',' + CAST(value AS varchar(40)) FROM ({query}) AS c;",
    ),
    "db2": _MeterForm(
        "",
        "SELECT TO_CHAR(CURRENT TIMESTAMP - CURRENT TIMEZONE, 'YYYY-MM-DD') || 'T' || "
        "TO_CHAR(CURRENT TIMESTAMP - CURRENT TIMEZONE, 'HH24:MI:SS') || 'Z,' || name || ',' || VARCHAR(value) FROM ({query}) AS c;",
    ),
}
_METER_COMMANDS: Final = {
    "postgresql": "psql -X -q -d DATABASE -f FILE >> LOAD.csv",
    "mysql": "mysql -N -r DATABASE < FILE >> LOAD.csv",
    "mariadb": "mariadb -N -r DATABASE < FILE >> LOAD.csv",
    "oracle": "sqlplus -S USER@SERVICE @FILE < /dev/null >> LOAD.csv",
    "sqlserver": "sqlcmd -S SERVER -d DATABASE -h -1 -W -i FILE >> LOAD.csv",
    "db2": "db2 -x -t -f FILE >> LOAD.csv",
}


def write_meter_kit(engine: str, version: str = "") -> str:
    """Return a script for an engine's own client that prints what the server counts of its load, one line for each counter.

    Run again and again, its lines are a table that `hullsound size` reads. Raises UsageError for an engine without one.
    """
    form = _METER_FORMS.get(engine)
    if form is None:
        raise UsageError(
            f"no meter kit for {engine!r}", where="kit",
            hint=f"There are some for {', '.join(_METER_FORMS)}; others export CSV from their monitoring.",
        )  # fmt: skip
    head = [
        f"-- Hull Sound: what a server counts of its load ({CLIENTS[engine].about}). It reads views of the engine alone.",
        "-- Begin the table with the line  time,name,value  and let a scheduler run this every minute, for a week:",
        "--",
        "--     echo time,name,value > LOAD.csv",
        f"--     {_METER_COMMANDS[engine]}",
        "--",
        "-- Then: hullsound size LOAD.csv --prices PRICES.csv",
        "",
    ]
    queries = load_queries(engine, version, "meter").values()
    lines = [form.line.replace("{query}", query.text) for query in queries]
    return "\n".join([*head, *([form.before] if form.before else []), *lines]) + "\n"
