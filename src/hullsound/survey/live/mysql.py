"""Sessions on MySQL and MariaDB: one read-only transaction on one database."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import TYPE_CHECKING, Any, Final

from hullsound.errors import SourceError

from .model import Address, as_switch, check_options
from .session import ANSWER_SECONDS, CONNECT_SECONDS, LOCK_SECONDS, PROGRAM, STATEMENT_SECONDS, Session, missing_driver

if TYPE_CHECKING:
    import pymysql

_GONE: Final = frozenset((0, 1053, 1927, 2006, 2013, 2014, 2055, 4031))
"""Error numbers that end a connection: reference manuals, "Server Error Message Reference" and "Client Error ..."."""
_LATE: Final = frozenset((1969, 3024, 1317, 1205))
"""Error numbers of queries whose time had run out: MariaDB's, MySQL's, interrupted, waiting for a lock."""


class MysqlSession(Session):
    """One read-only transaction on one database."""

    def __init__(self, connection: "pymysql.connections.Connection[Any]", address: Address) -> None:
        import pymysql

        self.errors = (pymysql.MySQLError, OSError)  # type: ignore[misc]  # the driver is not imported before it is needed
        super().__init__(connection, address, address.engine, "", "")
        said, name = self.ask("SELECT VERSION(), DATABASE()")[0]
        self.engine = "mariadb" if "mariadb" in said.lower() else "mysql"
        self.version = ".".join(said.split("-", maxsplit=1)[0].split(".")[:2])
        self.name = name or ""
        self.limit(STATEMENT_SECONDS)
        if not self.name:
            raise SourceError("the address names no database", where=address.text, hint="mysql://user@host/database")

    def limit(self, seconds: float) -> None:
        # MariaDB counts in seconds, MySQL in milliseconds and for SELECT alone.
        if self.engine == "mariadb":
            setting = f"max_statement_time = {max(seconds, 0.01):.3f}"
        else:
            setting = f"max_execution_time = {max(int(seconds * 1000), 1)}"
        with suppress(*self.errors), self.connection.cursor() as cursor:
            cursor.execute(f"SET SESSION {setting}")

    def is_lost(self, error: Exception) -> bool:
        return isinstance(error, OSError) or (_number(error) in _GONE and not isinstance(error, ValueError))

    def is_late(self, error: Exception) -> bool:
        return _number(error) in _LATE

    def said(self, error: Exception) -> str:
        return _said(error)


@contextmanager
def open_mysql(address: Address) -> Iterator[MysqlSession]:
    """Connect and begin a transaction that only reads. Raises SourceError where that cannot be done.

    The password comes from the address, else from the client's own file (~/.my.cnf).
    """
    try:
        import pymysql
    except ImportError:
        raise missing_driver("PyMySQL", "mysql", address) from None
    given: dict[str, Any] = {"password": address.password} if address.password else {"read_default_file": "~/.my.cnf"}
    where: dict[str, Any] = {"host": address.host or "localhost", "port": address.port or 3306}
    if "unix_socket" in address.options:
        where = {"unix_socket": address.options["unix_socket"]}
    if "ssl_ca" in address.options:
        where |= {"ssl_ca": address.options["ssl_ca"], "ssl_verify_cert": True}
    if "ssl" in address.options:
        is_wanted = as_switch(address, "ssl")
        where |= {"ssl": {"check_hostname": False}} if is_wanted and "ssl_ca" not in address.options else {}
        where |= {} if is_wanted else {"ssl_disabled": True}
    check_options(address, ("unix_socket", "ssl_ca", "ssl"))
    try:
        connection = pymysql.connect(
            user=address.user or None, database=address.database or None, connect_timeout=CONNECT_SECONDS,
            read_timeout=CONNECT_SECONDS, charset="utf8mb4", program_name=PROGRAM, **where, **given,
        )  # fmt: skip
        # A port that takes the call and stays mute must not hold for as long as an answer may take.
        connection._read_timeout = STATEMENT_SECONDS + ANSWER_SECONDS  # type: ignore[attr-defined]
    except (pymysql.MySQLError, OSError) as error:
        raise SourceError(f"cannot connect: {_said(error)}", where=address.text, hint=_hint(error)) from None
    try:
        with connection.cursor() as cursor:
            cursor.execute("SET SESSION TRANSACTION READ ONLY")
            with suppress(pymysql.MySQLError):
                cursor.execute(f"SET SESSION lock_wait_timeout = {LOCK_SECONDS}, group_concat_max_len = 1000000")
            cursor.execute("START TRANSACTION READ ONLY")
        yield MysqlSession(connection, address)
    finally:
        with suppress(pymysql.MySQLError, OSError):
            connection.close()


def _number(error: Exception) -> int:
    number = error.args[0] if error.args else -1
    return number if isinstance(number, int) else -1


def _said(error: Exception) -> str:
    return str(error.args[-1] if error.args else error).splitlines()[0] or error.__class__.__name__


def _hint(error: Exception) -> str:
    said = _said(error).lower()
    if "timed out" in said:
        return "The server did not answer in time: is a firewall in between?"
    if "name or service not known" in said or "name resolution" in said or "nodename" in said:
        return "Is the name of the host spelled right?"
    if "ssl" in said or "certificate" in said or "tls" in said:
        return "Check ssl_ca in the address and the server's certificate."
    return {
        1045: "Give user and password in the address, or in ~/.my.cnf.",
        1698: "This user logs in by another way than a password: through the socket, say.",
        1044: "The user may not enter this database.",
        1049: "Name a database that exists.",
        1040: "The server takes no more connections: try again later.",
        1203: "This user has no more connections left: try again later.",
        1129: "The server has shut out this host after failed logins: FLUSH HOSTS lets it in again.",
        3118: "The account is locked: ALTER USER ... ACCOUNT UNLOCK opens it.",
        4151: "The account is locked: ALTER USER ... ACCOUNT UNLOCK opens it.",
        1820: "The password has run out: set another.",
        2003: "Is the server up, and does it listen on this address and port?",
    }.get(_number(error), "Check address, port, user, password and database.")
