"""Reserved words of targets: whatever a real server does not take as the name of a column must be quoted."""

import shutil

import pytest

from hullsound.draft.edits.names import names_of


@pytest.mark.server
def test_mariadb_takes_every_word_that_is_not_quoted() -> None:
    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    import pymysql

    from hullsound.trial.mariadb import private_mariadb, root_connection

    names = names_of("mariadb")
    refused = []
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE words")
        cursor.execute("USE words")
        cursor.execute("SELECT word FROM information_schema.keywords")
        words = [word for (word,) in cursor.fetchall() if word.isidentifier()]
        assert len(words) > 400
        for word in words:
            try:
                cursor.execute(f"CREATE OR REPLACE TABLE t ({names.write(word.upper())} INT)")
            except pymysql.MySQLError:
                refused.append(word)
    assert refused == []


@pytest.mark.server
def test_postgresql_takes_every_word_that_is_not_quoted(server_url: str) -> None:
    from psycopg import Error

    from hullsound.trial.postgresql import scratch_database

    names = names_of("postgresql")
    refused = []
    with scratch_database(server_url) as connection:
        words = [row[0] for row in connection.execute("SELECT word FROM pg_get_keywords()").fetchall()]
        assert len(words) > 400
        for word in words:
            name = names.write(word.upper())
            for text in (f"CREATE TABLE {name} ({name} int)", f"CREATE VIEW v AS SELECT {name}.{name} FROM {name}"):
                try:
                    with connection.transaction(force_rollback=text.startswith("CREATE VIEW")):
                        connection.execute(text.encode())
                except Error:
                    refused.append(word)
    assert refused == []


@pytest.mark.parametrize("engine", ["oracle", "sqlserver", "mysql"])
def test_words_that_every_engine_reserves_are_quoted(engine: str) -> None:
    names = names_of(engine)
    words = "SELECT FROM TABLE ORDER GROUP WHERE UNION CHECK VALUES".split()
    assert [word for word in words if names.write(word) == word.lower()] == []
