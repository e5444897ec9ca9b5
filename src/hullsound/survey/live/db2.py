"""Sessions on Db2: queries on the SYSCAT views that read past locks, in a transaction that is never committed."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any, Final

from hullsound.errors import SourceError

from .model import Address, check_options
from .session import CONNECT_SECONDS, LOCK_SECONDS, PROGRAM, Session, hint_for, missing_driver

_GONE: Final = ("SQL30081N", "SQL1224N", "SQL1024N", "08001", "08003", "CLI0106E")
_VERSION: Final = "SELECT service_level FROM sysibmadm.env_inst_info"


class Db2Session(Session):
    """One session on one database."""

    def __init__(self, connection: Any, address: Address, errors: tuple[type[Exception], ...]) -> None:
        self.errors = errors  # type: ignore[misc]  # the driver is not imported before it is needed
        super().__init__(connection, address, "db2", "", address.name)
        with suppress(Exception):
            said = str(self.ask(_VERSION)[0][0]).lower().removeprefix("db2 v")
            self.version = ".".join(said.split(".")[:2])

    def is_lost(self, error: Exception) -> bool:
        return any(code in str(error) for code in _GONE)

    def is_late(self, error: Exception) -> bool:
        return "SQL0952N" in str(error) or "SQL0911N" in str(error)


@contextmanager
def open_db2(address: Address) -> Iterator[Session]:
    """Connect for reading. Raises SourceError where that cannot be done."""
    try:
        import ibm_db_dbi
    except ImportError:
        raise missing_driver("ibm_db", "db2", address) from None
    parts = {
        "DATABASE": address.database, "HOSTNAME": address.host, "PORT": str(address.port or 50000), "PROTOCOL": "TCPIP",
        "UID": address.user, "PWD": address.password, "CONNECTTIMEOUT": str(CONNECT_SECONDS), "CLIENTAPPLNAME": PROGRAM,
    }  # fmt: skip
    # A value in braces is taken as it is, whatever stands in it: CLI, "SQLDriverConnect function".
    text = "".join(f"{key}={{{value.replace('}', '}}')}}};" for key, value in parts.items() if value)
    check_options(address, ())
    try:
        connection = ibm_db_dbi.connect(text, "", "")
    except (ibm_db_dbi.Error, OSError) as error:
        said = str(error).replace(address.password, "***") if address.password else str(error)
        raise SourceError(
            f"cannot connect: {said.splitlines()[0]}", where=address.text, hint=hint_for(said, _HINTS, _OTHERWISE)
        ) from None
    try:
        with suppress(ibm_db_dbi.Error):
            for statement in ("SET CURRENT ISOLATION = UR", f"SET CURRENT LOCK TIMEOUT {LOCK_SECONDS}"):
                connection.cursor().execute(statement)
        yield Db2Session(connection, address, (ibm_db_dbi.Error, OSError))
    finally:
        with suppress(ibm_db_dbi.Error, OSError):
            connection.rollback()
            connection.close()


_OTHERWISE: Final = "Check address, port, user, password and database."
_HINTS: Final = {
    "SQL30082N": "Give user and password in the address, or the password in HULLSOUND_PASSWORD.",
    "SQL30081N": "Is the server up, and does it listen on this address and port?",
    "SQL1013N": "Name a database that exists.",
    "SQL1040N": "The database takes no more connections: try again later.",
    "SQL1060N": "The user lacks CONNECT on this database.",
}
