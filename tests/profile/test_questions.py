"""Every question a profile asks is put to a real engine, over values that must count and values that must not."""

import shutil
import sqlite3
from collections.abc import Iterator
from typing import Any

import pytest

from hullsound.knowledge.load import load_questions
from hullsound.knowledge.model import QuestionRow

QUESTIONS = load_questions()


def asked(engine: str) -> list[str]:
    return [name for name, row in QUESTIONS.items() if row.sql(engine) and row.example is not None]


def check(row: QuestionRow, answers: dict[str, Any]) -> None:
    """Compare what an engine answered for a column of the value that counts, and for one of the value that does not."""
    example = row.example
    assert example is not None
    if row.repeats:
        assert int(answers["both"]) == 1
    elif example.value is not None:
        assert int(answers["yes"]) == example.value
    else:
        assert int(answers["yes"]) == 1
        assert int(answers["no"]) == 0


def table(row: QuestionRow, quote: str, engine: str) -> tuple[str, list[tuple[str, str]]]:
    """Return a table for an example, with the rows to put in: (column, value)."""
    example = row.example
    assert example is not None
    kind = example.type.replace("NUMERIC", "DECIMAL(30,5)") if engine == "mariadb" else example.type
    if engine == "postgresql":
        kind = kind.replace("DATETIME", "TIMESTAMP")
    values = [("yes", example.yes), *([("no", example.no)] if example.no is not None else [])]
    values += [("both", value) for _, value in values]
    return ", ".join(f"{quote}{name}{quote} {kind}" for name in ("yes", "no", "both")), values


@pytest.mark.server
@pytest.mark.parametrize("name", asked("postgresql"))
def test_postgresql_answers(name: str, server_url: str) -> None:
    import psycopg

    row = QUESTIONS[name]
    columns, values = table(row, '"', "postgresql")
    with psycopg.connect(server_url) as connection:
        connection.execute(f"CREATE TEMP TABLE asked ({columns})".encode())
        for column, value in values:
            connection.execute(f'INSERT INTO asked ("{column}") VALUES (%s)'.encode(), (value,))
        answers = {}
        for column in ("yes", "no", "both"):
            sql = row.sql("postgresql").replace("{c}", f'"{column}"')
            found = connection.execute(f"SELECT {sql} FROM asked".encode()).fetchone()
            answers[column] = found[0] if found else None
        connection.rollback()
    check(row, answers)


@pytest.mark.parametrize("name", asked("sqlite"))
def test_sqlite_answers(name: str) -> None:
    row = QUESTIONS[name]
    columns, values = table(row, '"', "sqlite")
    connection = sqlite3.connect(":memory:")
    connection.execute(f"CREATE TABLE asked ({columns})")
    for column, value in values:
        connection.execute(f'INSERT INTO asked ("{column}") VALUES (?)', (value,))
    answers = {}
    for column in ("yes", "no", "both"):
        sql = row.sql("sqlite").replace("{c}", f'"{column}"')
        answers[column] = connection.execute(f"SELECT {sql} FROM asked").fetchone()[0] or 0
    connection.close()
    check(row, answers)


@pytest.fixture(scope="module")
def mariadb() -> Iterator[Any]:
    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    from hullsound.trial.mariadb import connected

    with connected("") as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE asked CHARACTER SET utf8mb4")
        cursor.execute("USE asked")
        cursor.execute("SET SESSION sql_mode = ''")
        yield cursor


@pytest.mark.server
@pytest.mark.parametrize("name", asked("mariadb"))
def test_mariadb_answers(name: str, mariadb: Any) -> None:
    row = QUESTIONS[name]
    columns, values = table(row, "`", "mariadb")
    mariadb.execute("DROP TABLE IF EXISTS asked")
    mariadb.execute(f"CREATE TABLE asked ({columns})")
    for column, value in values:
        mariadb.execute(f"INSERT INTO asked (`{column}`) VALUES (%s)", (value,))
    answers = {}
    for column in ("yes", "no", "both"):
        mariadb.execute(f"SELECT {row.sql('mariadb').replace('{c}', f'`{column}`')} FROM asked")
        answers[column] = mariadb.fetchone()[0] or 0
    check(row, answers)


def test_questions_name_targets_that_there_are() -> None:
    engines = {"postgresql", "mysql", "mariadb", "sqlserver", "oracle"}
    for name, row in QUESTIONS.items():
        assert set(row.targets) | set(row.above) <= engines, name
        assert row.title[0].isupper(), name
        assert row.meaning.endswith("."), name
        assert row.remedy.endswith("."), name
        assert row.of or name == "orphans", name
        assert row.example is not None or name == "orphans", name
