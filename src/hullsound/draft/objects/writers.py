"""The writer of objects for each target engine."""

from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.knowledge.engine_model import Target
from hullsound.project import Project

from .mysql import MysqlWriter
from .oracle import OracleWriter
from .postgresql import ObjectWriter
from .sqlserver import SqlServerWriter

_WRITERS: Final[dict[str, type[ObjectWriter]]] = {
    "mysql": MysqlWriter, "mariadb": MysqlWriter, "sqlserver": SqlServerWriter, "oracle": OracleWriter,
}  # fmt: skip


def writer_for(catalog: Catalog, target: Target, project: Project) -> ObjectWriter:
    """Return the writer for a target engine."""
    return _WRITERS.get(target.engine, ObjectWriter)(catalog, target, project)
