"""Sessions on PostgreSQL: one read-only transaction that sees one state of the catalogue."""

import os
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import TYPE_CHECKING, Any, Final

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Row

from .model import Address
from .session import ANSWER_SECONDS, CONNECT_SECONDS, LOCK_SECONDS, PROGRAM, STATEMENT_SECONDS, Session, missing_driver

if TYPE_CHECKING:
    import psycopg

_LATE: Final = "57014"
"""The error code of a statement that was cancelled: PostgreSQL, appendix "Error Codes"."""


class PostgresqlSession(Session):
    """One transaction; a savepoint before each query lets the rest go on when one is refused."""

    def __init__(self, connection: "psycopg.Connection[Any]", address: Address) -> None:
        import psycopg

        version = (connection.info.parameter_status("server_version") or "").split(".")[0]
        super().__init__(connection, address, "postgresql", version, connection.info.dbname)
        self.errors = (psycopg.Error,)  # type: ignore[misc]  # the driver is not imported before it is needed
        self.seconds: float = STATEMENT_SECONDS
        # So that names in definitions come out with their schema.
        connection.execute("SELECT set_config('search_path', 'pg_catalog', true)")

    def fetch(self, query: str) -> list[Row]:
        # A server behind a network that has gone silent never answers, and TCP may not notice: hang up then.
        watch = threading.Timer(self.seconds + ANSWER_SECONDS, _hang_up, [self.connection])
        watch.daemon = True
        watch.start()
        try:
            self.connection.execute("SAVEPOINT query")
            return list(self.connection.execute(query.encode()).fetchall())
        finally:
            watch.cancel()

    def recover(self) -> None:
        self.connection.execute("ROLLBACK TO SAVEPOINT query")

    def limit(self, seconds: float) -> None:
        self.seconds = seconds
        self.connection.execute(f"SET LOCAL statement_timeout = {max(int(seconds * 1000), 1)}")

    def is_lost(self, error: Exception) -> bool:
        return bool(self.connection.broken or self.connection.closed)

    def is_late(self, error: Exception) -> bool:
        return getattr(error, "sqlstate", None) == _LATE


@contextmanager
def open_postgresql(address: Address) -> Iterator[PostgresqlSession]:
    """Connect and begin a transaction that only reads. Raises SourceError where that cannot be done.

    The password comes from the address, or as for every client of libpq: PGPASSWORD, a password file, a service.
    """
    try:
        import psycopg
    except ImportError:
        raise missing_driver("psycopg", "postgresql", address) from None
    settings = (
        f"-c default_transaction_read_only=on -c statement_timeout={STATEMENT_SECONDS}s -c lock_timeout={LOCK_SECONDS}s"
    )
    url = address.url.replace(address.url.split("://")[0], "postgresql", 1)
    given: dict[str, Any] = {"password": address.password} if address.password else {}
    try:
        connection = psycopg.connect(
            url, connect_timeout=CONNECT_SECONDS, application_name=PROGRAM, options=settings, **given
        )
    except psycopg.Error as error:
        raise SourceError(f"cannot connect: {_said(error)}", where=address.text, hint=_hint(error)) from None
    try:
        connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
        connection.read_only = True
        yield PostgresqlSession(connection, address)
    finally:
        connection.close()


def _hang_up(connection: "psycopg.Connection[Any]") -> None:
    """End a connection from outside, so that whoever waits for its answer is told."""
    with suppress(OSError):
        shared = socket.socket(fileno=os.dup(connection.fileno()))
        shared.shutdown(socket.SHUT_RDWR)
        shared.close()


def _said(error: Exception) -> str:
    """Return the server's own words, without the list of addresses that were tried before."""
    lines = str(error).strip().splitlines()
    return lines[-1].strip().removeprefix("- ") if lines else error.__class__.__name__


def _hint(error: Exception) -> str:
    text = str(error).lower()
    for words, hint in _HINTS.items():
        if any(word in text for word in words):
            return hint
    return "Check address, port, user, password and database."


_HINTS: Final = {
    ("too many clients", "connection slots", "too many connections"): "The server takes no more connections: try again later.",
    ("not permitted to log in", "nologin"): "This user may not log in: ask for LOGIN, or take another.",
    ("ssl", "tls", "certificate"): "Check sslmode, sslrootcert and the server's certificate.",
    ("password", "authentication", "no pg_hba.conf entry"):
        "Give user and password in the address, in PGPASSWORD or in a password file; pg_hba.conf says who may come from where.",
    ("refused", "no such file"): "Is the server up, and does it listen on this address and port?",
    ("timeout", "timed out"): "The server did not answer in time: is a firewall in between?",
    ("translate host name", "resolve", "name or service not known"): "Is the name of the host spelled right?",
    ("starting up", "shutting down", "recovery"): "The server starts or stops: try again in a moment.",
    ("does not exist",): "Name a database or user that exists.",
}  # fmt: skip
