"""Rows that run into a key: SQLite, PostgreSQL and MariaDB keep what the drafts keep, and MERGE says the same for the others."""

import sqlite3
from collections.abc import Iterator
from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile

TABLES: Final = (
    "CREATE TABLE stock (code varchar(10) NOT NULL, place int NOT NULL, n int, note varchar(20) DEFAULT 'none', "
    "PRIMARY KEY (code, place));\n"
)
GIVEN: Final = "INSERT INTO stock (code, place, n, note) VALUES ('a', 1, 5, 'old'), ('b', 1, 50, NULL);\n"
SHOWN: Final = "SELECT code, place, n, note FROM stock ORDER BY code, place"
SOURCES: Final = {
    "sqlite": (
        "INSERT OR REPLACE INTO stock (code, place, n) VALUES ('a', 1, 6)",
        "REPLACE INTO stock VALUES ('b', 1, 7, 'new')",
        "INSERT OR IGNORE INTO stock (code, place, n) VALUES ('a', 1, 9)",
        "INSERT OR IGNORE INTO stock (code, place, n) VALUES ('c', 1, 9)",
        "INSERT INTO stock (code, place, n) VALUES ('b', 1, 1) ON CONFLICT (code, place) DO UPDATE SET n = n + excluded.n",
        "INSERT INTO stock (code, place, n) VALUES ('a', 1, 1) ON CONFLICT DO NOTHING",
        "INSERT INTO stock (code, place, n) VALUES ('a', 1, 1) ON CONFLICT (code, place) DO UPDATE SET n = 0 WHERE n > 90",
    ),
    "postgresql": (
        "INSERT INTO stock (code, place, n) VALUES ('a', 1, 6) ON CONFLICT (code, place) DO UPDATE SET n = stock.n + EXCLUDED.n",
        "INSERT INTO stock AS s (code, place) VALUES ('b', 1) ON CONFLICT (place, code) DO UPDATE SET note = s.n, n = 2",
        "INSERT INTO stock (code, place) VALUES ('a', 1), ('d', 4) ON CONFLICT DO NOTHING",
        "INSERT INTO stock SELECT code, place, n, note FROM stock ON CONFLICT (code, place) DO UPDATE SET n = EXCLUDED.n + 1",
        "INSERT INTO stock (code, place) VALUES ('a', 1) ON CONFLICT (code, place) DO UPDATE SET n = 1 WHERE stock.note = 'new'",
        "INSERT INTO stock (code, place) VALUES ('a', 1) ON CONFLICT (code, place) DO UPDATE SET n = 1 WHERE stock.note = 'old'",
    ),
    "mysql": (
        "INSERT INTO stock (code, place, n) VALUES ('a', 1, 6) ON DUPLICATE KEY UPDATE n = n + VALUES(n)",
        "INSERT INTO stock SET code = 'b', place = 1, n = 3 ON DUPLICATE KEY UPDATE note = 'again'",
        "INSERT INTO stock SET code = 'e', place = 1, n = 3",
        "INSERT IGNORE INTO stock (code, place) VALUES ('a', 1), ('d', 4)",
        "REPLACE INTO stock (code, place, n) VALUES ('a', 1, 7), ('f', 1, 8)",
        "INSERT INTO stock (code, place, n) SELECT code, place, n FROM stock ON DUPLICATE KEY UPDATE stock.n = VALUES(n) + 1",
    ),
}  # fmt: skip


def drafts_of(engine: str, target: str, statement: str) -> list[Draft]:
    script = f"{TABLES}{statement};\n"
    return list(
        steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target).drafts.drafts
    )


def change_of(engine: str, target: str, statement: str) -> str:
    """Return the draft of the statement; '' where it is not promised."""
    kinds = (ObjectType.DATA, ObjectType.CHANGE)
    draft = next(each for each in drafts_of(engine, target, statement) if each.object.type in kinds)
    return draft.text if draft.is_promised and draft.is_finished else ""


def before(engine: str, target: str) -> list[str]:
    """Return the table and its key as they are drafted, and the rows that are there."""
    types = (ObjectType.TABLE, ObjectType.CONSTRAINT)
    made = [each.text for each in drafts_of(engine, target, "SELECT 1") if each.object.type in types]
    return [*(text.replace("public.", "") for text in made), GIVEN.rstrip().rstrip(";")]


