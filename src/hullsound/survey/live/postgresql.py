"""A live survey of PostgreSQL, in one read-only transaction."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

from hullsound.errors import SourceError

from .model import (
    CONNECT_SECONDS,
    LOCK_SECONDS,
    STATEMENT_SECONDS,
    Address,
    Statement,
    load_queries,
    rows_as_statements,
)

if TYPE_CHECKING:
    import psycopg


class PostgresqlSession:
    """One transaction that sees one state of the catalogue and can change nothing."""

    def __init__(self, connection: "psycopg.Connection[Any]", address: Address) -> None:
        self.connection = connection
        self.address = address
        self.version = (connection.info.parameter_status("server_version") or "").split(".")[0]
        # So that names in definitions come out with their schema.
        connection.execute("SELECT set_config('search_path', 'pg_catalog', true)")

    def statements(self) -> Iterator[Statement]:
        """Read the catalogue, one query for each kind of object. Raises SourceError when the server fails."""
        from psycopg import Error

        for name, query in load_queries("postgresql").items():
            try:
                rows = self.connection.execute(query.encode()).fetchall()
            except Error as error:
                raise SourceError(
                    f"cannot read the {name} of the catalogue: {_said(error)}", where=self.address.text,
                    hint="Does the user have the right to read pg_catalog, and is the server still there?",
                ) from None  # fmt: skip
            yield from rows_as_statements(rows)


@contextmanager
def postgresql_session(address: Address) -> Iterator[PostgresqlSession]:
    """Connect and begin a transaction that only reads. Raises SourceError where that cannot be done.

    The password comes from the address, or as for every client of libpq: PGPASSWORD, a password file, a service.
    """
    try:
        import psycopg
    except ImportError as error:
        raise SourceError(
            "the driver psycopg is not installed", where=address.text,
            hint="Install it with: pip install 'hull-sound[postgresql]'",
        ) from error  # fmt: skip
    settings = (
        f"-c default_transaction_read_only=on -c statement_timeout={STATEMENT_SECONDS}s -c lock_timeout={LOCK_SECONDS}s"
    )
    url = address.url.replace(address.url.split("://")[0], "postgresql", 1)
    try:
        connection = psycopg.connect(
            url, connect_timeout=CONNECT_SECONDS, application_name="hullsound survey", options=settings
        )
    except psycopg.Error as error:
        raise SourceError(f"cannot connect: {_said(error)}", where=address.text, hint=_hint(error)) from None
    try:
        connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
        connection.read_only = True
        yield PostgresqlSession(connection, address)
        connection.rollback()
    finally:
        connection.close()


def _said(error: Exception) -> str:
    lines = str(error).strip().splitlines()
    return lines[0] if lines else error.__class__.__name__


def _hint(error: Exception) -> str:
    text = str(error).lower()
    if "password" in text or "authentication" in text:
        return "Give user and password in the address, in PGPASSWORD or in a password file."
    if "refused" in text or "no such file" in text:
        return "Is the server up, and does it listen on this address and port?"
    if "timeout" in text:
        return "The server did not answer in time: is a firewall in between?"
    if "translate host name" in text or "resolve" in text:
        return "Is the name of the host spelled right?"
    if "does not exist" in text:
        return "Name a database or user that exists."
    return "Check address, port, user, password and database."
