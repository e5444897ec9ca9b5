"""The statements that a captured catalogue amounts to, whichever engine it is of."""

from collections.abc import Callable, Iterable, Iterator
from typing import Final

from . import db2, mysql, oracle, sqlserver, teradata
from .model import FACTS, Capture, Statement


def assemble(capture: Capture) -> Iterator[Statement]:
    """Put the rows of a catalogue together as the statements that make its objects."""
    return iter(_ASSEMBLERS.get(capture.engine, _as_told)(capture))


def hidden_texts(capture: Capture) -> Iterator[str]:
    """Yield the objects whose text the server keeps from this user, as `kind name`."""
    if capture.engine in ("mysql", "mariadb"):
        for name, kind, _, body, *_ in capture.rows("routines"):
            if body is None:
                yield f"{kind.lower()} {name}"
        for name, definition, _ in capture.rows("views"):
            if not definition:
                yield f"view {name}"
    if capture.engine == "db2":
        for schema, name, kind, _, text, _ in capture.rows("routines"):
            if not text:
                yield f"{'procedure' if kind == 'P' else 'function'} {schema}.{name}"
    if capture.engine == "sqlserver":
        for schema, name, _, text, *_ in capture.rows("modules"):
            if text is None:
                yield f"{schema}.{name}"


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
    "db2": db2.assemble,
    "teradata": teradata.assemble,
}
