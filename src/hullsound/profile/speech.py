"""How each engine quotes names, takes a sample of a table, and tells the names of its columns."""

from typing import Final

from hullsound.survey.catalogues.model import load_queries
from hullsound.survey.live.session import Session

_SLICES: Final = 20
"""Pieces of a table's range of keys that make a sample, spread evenly, so that old rows and new ones are in it."""
_DOUBLE, _BACK, _SQUARE = ('"', '"'), ("`", "`"), ("[", "]")
_QUOTES: Final = {"mysql": _BACK, "mariadb": _BACK, "sqlserver": _SQUARE}
_LIMITED: Final = frozenset(("mysql", "mariadb", "sqlite", "postgresql"))
_SAMPLED: Final[dict[str, str]] = {
    "postgresql": "{table} TABLESAMPLE SYSTEM ({percent}) REPEATABLE (1)",
    "oracle": "{table} SAMPLE BLOCK ({percent})",
    "sqlserver": "{table} TABLESAMPLE ({percent} PERCENT) REPEATABLE (1)",
}
"""Samples by blocks, where the engine has them: SELECT in the manuals of PostgreSQL, Oracle and SQL Server."""

Names = dict[tuple[str, str], "RealTable"]


class RealTable:
    """A table as the source itself spells it: its name with its schema, quoted, and its columns by their names in lower case."""

    def __init__(self, engine: str, schema: str, table: str) -> None:
        self.engine = engine
        self.text = ".".join(quoted(engine, part) for part in (schema, table) if part)
        self.columns: dict[str, str] = {}

    def column(self, name: str) -> str:
        """Return a column, quoted; '' for one that is not there."""
        real = self.columns.get(name.lower())
        return quoted(self.engine, real) if real is not None else ""


def quoted(engine: str, name: str) -> str:
    """Quote a name, so that nothing in it is taken for SQL."""
    opening, closing = _QUOTES.get(engine, _DOUBLE)
    return f"{opening}{name.replace(closing, closing * 2)}{closing}"


def real_names(session: Session) -> Names:
    """Ask how the source spells its tables and columns: (schema, table) in lower case -> table.

    Names that differ only in case are left out, since nothing tells them apart afterwards.
    """
    names: Names = {}
    twice: set[tuple[str, str]] = set()
    spelled: dict[tuple[str, str], tuple[str, str]] = {}
    query = load_queries(session.engine, session.version, "profile")["names"]
    for schema, table, column in session.ask(query.text):
        key = (str(schema).lower(), str(table).lower())
        if spelled.setdefault(key, (schema, table)) != (schema, table):
            twice.add(key)
        real = names.setdefault(key, RealTable(session.engine, str(schema), str(table)))
        real.columns[str(column).lower()] = str(column)
    return {key: table for key, table in names.items() if key not in twice}


def bounded_count(session: Session, table: RealTable, most: int) -> int | None:
    """Count the rows of a table, but no further than `most`; None where the engine cannot stop in time."""
    if session.engine not in _LIMITED:
        return None
    return int(session.ask(f"SELECT COUNT(*) FROM (SELECT 1 FROM {table.text} LIMIT {most}) AS counted")[0][0])


def sample(session: Session, table: RealTable, key: str, rows: int, wanted: int) -> str:
    """Return what to write behind FROM to see about `wanted` of the rows.

    `key` is a column of whole numbers that is the key by itself; '' for none. Raises QueryRefusedError as `ask` does.
    """
    percent = min(max(100.0 * wanted / max(rows, 1), 0.0001), 99.0)
    if session.engine in _SAMPLED:
        return _SAMPLED[session.engine].format(table=table.text, percent=f"{percent:.4f}")
    key = key or ("rowid" if session.engine == "sqlite" else "")
    if key:
        low, high = session.ask(f"SELECT MIN({key}), MAX({key}) FROM {table.text}")[0]
        if isinstance(low, int) and isinstance(high, int) and high - low >= rows // 2:
            return f"{table.text} WHERE {_slices(key, low, high, percent / 100)}"
    return f"(SELECT * FROM {table.text} LIMIT {wanted}) AS sampled"


def _slices(key: str, low: int, high: int, share: float) -> str:
    step = (high - low + 1) / _SLICES
    width = max(int(step * share), 1)
    starts = [low + int(step * place) for place in range(_SLICES)]
    return " OR ".join(f"{key} BETWEEN {start} AND {start + width - 1}" for start in starts)
