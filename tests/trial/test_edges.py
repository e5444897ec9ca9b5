"""Expressions and queries over rows at the edges of their types, asked of an engine and of its drafts on another one."""

import json
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress
from datetime import datetime, time
from pathlib import Path
from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.draft.model import DraftSet
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import private_mariadb, root_connection
from hullsound.trial.on_mariadb import _execute
from hullsound.trial.postgresql import make_schemas, scratch_database
from tests.trial.test_compared import shown

pytestmark = [
    pytest.mark.server,
    pytest.mark.skipif(not shutil.which("mariadbd"), reason="no MariaDB server is installed"),
]
DATA: Final = Path(__file__).parents[1] / "data" / "edges"
STRICT: Final = (
    "SET sql_mode = 'ONLY_FULL_GROUP_BY,STRICT_TRANS_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION'"
)
LEAST_PROMISED: Final = {"mysql": 0.94, "sqlite": 0.88, "postgresql": 0.88}

Ask = Callable[[str], list[tuple[Any, ...]]]


def read(engine: str) -> tuple[list[str], list[str]]:
    """Return the statements that make the tables, and the queries."""
    lines = (DATA / f"{engine}.txt").read_text(encoding="utf-8").splitlines()
    tables = [line.removeprefix("-- ").rstrip(";") for line in lines if line.startswith("-- ")]
    asked = [line for line in lines if line and not line.startswith(("-- ", "# "))]
    return tables, [line if line.startswith(("SELECT", "WITH")) else f"SELECT id, {line} AS x FROM t" for line in asked]


def alike(value: Any) -> str | None:
    if isinstance(value, time):
        return value.isoformat(timespec="seconds")
    if isinstance(value, str) and value[:1] in ("{", "["):
        with suppress(ValueError):
            return json.dumps(json.loads(value))
    if isinstance(value, dict | list):
        return json.dumps(value)
    return shown(value.replace(microsecond=0)) if isinstance(value, datetime) else shown(value)


def answer(ask: Ask, query: str) -> list[tuple[str | None, ...]] | None:
    """Return the rows of a query, in an order of their own unless it says one; None where there are none to be had."""
    try:
        rows = [tuple(map(alike, row)) for row in ask(query)]
    except Exception:  # the drivers' own
        return None
    return rows if "ORDER BY" in query.rpartition(")")[2] else sorted(rows, key=repr)


@contextmanager
def native(engine: str, tables: list[str], server_url: str) -> Iterator[Ask]:
    with ExitStack() as stack:
        if engine == "sqlite":
            memory = sqlite3.connect(":memory:")
            stack.callback(memory.close)
            for text in tables:
                memory.execute(text)
            yield lambda text: memory.execute(text).fetchall()
        elif engine == "postgresql":
            connection = stack.enter_context(scratch_database(server_url))
            connection.autocommit = True
            for text in tables:
                connection.execute(text.encode())
            yield lambda text: connection.execute(text.encode()).fetchall()
        else:
            yield stack.enter_context(on_mariadb([STRICT, *tables]))


@contextmanager
def on_mariadb(texts: list[str]) -> Iterator[Ask]:
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        connection.autocommit(True)
        for text in ("CREATE DATABASE public CHARACTER SET utf8mb4", "USE public", *texts):
            cursor.execute(text)

        def ask(text: str) -> list[tuple[Any, ...]]:
            return (
                _execute(connection, text)
                if text.startswith("CREATE")
                else (cursor.execute(text), list(cursor.fetchall()))[1]
            )

        yield ask


@contextmanager
def on_postgresql(drafts: DraftSet, server_url: str) -> Iterator[Ask]:
    with scratch_database(server_url) as connection:
        make_schemas(connection, drafts)
        connection.commit()
        connection.autocommit = True

        def ask(text: str) -> list[tuple[Any, ...]]:
            cursor = connection.execute(text.encode())
            return cursor.fetchall() if cursor.description else []

        yield ask


@pytest.mark.parametrize(
    ("engine", "target"),
    [
        ("mysql", "postgresql:18"),
        ("sqlite", "postgresql:18"),
        ("sqlite", "mariadb:11.8"),
        ("postgresql", "mariadb:11.8"),
    ],
)
def test_promised_values_are_equal_at_the_edges(engine: str, target: str, server_url: str) -> None:
    tables, queries = read(engine)
    script = ";\n".join(tables) + ";\n" + "".join(f"CREATE VIEW v{at} AS {text};\n" for at, text in enumerate(queries))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)
    outcomes = {each.id: each.outcome for each in case.document.objects}
    drafts = steps.draft_case(case)
    views = {each.object.name.lower(): each for each in drafts.drafts if ".view." in f".{each.object.id}"}
    promised, unequal = 0, {}
    place = on_mariadb([]) if target.startswith("mariadb") else on_postgresql(drafts, server_url)
    with native(engine, tables, server_url) as ask_source, place as ask_target:
        for draft in drafts.drafts:
            if draft.text and draft not in views.values():
                ask_target(draft.text)
        for at, query in enumerate(queries):
            draft = views[f"v{at}"]
            outcome = outcomes[draft.object.id]
            if outcome in ("rewrite", "blocked"):
                continue
            promised += 1
            known = answer(ask_source, query)
            ask_target(draft.text)
            given = answer(
                ask_target, f"SELECT * FROM v{at}{' -- ORDER BY' if 'ORDER BY' in query.rpartition(')')[2] else ''}"
            )
            if known is not None and known != given and outcome != "confirm":
                unequal[query] = (known, given)
    assert unequal == {}
    assert promised >= LEAST_PROMISED[engine] * len(queries)
