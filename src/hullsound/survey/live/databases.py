"""Which databases of a server an address names, where databases are what other engines call schemas."""

from collections.abc import Callable
from dataclasses import replace

from hullsound.errors import SourceError, UsageError
from hullsound.survey.catalogues.model import load_queries

from .model import Address
from .session import Opened

ALL = "*"


def each_database(address: Address, open_one: Callable[[Address], Opened]) -> list[Address]:
    """Return an address for each database that is named, or for all that the user sees where the name is `*`.

    Raises SourceError where the server cannot be asked, or has none.
    """
    if address.database != ALL or address.engine not in ("mysql", "mariadb"):
        return [replace(address, database=name, further=()) for name in (address.database, *address.further)]
    with open_one(replace(address, database="information_schema")) as session:
        query = load_queries(session.engine, session.version, "databases")["databases"]
        names = [str(row[0]) for row in session.ask(query.text)]
    if not names:
        raise SourceError("the user sees no database", where=address.text, hint="GRANT SELECT ON database.* TO user")
    return [replace(address, database=name) for name in names]


def check_one_database(address: Address, what: str) -> None:
    """Raise UsageError for an address that names several databases, where only one can be meant."""
    if address.further or (address.database == ALL and address.engine in ("mysql", "mariadb")):
        raise UsageError(f"the address names several databases, and {what} takes one", where=address.text)
