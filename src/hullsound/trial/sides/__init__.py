"""The engines on which behaviour is compared: the source's own, and the scratch PostgreSQL that holds the drafts."""

from .mariadb import MariadbSide
from .postgresql import PostgresqlSide
from .sqlite import SqliteSide

__all__ = ["MariadbSide", "PostgresqlSide", "SqliteSide"]
