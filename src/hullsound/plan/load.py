"""Samples of the load of a source, as `meter` writes them or monitoring exports them, as a table over time."""

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING, Any, Final, NamedTuple

from hullsound.errors import SourceError
from hullsound.tables import LINE, Column, amount, read_table, text, timestamp

from .counters import Sample, rates_between

if TYPE_CHECKING:
    import pandas as pd

TIME: Final = "time"
DIMENSIONS: Final = (
    "cpu cores", "memory gb", "read iops", "write iops", "read mb/s", "write mb/s", "log mb/s", "connections", "storage gb",
)  # fmt: skip
"""What is sampled, in the units of the table."""
LOAD_COLUMNS: Final = (
    Column(TIME, timestamp, is_required=True, also=("timestamp", "date", "datetime", "sampled at", "date/time")),
    Column("cpu cores", amount, also=("cores used", "cpus used", "busy cores")),
    Column("cpu %", amount, also=("cpu", "cpu percent", "cpu usage", "cpu utilization", "cpuutilization")),
    Column("memory mb", amount, also=("memory", "mem mb", "memory used mb")),
    Column("memory gb", amount, also=("mem gb", "memory used gb")),
    Column("read iops", amount, also=("reads/s", "readiops", "read operations")),
    Column("write iops", amount, also=("writes/s", "writeiops", "write operations")),
    Column("read mb/s", amount, also=("read throughput", "read mbps")),
    Column("write mb/s", amount, also=("write throughput", "write mbps")),
    Column("log mb/s", amount, also=("log volume", "redo mb/s", "wal mb/s")),
    Column("connections", amount, also=("sessions", "database connections", "databaseconnections")),
    Column("storage gb", amount, also=("storage", "size gb", "used storage gb")),
    Column("name", text, also=("counter",)),
    Column("value", amount),
)
_FEWEST: Final = 2


class Load(NamedTuple):
    """The samples over time, and what was remarked while they were read."""

    frame: "pd.DataFrame"
    """One row for each sample, by time in UTC; a column for each dimension that was sampled."""
    remarks: list[str]

    @property
    def hours(self) -> float:
        index = self.frame.index
        return float((index[-1] - index[0]).total_seconds()) / 3600

    @property
    def step_seconds(self) -> float:
        """Seconds between two samples, in the middle."""
        steps = [(after - before).total_seconds() for before, after in pairwise(self.frame.index)]
        return float(median(steps))


def read_load(path: Path, cores: float | None = None) -> Load:
    """Read samples of load. `cores` of the source turn per cent of CPU into cores.

    Raises SourceError for a table that is wrong, has fewer than two samples, or whose clock goes backwards; each with its line.
    """
    rows = read_table(path, LOAD_COLUMNS, "the table of load", others=True)
    if rows and rows[0].get("name") is not None:
        rows = _from_counters(path, rows)
    _check_order(path, rows)
    if len(rows) < _FEWEST:
        raise SourceError("holds fewer than two samples", where=str(path), hint="Sample for longer: a week tells most.")
    return Load(*_frame(path, rows, cores))


def _check_order(path: Path, rows: Sequence[dict[str, Any]]) -> None:
    for before, row in pairwise(rows):
        if row[TIME] <= before[TIME]:
            what = "the same time as" if row[TIME] == before[TIME] else "earlier than"
            raise SourceError(
                f"line {row[LINE]}, column time: {row[TIME].isoformat()} is {what} the sample before it", where=str(path),
                hint="Samples stand in the order of time; was the clock set back, or are several servers in one file?",
            )  # fmt: skip


def _from_counters(path: Path, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Turn counters (time, name, value), as kits print them, into rates between two times."""
    samples: list[tuple[int, Any, dict[str, float]]] = []
    for row in rows:
        if row.get("name") is None or row.get("value") is None:
            raise SourceError(f"line {row[LINE]}: a counter without name or value", where=str(path))
        name = row["name"].lower()
        if not samples or name in samples[-1][2]:  # one run of a kit takes a second or two
            samples.append((row[LINE], row[TIME], {}))
        samples[-1][2][name] = row["value"]
    found = []
    for (_, begin, before), (line, end, after) in pairwise(samples):
        if end <= begin:
            raise SourceError(f"line {line}, column time: earlier than the sample before it", where=str(path))
        rates = rates_between(Sample(begin.timestamp(), before), Sample(end.timestamp(), after))
        found.append({LINE: line, TIME: end, **rates})
    return found


def _frame(path: Path, rows: Sequence[dict[str, Any]], cores: float | None) -> "tuple[pd.DataFrame, list[str]]":
    import pandas as pd

    frame = pd.DataFrame(rows).set_index(TIME).drop(columns=[LINE])
    frame.index = pd.DatetimeIndex(pd.to_datetime(frame.index, utc=True))
    remarks: list[str] = []
    if "memory mb" in frame and "memory gb" not in frame:
        frame["memory gb"] = frame["memory mb"] / 1024
    if "cpu %" in frame and "cpu cores" not in frame:
        if cores is None:
            raise SourceError(
                "holds per cent of CPU, which are cores only with the number of cores", where=str(path),
                hint="Give the cores of the source: --cores 16",
            )  # fmt: skip
        frame["cpu cores"] = frame["cpu %"] / 100 * cores
        if bool((frame["cpu %"] > 100.5).any()):
            remarks.append("CPU above 100 %: taken as given, so one core counts 100 %")
    known = [name for name in DIMENSIONS if name in frame and frame[name].notna().any()]
    if not known:
        raise SourceError(
            "holds no column of load",
            where=str(path),
            hint=f"At least one of: {', '.join(DIMENSIONS)}, cpu %, memory mb.",
        )
    missing = [name for name in known if frame[name].isna().any()]
    if missing:
        remarks.append(f"some samples lack {', '.join(missing)}: they count only where they are")
    return frame[known].astype(float), remarks
