"""Databases on the private servers of the tests, and their addresses."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from hullsound.trial.postgresql import scratch_database


@contextmanager
def postgresql_with(server_url: str, script: str = "") -> Iterator[tuple[str, Any]]:
    """Yield the address of a new database that a script has filled, and a connection to it."""
    with scratch_database(server_url) as connection:
        if script:
            connection.execute(script.encode())
            connection.commit()
        head, _, tail = server_url.partition("/postgres?")
        yield f"{head}/{connection.info.dbname}?{tail}", connection
