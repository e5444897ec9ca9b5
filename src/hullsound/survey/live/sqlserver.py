"""Sessions on SQL Server: queries on the catalogue views, in a transaction that is never committed."""

import socket
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any, Final

from hullsound.errors import SourceError

from .model import Address, check_options
from .session import (
    ANSWER_SECONDS,
    CONNECT_SECONDS,
    LOCK_SECONDS,
    PROGRAM,
    STATEMENT_SECONDS,
    Session,
    hint_for,
    missing_driver,
)

_YEARS: Final = {
    "10": "2008", "11": "2012", "12": "2014", "13": "2016", "14": "2017", "15": "2019", "16": "2022", "17": "2025"
}  # fmt: skip
"""Product versions by the number that the server tells: documentation, "SQL Server versions"."""
_OF_A_SERVER: Final = range(1, 5)
"""Values of EngineEdition for servers of one's own; the number that a service tells names no year, and it has what the newest
server has (documentation, "SERVERPROPERTY")."""


def year_of(number: str, edition: int) -> str:
    """Return the year that a version is named by, from what the server tells of itself; empty for a service without versions."""
    return _YEARS.get(number.split(".", maxsplit=1)[0], "") if edition in _OF_A_SERVER else ""


class SqlServerSession(Session):
    """One session on one database."""

    def __init__(self, connection: Any, address: Address, errors: tuple[type[Exception], ...]) -> None:
        self.errors = errors  # type: ignore[misc]  # the driver is not imported before it is needed
        super().__init__(connection, address, "sqlserver", "", "")
        number, edition, self.name = self.ask(
            "SELECT CAST(SERVERPROPERTY('ProductVersion') AS varchar(40)), CAST(SERVERPROPERTY('EngineEdition') AS int), DB_NAME()"
        )[0]
        self.version = year_of(str(number), int(edition))

    def is_lost(self, error: Exception) -> bool:
        said = str(error).lower()
        return isinstance(error, OSError) or "closed" in said or "broken" in said or "reset" in said

    def is_late(self, error: Exception) -> bool:
        return "timeout" in str(error).lower() or "timed out" in str(error).lower() or "1222" in str(error)


@contextmanager
def open_sqlserver(address: Address) -> Iterator[Session]:
    """Connect for reading. Raises SourceError where that cannot be done.

    SQL Server has no read-only transaction: the session asks for a secondary where there is one (read-only intent), sends
    nothing but SELECT, and commits nothing. The password comes from the address or from HULLSOUND_PASSWORD.
    """
    try:
        import pytds
    except ImportError:
        raise missing_driver("python-tds", "sqlserver", address) from None
    check_options(address, ("cafile",))
    try:
        # The driver tries a closed port again and again until its time for the login is over.
        socket.create_connection((address.host, address.port or 1433), CONNECT_SECONDS).close()
        connection = pytds.connect(
            address.host, database=address.database or None, user=address.user, port=address.port or 1433,
            password=address.password, appname=PROGRAM, readonly=True,
            login_timeout=CONNECT_SECONDS, timeout=STATEMENT_SECONDS + ANSWER_SECONDS, autocommit=False,
            cafile=address.options.get("cafile"),
        )  # fmt: skip
    except (pytds.Error, OSError) as error:
        said = str(error).splitlines()[0] if str(error) else error.__class__.__name__
        raise SourceError(
            f"cannot connect: {said}", where=address.text, hint=hint_for(str(error), _HINTS, _OTHERWISE)
        ) from None
    try:
        with connection.cursor() as cursor:
            cursor.execute(f"SET LOCK_TIMEOUT {LOCK_SECONDS * 1000}; SET NOCOUNT ON")
        yield SqlServerSession(connection, address, (pytds.Error, OSError))
    finally:
        with suppress(pytds.Error, OSError):
            connection.close()


_OTHERWISE: Final = "Check address, port, user and password."
_HINTS: Final = {
    "login failed": "Give user and password in the address, or the password in HULLSOUND_PASSWORD; a locked login fails so too.",
    "cannot open database": "Name a database that exists, and that the user may enter.",
    "refused": "Is the server up, and does it listen on this address and port?",
    "timed out": "The server did not answer in time: is a firewall in between?",
    "name or service": "Is the name of the host spelled right?",
    "encryption": "The server wants TLS: give ?cafile=FILE with the certificate of its authority.",
}
