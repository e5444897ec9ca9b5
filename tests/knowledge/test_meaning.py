"""What the knowledge says of meaning is so: the same text on the real engines gives results that really differ."""

import sqlite3
from typing import Any

import pytest


@pytest.fixture(scope="module")
def postgresql(server_url: str) -> Any:
    from hullsound.trial.postgresql import scratch_database

    with scratch_database(server_url) as connection:
        yield connection


@pytest.mark.server
@pytest.mark.parametrize(
    ("text", "in_postgresql", "in_mariadb", "in_sqlite"),
    [
        ("SELECT 7 / 2", "3", "3.5000", "3"),  # whole-division, fraction-division
        ("SELECT 'a' = 'A'", "False", "1", "0"),  # text-key-ignores-case
        ("SELECT 'a ' = 'a'", "False", "1", "0"),
        ("SELECT 'abc' LIKE 'A%'", "False", "1", "1"),  # like-ignores-case
        ("SELECT GREATEST(1, NULL)", "1", "NULL", None),  # greatest-null-is-null
        ("SELECT CONCAT('a', NULL)", "a", "NULL", None),  # concat-null-is-null
        ("SELECT LENGTH('\u00e9')", "1", "2", "1"),  # byte-length
        ("SELECT LOG(100)", "2", "4.605170185988092", "2.0"),  # log-natural
        ("SELECT SUBSTR('harbour', -3)", "harbour", "our", "our"),  # substr-from-end
        (
            "SELECT v FROM (SELECT 1 AS v UNION ALL SELECT NULL) t ORDER BY v LIMIT 1",
            "1",
            "NULL",
            "None",
        ),  # nulls-order
        ("SELECT '\\\\'", "\\\\", "\\", "\\\\"),  # backslash-escape
        ("SELECT REGEXP_REPLACE('aa', 'a', 'b')", "ba", "bb", None),  # regex-functions
        ("SELECT ROUND(2.5)", "3", "3", "3.0"),
        ("SELECT TRUE", "True", "1", "1"),  # number-boolean
        ("SELECT 2 ^ 3", "8", "1", None),  # bit-operators
    ],
)
def test_results_differ_as_the_knowledge_says(
    text: str, in_postgresql: str, in_mariadb: str, in_sqlite: str | None, postgresql: Any, mariadb: Any
) -> None:
    assert str(postgresql.execute(text).fetchone()[0]).removesuffix(".0") == in_postgresql
    assert mariadb.value(text) == (in_mariadb if in_mariadb != "\\" else "\\\\")
    if in_sqlite is not None:
        assert str(sqlite3.connect(":memory:").execute(text).fetchone()[0]) == in_sqlite


REFUSED = [
    "SELECT a, b, COUNT(*) FROM {t} GROUP BY a",  # loose-grouping
    "SELECT CAST('0000-00-00' AS DATE)",  # zero-date
    "SELECT a FROM {t} WHERE 1",  # number-as-condition
    "SELECT a FROM {t} LIMIT 1, 2",  # limit-clause
    "INSERT IGNORE INTO {t} (a) VALUES (1)",  # insert-ignore
    "INSERT INTO {t} SET a = 1",  # insert-set
    "REPLACE INTO {t} (a) VALUES (1)",  # replace-into
    "UPDATE {t} AS x JOIN {t} AS y ON x.a = y.a SET x.b = 1",  # update-join
    "DELETE FROM {t} LIMIT 1",  # change-limit
    "SELECT a FROM {t} GROUP BY a WITH ROLLUP",  # with-rollup
    "SELECT a <=> 1 FROM {t}",  # null-safe-equal
    "SELECT `a` FROM {t}",  # own-quotes
    "SELECT IFNULL(a, 1) FROM {t}",  # first-non-null
    "SELECT NOW() + INTERVAL 1 DAY",  # date-plus-interval
    "SELECT a DIV 2 FROM {t}",  # div-operator
    "SELECT a FROM {t} WHERE a REGEXP '1'",  # regex-operator
]


@pytest.mark.server
@pytest.mark.parametrize("text", REFUSED)
def test_what_mariadb_takes_and_postgresql_refuses(text: str, postgresql: Any, mariadb: Any) -> None:
    import psycopg

    before = (
        "CREATE DATABASE IF NOT EXISTS harbour\x01USE harbour\x01CREATE OR REPLACE TABLE m (a INT UNIQUE, b INT)\x01"
    )
    assert not mariadb(before + text.format(t="m"))
    postgresql.execute("CREATE TABLE IF NOT EXISTS m (a INT UNIQUE, b INT)")
    with pytest.raises(psycopg.Error), postgresql.transaction():
        postgresql.execute(text.format(t="m").encode())


@pytest.mark.server
@pytest.mark.parametrize(
    "text",
    [
        "SELECT DISTINCT ON (a) a FROM m",  # distinct-on
        "SELECT a::text FROM m",  # colon-cast
        "SELECT a FROM m WHERE 'a' ILIKE 'A'",  # ilike
        "SELECT COUNT(*) FILTER (WHERE a > 1) FROM m",  # aggregate-filter
        "SELECT a FROM m ORDER BY a NULLS FIRST",  # nulls-order
        "SELECT * FROM m x FULL JOIN m y ON x.a = y.a",  # full-join
        "SELECT ARRAY[1, 2]",  # array
        "CREATE MATERIALIZED VIEW mv AS SELECT 1 AS x",  # materialized-view
        "INSERT INTO m (a) VALUES (1) ON CONFLICT (a) DO NOTHING",  # upsert
        "UPDATE m SET b = x.a FROM m x WHERE x.a = m.a",  # update-join
        "CREATE INDEX ix ON m (a) WHERE a > 1",  # partial-index
        "SELECT a FROM m GROUP BY GROUPING SETS ((a), ())",  # grouping-sets
        "CREATE TABLE d (a INT REFERENCES m (a) DEFERRABLE INITIALLY DEFERRED)",  # deferrable-constraint
        "SELECT x.a FROM m, LATERAL (SELECT m.a) x",  # lateral-word
    ],
)
def test_what_postgresql_takes_and_mariadb_refuses(text: str, postgresql: Any, mariadb: Any) -> None:
    postgresql.execute("CREATE TABLE IF NOT EXISTS m (a INT UNIQUE, b INT)")
    with postgresql.transaction(force_rollback=True):
        postgresql.execute(text.encode())
    before = (
        "CREATE DATABASE IF NOT EXISTS harbour\x01USE harbour\x01CREATE OR REPLACE TABLE m (a INT UNIQUE, b INT)\x01"
    )
    assert mariadb(before + text)
