"""Cuts a script into statements and client directives, the way the engine's own client does."""

from importlib import import_module

from .dialect import Client, Dialect
from .statements import Directive, ReadStatement, Script

__all__ = ["Directive", "ReadStatement", "Script", "read_script"]

_READERS = {
    Client.SQLPLUS: ("sqlplus", "SqlplusReader"),
    Client.BATCH: ("batch", "BatchReader"),
    Client.MYSQL: ("mysql", "MysqlReader"),
    Client.PSQL: ("psql", "PsqlReader"),
    Client.DB2: ("terminated", "Db2Reader"),
    Client.BTEQ: ("terminated", "BteqReader"),
    Client.SQLITE: ("terminated", "SqliteReader"),
}


def read_script(text: str, dialect: Dialect, variables: dict[str, str] | None = None) -> Script:
    """Read a whole script. Never raises: what cannot be read is marked in its statement.

    `variables` are client substitution variables by upper-cased name; definitions met on the way are added to it.
    """
    module, name = _READERS[dialect.client]
    reader = getattr(import_module(f".clients.{module}", __package__), name)
    script = reader(text, dialect, variables if variables is not None else {}).read()
    assert isinstance(script, Script)
    return script
