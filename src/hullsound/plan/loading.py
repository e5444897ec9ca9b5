"""Measures how fast a real target loads rows: made-up rows of the surveyed tables, in a scratch database."""

import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Final, NamedTuple, Protocol

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object
from hullsound.errors import TargetError
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.types import choose_column_type, logical_type
from hullsound.project import Project
from hullsound.ranges import Range

from .sizes import TableSize
from .window import Measured

if TYPE_CHECKING:
    import psycopg
    import pymysql

_TABLES: Final = 6
"""Tables that are measured: the largest, which decide."""
_SECONDS: Final = 4.0
"""What loading one of them may take."""
_BATCH: Final = 2_000
_FEWEST_ROWS: Final = 2_000
_MB: Final = 1_000_000
_MOST_TEXT: Final = 400
_LARGE_TEXT: Final = 4_000
_WORDS: Final = "quay berth pilot vessel cargo tide north basin lock crane "


class Rates(NamedTuple):
    """What was measured, and remarks on how."""

    measured: Measured
    remarks: list[str]


class _Loader(Protocol):
    """A connection to a scratch database that tables are made and filled in."""

    name: str

    def create(self, table: str, types: Sequence[str]) -> list[str]:
        """Create a table; return the types that the target took, a long text where it refused one."""

    def load(self, table: str, rows: Sequence[Sequence[str]]) -> None: ...

    def index(self, table: str) -> None: ...


def measure_loading(
    catalog: Catalog,
    sizes: Sequence[TableSize],
    target: Target,
    project: Project,
    url: str,
    progress: Callable[[str, int, int], None] = lambda *_: None,
) -> Rates:
    """Load made-up rows of the largest tables into a scratch database and return the rates, with their spread.

    `url` is the address of a server of the target engine, or `private`. Raises TargetError where there is none, or where no
    table could be loaded.
    """
    tables = [catalog.objects[size.id] for size in sizes if size.id in catalog.objects][:_TABLES]
    loads: list[tuple[float, int, float]] = []
    builds: list[float] = []
    remarks = []
    with _loader(target, url) as loader:
        for number, table in enumerate(tables):
            progress(f"loading rows of {table.name.lower()}", number, len(tables))
            types = [_type_text(catalog.engine, target, project, table, column) for column in table.columns]
            name = f"t{number}"
            loader.create(name, types)
            rows = [_row(catalog.engine, table, place) for place in range(_BATCH)]
            loaded, mb, seconds = _fill(loader, name, rows)
            if loaded < _FEWEST_ROWS:
                continue
            loads.append((mb, loaded, seconds))
            begin = time.perf_counter()
            loader.index(name)
            builds.append(mb / max(time.perf_counter() - begin, 1e-3))
            remarks.append(f"{table.id}: {loaded:,} rows, {mb:.0f} MB in {seconds:.1f} s: {mb / seconds:.1f} MB/s")
        remarks.insert(
            0, f"Measured on {loader.name}, one stream, no keys, made-up rows; the spread is that of the tables."
        )
    if not loads:
        raise TargetError("no table could be loaded, so nothing was measured", where="--measure-on")
    write_mb_s, rows_s = _fitted(loads)
    return Rates(Measured(write_mb_s, rows_s, _range(builds)), remarks)


def _fitted(loads: Sequence[tuple[float, int, float]]) -> tuple[Range, Range]:
    """Return MB a second and rows a second so that seconds = MB / the former + rows / the latter fits what was measured.

    Non-negative least squares on relative errors (Lawson and Hanson, 1974); the spread is that of what was measured about the fit.
    """
    import numpy as np
    from scipy.optimize import nnls

    seconds = np.array([each[2] for each in loads])
    design = np.array([[each[0], each[1]] for each in loads]) / seconds[:, None]
    costs, _ = nnls(design, np.ones(len(loads)))
    ratios = design @ costs
    low, high = min(float(ratios.min()), 1.0), max(float(ratios.max()), 1.0)
    mb, rows = (1 / max(float(cost), floor) for cost, floor in zip(costs, (1e-5, 1e-8), strict=True))
    return (mb * low, mb, mb * high), (rows * low, rows, rows * high)


