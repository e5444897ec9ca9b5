"""Opens a session on a source by its address; each engine's driver is loaded only when it is needed."""

from .model import Address
from .session import Opened


def open_session(address: Address) -> Opened:
    """Return the session, to be entered with `with`. Raises SourceError where it cannot be opened."""
    if address.engine == "postgresql":
        from .postgresql import open_postgresql

        return open_postgresql(address)
    if address.engine == "sqlite":
        from .sqlite import open_sqlite

        return open_sqlite(address)
    if address.engine == "oracle":
        from .oracle import open_oracle

        return open_oracle(address)
    if address.engine == "sqlserver":
        from .sqlserver import open_sqlserver

        return open_sqlserver(address)
    if address.engine == "db2":
        from .db2 import open_db2

        return open_db2(address)
    if address.engine == "teradata":
        from .teradata import open_teradata

        return open_teradata(address)
    from .mysql import open_mysql

    return open_mysql(address)
