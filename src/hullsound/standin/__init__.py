"""Stand-ins for engines that do not run everywhere: a schema's catalogue in SQLite, so that the real queries can be tried."""

from hullsound.catalog.catalog import Catalog
from hullsound.errors import UsageError
from hullsound.survey.live.model import Address
from hullsound.survey.live.session import Opened


def open_stand_in(address: Address, catalog: Catalog) -> Opened:
    """Return a session on the catalogue that a surveyed schema would have on its engine.

    Raises UsageError for an engine that has no stand-in.
    """
    if address.engine == "oracle":
        from .oracle import open_oracle_stand_in

        return open_oracle_stand_in(address, catalog)
    if address.engine == "sqlserver":
        from .sqlserver import open_sqlserver_stand_in

        return open_sqlserver_stand_in(address, catalog)
    if address.engine == "db2":
        from .db2 import open_db2_stand_in

        return open_db2_stand_in(address, catalog)
    raise UsageError(
        f"no stand-in for {address.engine}", where="?standin=", hint="There is one for oracle, mssql and db2."
    )