def _range(values: Sequence[float]) -> Range:
    """Return lowest, middle and highest of what was measured."""
    ordered = sorted(values)
    return ordered[0], ordered[len(ordered) // 2], ordered[-1]


def _fill(loader: _Loader, table: str, rows: Sequence[Sequence[str]]) -> tuple[int, float, float]:
    """Load the same rows again and again until the time is over; return how many, how many MB, and the seconds."""
    mb = sum(len(cell) for row in rows for cell in row) / _MB
    loaded = batches = 0
    begin = time.perf_counter()
    while True:
        loader.load(table, rows)
        loaded += len(rows)
        batches += 1
        seconds = time.perf_counter() - begin
        if seconds > _SECONDS or batches * mb > 200:
            return loaded, batches * mb, seconds


def _type_text(engine: str, target: Target, project: Project, table: Object, column: Column) -> str:
    choice = choose_column_type(engine, target, project, table.schema, table.name, column.name, column.type)
    return choice.text if choice is not None else ""


def _row(engine: str, table: Object, place: int) -> list[str]:
    return [_value(engine, column, place * 7_919 + number * 104_729) for number, column in enumerate(table.columns)]


def _value(engine: str, column: Column, seed: int) -> str:
    """Return a made-up value that fits the type of a column, as text that every engine reads."""
    logical = logical_type(engine, column.type)
    kind = logical.kind if logical is not None else "text"
    if logical is None or kind in ("text", "fixed-text", "large-text", "enum"):
        most = _LARGE_TEXT if kind == "large-text" else min(logical.length or 40, _MOST_TEXT) if logical else 40
        length = max(most if kind == "fixed-text" else most // 2, 1)
        return (_WORDS * (length // len(_WORDS) + 1))[seed % 7 :][:length]
    if kind in ("integer", "unsigned", "serial", "bit"):
        return str(
            seed % (100 if logical.bits and logical.bits <= 8 else 30_000 if logical.bits == 16 else 2_000_000_000)
        )
    if kind.startswith("decimal") or kind in ("float", "money", "small-money"):
        whole = max((logical.precision or 9) - logical.scale, 0)
        number = str(seed % 10 ** min(whole, 8))
        return f"{number}.{seed % 10 ** min(logical.scale, 6)}" if logical.scale else number
    if kind in ("date", "date-zero"):
        return f"20{10 + seed % 15:02d}-{1 + seed % 12:02d}-{1 + seed % 28:02d}"
    if kind == "time":
        return f"{seed % 24:02d}:{seed % 60:02d}:{seed % 59:02d}"
    if "date" in kind or "timestamp" in kind:
        return f"20{10 + seed % 15:02d}-{1 + seed % 12:02d}-{1 + seed % 28:02d} {seed % 24:02d}:{seed % 60:02d}:{seed % 59:02d}"
    if kind == "boolean":
        return str(seed % 2)
    if kind == "uuid":
        return f"{seed % 2**32:08x}-0000-4000-8000-{seed % 2**48:012x}"
    if kind == "json":
        return '{"berth": 7, "note": "made up"}'
    if kind == "xml":
        return "<made-up/>"
    return ""


@contextmanager
def _loader(target: Target, url: str) -> "Iterator[_Loader]":
    from hullsound.trial.mariadb import scratch_mariadb
    from hullsound.trial.postgresql import private_server, scratch_database

    address = "" if url == "private" else url
    if target.engine == "postgresql":
        if address:
            with scratch_database(address) as connection:
                yield _PostgresqlLoader(connection)
        else:
            with private_server() as own, scratch_database(own) as connection:
                yield _PostgresqlLoader(connection)
    elif target.engine in ("mysql", "mariadb"):
        with scratch_mariadb(address) as mariadb:
            yield _MysqlLoader(mariadb)
    else:
        raise TargetError(
            f"loading cannot be measured on {target.engine}", where="--measure-on",
            hint="It is measured on PostgreSQL, MySQL and MariaDB; others take rates from [window] in hullsound.toml.",
        )  # fmt: skip


class _PostgresqlLoader:
    """Loads by COPY, as loaders do."""

    def __init__(self, connection: "psycopg.Connection[Any]") -> None:
        self.connection = connection
        version = connection.info.server_version
        self.name = f"PostgreSQL {version // 10_000}.{version % 10_000}"

    def create(self, table: str, types: Sequence[str]) -> list[str]:
        taken = [kind if kind and self._takes(kind) else "text" for kind in types]
        columns = ", ".join(f"c{number} {kind}" for number, kind in enumerate(taken))
        self.connection.execute(f"CREATE TABLE {table} ({columns})".encode())
        self.connection.commit()
        return taken

    def _takes(self, kind: str) -> bool:
        import psycopg

        try:
            with self.connection.transaction():
                self.connection.execute(f"CREATE TABLE probe (c {kind})".encode())
                self.connection.execute(b"DROP TABLE probe")
        except psycopg.Error:
            return False
        return True

    def load(self, table: str, rows: Sequence[Sequence[str]]) -> None:
        text = "".join("\t".join(cell or "\\N" for cell in row) + "\n" for row in rows)
        with self.connection.cursor() as cursor, cursor.copy(f"COPY {table} FROM STDIN".encode()) as copy:
            copy.write(text)
        self.connection.commit()

    def index(self, table: str) -> None:
        self.connection.execute(f"CREATE INDEX ON {table} (c0)".encode())
        self.connection.commit()


class _MysqlLoader:
    """Loads by INSERT of many rows, which every server allows."""

    def __init__(self, connection: "pymysql.connections.Connection[Any]") -> None:
        self.connection = connection
        with connection.cursor() as cursor:
            cursor.execute("SELECT VERSION()")
            version = str((cursor.fetchone() or ("",))[0])
        self.name = f"{'MariaDB' if 'maria' in version.lower() else 'MySQL'} {version.split('-', maxsplit=1)[0]}"

    def create(self, table: str, types: Sequence[str]) -> list[str]:
        taken = [kind if kind and self._takes(kind) else "longtext" for kind in types]
        columns = ", ".join(f"c{number} {kind}" for number, kind in enumerate(taken))
        with self.connection.cursor() as cursor:
            cursor.execute(f"CREATE TABLE {table} ({columns})")
        return taken

    def _takes(self, kind: str) -> bool:
        import pymysql

        try:
            with self.connection.cursor() as cursor:
                cursor.execute(f"CREATE TABLE probe (c {kind})")
                cursor.execute("DROP TABLE probe")
        except pymysql.MySQLError:
            return False
        return True

    def load(self, table: str, rows: Sequence[Sequence[str]]) -> None:
        slots = f"({', '.join(['%s'] * len(rows[0]))})"
        with self.connection.cursor() as cursor:
            cursor.executemany(f"INSERT INTO {table} VALUES {slots}", [[cell or None for cell in row] for row in rows])

    def index(self, table: str) -> None:
        import pymysql

        with self.connection.cursor() as cursor:
            try:
                cursor.execute(f"CREATE INDEX i ON {table} (c0)")
            except pymysql.MySQLError:  # a column of long text wants a length
                cursor.execute(f"CREATE INDEX i ON {table} (c0(40))")
