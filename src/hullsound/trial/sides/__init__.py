"""The engines on which behaviour is compared: the source's own, and the scratch server that holds the drafts."""

from .mariadb import MariadbDrafts, MariadbSide
from .postgresql import PostgresqlSide, PostgresqlSource
from .sqlite import SqliteSide

__all__ = ["MariadbDrafts", "MariadbSide", "PostgresqlSide", "PostgresqlSource", "SqliteSide"]