def kept_by_mariadb(mariadb: Any, statements: list[str]) -> list[tuple[str, ...]]:
    script = "\x01".join(("CREATE OR REPLACE DATABASE upserts\x01USE upserts", *statements))
    return [tuple(line.split("\t")) for line in mariadb.value(f"{script}\x01{SHOWN}").splitlines()]


def kept_by_postgresql(url: str, statements: list[str]) -> list[tuple[str, ...]]:
    from hullsound.trial.postgresql import scratch_database

    with scratch_database(url) as connection:
        for statement in statements:
            connection.execute(statement.encode())
        return _shown(connection.execute(SHOWN.encode()).fetchall())


def kept_by_sqlite(statements: list[str]) -> list[tuple[str, ...]]:
    connection = sqlite3.connect(":memory:")
    for statement in statements:
        connection.execute(statement)
    return _shown(connection.execute(SHOWN).fetchall())


def _shown(rows: list[tuple[Any, ...]]) -> list[tuple[str, ...]]:
    return [tuple("NULL" if value is None else str(value) for value in row) for row in rows]


PAIRS: Final = [(engine, statement) for engine, statements in SOURCES.items() for statement in statements]


@pytest.fixture
def kept_by_source(server_url: str, request: pytest.FixtureRequest) -> Iterator[Any]:
    def kept(engine: str, statement: str) -> list[tuple[str, ...]]:
        statements = [TABLES.rstrip().rstrip(";"), GIVEN.rstrip().rstrip(";"), statement]
        if engine == "sqlite":
            return kept_by_sqlite(statements)
        if engine == "postgresql":
            return kept_by_postgresql(server_url, statements)
        return kept_by_mariadb(request.getfixturevalue("mariadb"), statements)

    yield kept


@pytest.mark.parametrize(("engine", "statement"), [pair for pair in PAIRS if pair[0] != "postgresql"])
def test_postgresql_keeps_what_the_source_keeps(
    engine: str, statement: str, server_url: str, kept_by_source: Any
) -> None:
    draft = change_of(engine, "postgresql:18", statement)
    assert draft
    drafted = kept_by_postgresql(server_url, [*before(engine, "postgresql:18"), draft])
    assert drafted == kept_by_source(engine, statement)


@pytest.mark.parametrize(("engine", "statement"), [pair for pair in PAIRS if pair[0] != "mysql"])
def test_mariadb_keeps_what_the_source_keeps(engine: str, statement: str, mariadb: Any, kept_by_source: Any) -> None:
    draft = change_of(engine, "mariadb:11.8", statement)
    assert draft
    drafted = kept_by_mariadb(mariadb, [*before(engine, "mariadb:11.8"), draft])
    assert drafted == kept_by_source(engine, statement)


@pytest.mark.parametrize("target", ["oracle:19", "sqlserver:2022"])
@pytest.mark.parametrize(("engine", "statement"), PAIRS)
def test_merge_for_those_without_such_words(engine: str, statement: str, target: str) -> None:
    draft = change_of(engine, target, statement)
    assert draft.startswith("INSERT" if "'e'" in statement else "MERGE INTO")
    assert "EXCLUDED" not in draft.upper()
    assert "VALUES(" not in draft


@pytest.mark.parametrize("target", ["oracle:19", "sqlserver:2022", "postgresql:18"])
@pytest.mark.parametrize(
    "statement",
    [
        "INSERT INTO stock (code, place, n) VALUES ('a', 1, 6) ON DUPLICATE KEY UPDATE n = n + 1, note = n",
        "INSERT INTO stock (code, n) VALUES ('a', 6) ON DUPLICATE KEY UPDATE n = 1",
    ],
)
def test_what_is_not_clear_is_not_promised(statement: str, target: str) -> None:
    assert not change_of("mysql", target, statement)


def test_rows_that_may_run_into_each_other_are_not_promised() -> None:
    twice = "INSERT INTO stock (code, place, n) VALUES ('a', 1, 6), ('a', 1, 7) ON DUPLICATE KEY UPDATE n = VALUES(n)"
    assert not change_of("mysql", "oracle:19", twice)


def test_key_that_the_row_runs_into_stays_on_oracle() -> None:
    moved = "INSERT INTO stock (code, place) VALUES ('a', 1) ON CONFLICT (code, place) DO UPDATE SET place = 2"
    assert not change_of("postgresql", "oracle:19", moved)
    assert change_of("postgresql", "sqlserver:2022", moved)
