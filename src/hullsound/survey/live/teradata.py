"""Sessions on Teradata: queries on the dictionary, and SHOW for the text of each object."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Rows
from hullsound.survey.catalogues.teradata import show

from .model import Address, check_options
from .session import CONNECT_SECONDS, PROGRAM, QueryRefusedError, Session, missing_driver


class TeradataSession(Session):
    """One session on one database, whose reads wait for nobody."""

    def __init__(self, connection: Any, address: Address, errors: tuple[type[Exception], ...]) -> None:
        self.errors = errors  # type: ignore[misc]  # the driver is not imported before it is needed
        super().__init__(connection, address, "teradata", "", address.database or address.user)
        with suppress(Exception):
            said = self.ask("SELECT InfoData FROM DBC.DBCInfoV WHERE InfoKey = 'VERSION'")[0][0]
            self.version = ".".join(str(said).split(".")[:2])

    def more(self, found: dict[str, Rows], refused: dict[str, str]) -> None:
        """Ask for the text of each object; one that is refused is told by its name."""
        texts: Rows = []
        for row in found.get("objects", []):
            try:
                pieces = self.ask(show(row))
            except QueryRefusedError as error:
                refused[f"text of {row[2]}"] = error.said
                continue
            # A long text comes in several rows, its lines ended by carriage returns.
            text = "".join(str(piece[0]) for piece in pieces).replace("\r\n", "\n").replace("\r", "\n")
            texts.append((*row[:3], text))
        found["texts"] = texts

    def is_lost(self, error: Exception) -> bool:
        said = str(error).lower()
        return isinstance(error, OSError) or "socket" in said or "closed connection" in said

    def is_late(self, error: Exception) -> bool:
        return "timeout" in str(error).lower() or "3156" in str(error)


@contextmanager
def open_teradata(address: Address) -> Iterator[Session]:
    """Connect for reading. Raises SourceError where that cannot be done."""
    try:
        import teradatasql
    except ImportError:
        raise missing_driver("teradatasql", "teradata", address) from None
    check_options(address, ())
    try:
        connection = teradatasql.connect(
            host=address.host, user=address.user, password=address.password, dbs_port=str(address.port or 1025),
            connect_timeout=str(CONNECT_SECONDS * 1000),
        )  # fmt: skip
    except (teradatasql.Error, OSError) as error:
        said = str(error).splitlines()[0][-200:]
        raise SourceError(f"cannot connect: {said}", where=address.text, hint=_hint(str(error))) from None
    try:
        with suppress(teradatasql.Error):
            cursor = connection.cursor()
            cursor.execute("SET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL READ UNCOMMITTED")
            cursor.execute(f"SET QUERY_BAND = 'ApplicationName={PROGRAM};' FOR SESSION")
            if address.database:
                cursor.execute('DATABASE "' + address.database.replace('"', '""') + '"')
        yield TeradataSession(connection, address, (teradatasql.Error, OSError))
    finally:
        with suppress(teradatasql.Error, OSError):
            connection.close()


def _hint(said: str) -> str:
    if "8017" in said:
        return (
            "Give user and password in the address, or the password in HULLSOUND_PASSWORD; a locked user fails so too."
        )
    return "Check address, port, user, password and database."
