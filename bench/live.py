"""Times surveys of running servers: many tables on PostgreSQL and MariaDB, and the profile of one large table.

Starts private servers, fills them, and prints seconds, memory of the survey, and what the profile looked at.
"""

import argparse
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from hullsound.catalog.hullfile import read_hull
from hullsound.trial.mariadb import private_mariadb, root_connection
from hullsound.trial.postgresql import private_server, scratch_database

KINDS = ("integer", "varchar(40)", "numeric(12,2)", "timestamp", "smallint", "char(3)", "text", "date", "bigint")
COLUMNS = ", ".join(f"c{place} {kind}" for place, kind in enumerate(KINDS, start=1))


@contextmanager
def postgresql() -> Iterator[tuple[str, object]]:
    with private_server() as url, scratch_database(url) as connection:
        head, _, tail = url.partition("/postgres?")

        def run(text: str) -> None:
            connection.execute(text.encode())
            connection.commit()

        yield f"{head}/{connection.info.dbname}?{tail}", run


@contextmanager
def mariadb() -> Iterator[tuple[str, object]]:
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE bench")
        cursor.execute("USE bench")
        yield f"mariadb://root@localhost/bench?unix_socket={socket}", cursor.execute


def survey(address: str, *options: str) -> tuple[float, float, Path]:
    """Return seconds, the greatest memory of the process in MB, and the hull file."""
    hull = Path(tempfile.mkdtemp()) / "bench.hull"
    started = time.perf_counter()
    subprocess.run(
        [sys.executable, "-m", "hullsound", "survey", address, "-o", str(hull), "-q", "--jobs", "1", *options],
        check=True,
    )
    took = time.perf_counter() - started
    return took, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024, hull


def many_tables(count: int) -> None:
    for server in (postgresql, mariadb):
        with server() as (address, run):
            for start in range(0, count, 500):
                for place in range(start, min(start + 500, count)):
                    run(f"CREATE TABLE t{place} (id integer NOT NULL PRIMARY KEY, {COLUMNS})")
            took, memory, hull = survey(address)
            print(f"{server.__name__}: {len(read_hull(hull).objects)} objects in {took:.1f} s")
            print(f"  greatest memory of any process so far: {memory:.0f} MB")


def large_table(rows: int, seconds: float) -> None:
    with postgresql() as (address, run):
        run(f"CREATE TABLE big (id bigint PRIMARY KEY, amount numeric, name text, at timestamp); INSERT INTO big "
            f"SELECT n, n % 1000, 'name ' || n, now() FROM generate_series(1, {rows}) n; ANALYZE big")  # fmt: skip
        for budget in (seconds, seconds / 20):
            took, _, hull = survey(address, "--profile", "--profile-budget", str(budget))
            seen = {(m.seen, m.total) for m in read_hull(hull).measures}
            print(f"profile of {rows:,} rows, budget {budget:g} s: {took:.1f} s with the survey; looked at {seen}")


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("--tables", type=int, default=20_000)
    parser.add_argument("--rows", type=int, default=5_000_000)
    given = parser.parse_args()
    large_table(given.rows, 20)
    many_tables(given.tables)
