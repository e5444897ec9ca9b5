"""The statements that a captured catalogue amounts to, whichever engine it is of."""

from collections.abc import Callable, Iterable, Iterator
from typing import Final

from . import mysql, oracle, sqlserver
from .model import FACTS, Capture, Statement


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of a catalogue together as the statements that make its objects."""
    return iter(_ASSEMBLERS.get(capture.engine, _as_told)(capture))


def _as_told(capture: Capture) -> Iterator[Statement]:
    """Take the statements that the catalogue keeps itself: PostgreSQL writes them, SQLite has them as they were typed."""
    for name, rows in capture.found.items():
        for schema, kind, item, text in rows if name not in FACTS else ():
            if text is not None:
                yield Statement(str(schema), str(kind), str(item), str(text))


_ASSEMBLERS: Final[dict[str, Callable[[Capture], Iterable[Statement]]]] = {
    "mysql": mysql.assemble,
    "mariadb": mysql.assemble,
    "oracle": oracle.assemble,
    "sqlserver": sqlserver.assemble,
}
