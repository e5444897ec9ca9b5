"""A session on a running source, whichever engine it is of: it reads, within bounds of time, and changes nothing."""

import datetime
from collections.abc import Mapping
from contextlib import AbstractContextManager
from decimal import Decimal
from typing import Any, ClassVar, Final

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Row, Rows

from .model import Address

PROGRAM: Final = "hullsound survey"
"""Name under which sessions stand in the server's own lists."""
STATEMENT_SECONDS: Final = 120
"""What one query on the catalogue may take."""
LOCK_SECONDS: Final = 5
CONNECT_SECONDS: Final = 10
ANSWER_SECONDS: Final = 30
"""How long after its time a query may stay unanswered before the server counts as gone."""


class QueryRefusedError(Exception):
    """The server said no to one query; the session goes on. `is_late` where its time ran out."""

    def __init__(self, said: str, *, is_late: bool = False) -> None:
        super().__init__(said)
        self.said = said
        self.is_late = is_late


class ConnectionLostError(SourceError):
    """The server went away, or does not answer any more."""


class Session:
    """One connection on a source. Engines say in their own classes what differs."""

    errors: ClassVar[tuple[type[Exception], ...]] = (Exception,)
    """What the driver raises."""

    def __init__(self, connection: Any, address: Address, engine: str, version: str, name: str) -> None:
        self.connection = connection
        self.address = address
        self.engine = engine
        self.version = version
        self.name = name

    def ask(self, query: str) -> Rows:
        """Return the rows of a query as plain values: text, whole numbers, floats, truth values and None.

        Raises QueryRefusedError where the server says no, ConnectionLostError where it is gone.
        """
        try:
            return [tuple(map(plain, row)) for row in self.fetch(query)]
        except self.errors as error:
            if self.is_lost(error):
                raise ConnectionLostError(
                    f"the connection was lost: {self.said(error)}", where=self.address.text,
                    hint="Is the server still there? What was read is kept: go on with --resume.",
                ) from None  # fmt: skip
            self.recover()
            raise QueryRefusedError(self.said(error), is_late=self.is_late(error)) from None

    def fetch(self, query: str) -> list[Row]:
        """Run a query and return its rows, with whatever the driver raises."""
        cursor = self.connection.cursor()
        try:
            cursor.execute(query)
            return list(cursor.fetchall())
        finally:
            cursor.close()

    def more(self, found: dict[str, Rows], refused: dict[str, str]) -> None:
        """Ask what only the answers so far tell how to ask, and add it to what was found and what was refused."""

    def set_up(self, statement: str) -> None:
        """Run a statement that sets something for this session alone, such as its time zone. Raises QueryRefusedError."""
        try:
            cursor = self.connection.cursor()
            try:
                cursor.execute(statement)
            finally:
                cursor.close()
        except self.errors as error:
            raise QueryRefusedError(self.said(error)) from None

    def recover(self) -> None:
        """Make the session fit for the next query after one was refused."""

    def limit(self, seconds: float) -> None:
        """Let the queries that follow take this long and no longer."""

    def is_lost(self, error: Exception) -> bool:
        raise NotImplementedError

    def is_late(self, error: Exception) -> bool:
        """Whether an error says that the time of a query had run out."""
        return False

    def said(self, error: Exception) -> str:
        """Return the first line of what the server says."""
        lines = str(error).strip().splitlines()
        return lines[0] if lines else error.__class__.__name__


Opened = AbstractContextManager[Session]


def plain(value: Any) -> Any:
    """Return a value of a driver as a plain one, the same whichever way it came."""
    if value is None or isinstance(value, str | int | float):
        return value
    if isinstance(value, Decimal):
        return int(value) if value == value.to_integral_value() else float(value)
    if isinstance(value, bytes | bytearray | memoryview):
        return bytes(value).decode("utf-8", errors="replace")
    if isinstance(value, datetime.datetime):
        return value.isoformat(" ")
    return str(value.read() if hasattr(value, "read") else value)


def hint_for(said: str, hints: Mapping[str, str], otherwise: str) -> str:
    """Return the hint of the first code or word that stands in what was said, whatever its case."""
    return next((hint for code, hint in hints.items() if code.lower() in said.lower()), otherwise)


def missing_driver(driver: str, extra: str, address: Address) -> SourceError:
    """Return the error for a driver that is not there, with the command that installs it."""
    return SourceError(
        f"the driver {driver} is not installed",
        where=address.text,
        hint=f"Install it with: pip install 'hull-sound[{extra}]'",
    )
