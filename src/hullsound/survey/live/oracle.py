"""Sessions on Oracle Database: a read-only transaction over the data dictionary."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any, Final

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Row, Rows

from .model import Address, check_options
from .session import ANSWER_SECONDS, CONNECT_SECONDS, PROGRAM, STATEMENT_SECONDS, Session, hint_for, missing_driver

_GONE: Final = ("ORA-03113", "ORA-03114", "ORA-03135", "ORA-02396", "ORA-00028", "ORA-01012", "DPY-4011", "DPY-1001")
"""Error codes that end a connection: Database Error Messages; python-oracledb, "Error Codes"."""
_LATE: Final = ("ORA-01013", "DPY-4024")
_VERSION: Final = "SELECT version FROM sys.product_component_version WHERE product LIKE 'Oracle%'"


class OracleSession(Session):
    """One read-only transaction; where the DBA_ views may not be read, the ALL_ views stand in for them."""

    def __init__(self, connection: Any, address: Address, errors: tuple[type[Exception], ...]) -> None:
        self.errors = errors  # type: ignore[misc]  # the driver is not imported before it is needed
        super().__init__(connection, address, "oracle", "", address.name)
        self.reads_all = True
        with suppress(Exception):
            self.version = str(self.ask(_VERSION)[0][0]).split(".")[0]
        try:
            self.fetch("SELECT count(*) FROM sys.dba_users WHERE username = 'SYS'")
        except self.errors:
            self.reads_all = False

    def fetch(self, query: str) -> list[Row]:
        return super().fetch(query if self.reads_all else query.replace("sys.dba_", "sys.all_"))

    def more(self, found: dict[str, Rows], refused: dict[str, str]) -> None:
        """Say so where only a part of the dictionary can be seen."""
        if not self.reads_all:
            refused["what the user may not use"] = (
                "the views DBA_... may not be read, and ALL_... tell only what this user may use"
            )

    def limit(self, seconds: float) -> None:
        self.connection.call_timeout = max(int(seconds * 1000), 1)

    def is_lost(self, error: Exception) -> bool:
        return any(code in str(error) for code in _GONE)

    def is_late(self, error: Exception) -> bool:
        return any(code in str(error) for code in _LATE)


@contextmanager
def open_oracle(address: Address) -> Iterator[Session]:
    """Connect and begin a transaction that only reads. Raises SourceError where that cannot be done.

    The password comes from the address or from HULLSOUND_PASSWORD. Servers before 12.1 are only reached through Oracle's
    client libraries, whose folder the option `client` names (python-oracledb, "Enabling python-oracledb Thick mode").
    """
    try:
        import oracledb
    except ImportError:
        raise missing_driver("oracledb", "oracle", address) from None
    oracledb.defaults.fetch_lobs = False
    check_options(address, ("client",))
    try:
        if "client" in address.options:
            oracledb.init_oracle_client(lib_dir=address.options["client"] or None)
        connection = oracledb.connect(
            user=address.user, password=address.password, host=address.host,
            port=address.port or 1521, service_name=address.database, tcp_connect_timeout=CONNECT_SECONDS, program=PROGRAM,
        )  # fmt: skip
    except (oracledb.Error, OSError) as error:
        raise SourceError(
            f"cannot connect: {str(error).splitlines()[0]}",
            where=address.text,
            hint=hint_for(str(error), _HINTS, _OTHERWISE),
        ) from None
    try:
        connection.call_timeout = (STATEMENT_SECONDS + ANSWER_SECONDS) * 1000
        with connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION READ ONLY")
        yield OracleSession(connection, address, (oracledb.Error, OSError))
    finally:
        with suppress(oracledb.Error):
            connection.close()


_OTHERWISE: Final = "Check address, port, service, user and password."
_HINTS: Final = {
    "ORA-01017": "Give user and password in the address, or the password in HULLSOUND_PASSWORD.",
    "ORA-28000": "The account is locked: ALTER USER ... ACCOUNT UNLOCK opens it.",
    "ORA-28001": "The password has run out: set another.",
    "ORA-12514": "The listener knows no such service: oracle://user@host:1521/SERVICE.",
    "DPY-6001": "The listener knows no such service: oracle://user@host:1521/SERVICE.",
    "ORA-00018": "The server takes no more sessions: try again later.",
    "ORA-00020": "The server takes no more processes: try again later.",
    "ORA-01045": "The user lacks CREATE SESSION.",
    "DPY-3010": "The driver alone reaches 12.1 and newer. For 11.2, add ?client=FOLDER with Oracle Instant Client 19 or 21, or use "
    "a kit: hullsound kit oracle:11.",
    "DPI-1047": "The folder of ?client= holds no Oracle Instant Client that fits this machine.",
    "DPY-6005": "Is the server up, and does it listen on this address and port?",
    "DPY-6000": "The listener refused the connection: does it allow this host?",
}
