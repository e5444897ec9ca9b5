"""Samples the load of a running source again and again, and writes each sample as soon as it is taken."""

import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Final

from hullsound.errors import SourceError, UsageError
from hullsound.survey.catalogues.model import load_queries
from hullsound.survey.live.model import Address
from hullsound.survey.live.session import Opened, QueryRefusedError, Session

from .counters import Sample, rates_between
from .load import DIMENSIONS

_QUERY_SECONDS: Final = 20.0
"""What one sample may take."""


class Metered:
    """What a metering came to."""

    def __init__(self) -> None:
        self.samples = 0
        self.missed = 0
        """Samples that could not be taken, since the server did not answer."""
        self.refused: set[str] = set()
        """What the server said to questions that it refused."""


def take_sample(session: Session) -> tuple[Sample, set[str]]:
    """Return what a source counts now, and what it said to questions that it refused. Raises UsageError without questions."""
    queries = load_queries(session.engine, session.version, "meter")
    if not queries:
        raise UsageError(
            f"the load of {session.engine} is not sampled", where="meter",
            hint="Export it from your monitoring: hullsound size reads CSV.",
        )  # fmt: skip
    values: dict[str, float] = {}
    refused: set[str] = set()
    session.limit(_QUERY_SECONDS)
    for query in queries.values():
        try:
            for name, value in session.ask(query.text):
                if value is not None:
                    values[str(name)] = float(value)
        except QueryRefusedError as error:
            right = f" ({query.right})" if query.right else ""
            refused.add(f"{query.name}: {error.said}{right}")
    return Sample(time.time(), values), refused


def meter(
    address: Address,
    opened: Callable[[Address], Opened],
    path: Path,
    every: float,
    seconds: float,
    *,
    told: Callable[[str, int, int], None] = lambda *_: None,
    sleep: Callable[[float], None] = time.sleep,
) -> Metered:
    """Sample a source every so many seconds for so long, into a table that `size` reads.

    Each sample has a session of its own, so that counters are not those of one state of the database, and a server that is away
    for a while costs only the samples of that time. Raises SourceError where the first sample cannot be taken, or the table not
    written; UsageError for an engine that is not sampled.
    """
    found = Metered()
    wanted = max(round(seconds / every), 1)
    before = _first(address, opened, found)
    rows = _Rows(path)
    begin = time.monotonic()
    for number in range(1, wanted + 1):
        sleep(max(begin + number * every - time.monotonic(), 0.0))
        told(f"{address.text}: sample {number}", number, wanted)
        try:
            with opened(address) as session:
                after, refused = take_sample(session)
        except SourceError:
            found.missed += 1
            continue
        found.refused |= refused
        if after.at <= before.at:  # the clock was set back: begin anew from here
            found.missed += 1
        else:
            rows.add(after.at, rates_between(before, after))
            found.samples += 1
        before = after
    return found


def _first(address: Address, opened: Callable[[Address], Opened], found: Metered) -> Sample:
    with opened(address) as session:
        sample, found.refused = take_sample(session)
    if not sample.values:
        said = "; ".join(sorted(found.refused))
        raise SourceError(f"tells nothing of its load: {said}", where=address.text, hint="Give the user these rights.")
    return sample


class _Rows:
    """The table, one line for each sample, written and closed at once."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._write("w", ("time", *DIMENSIONS))

    def add(self, at: float, rates: dict[str, float]) -> None:
        when = datetime.fromtimestamp(at, UTC).isoformat(timespec="milliseconds")
        self._write("a", (when, *(f"{rates[name]:.4g}" if name in rates else "" for name in DIMENSIONS)))

    def _write(self, mode: str, cells: "tuple[str, ...]") -> None:
        try:
            with self.path.open(mode, encoding="utf-8") as stream:
                stream.write(",".join(cells) + "\n")
        except OSError as error:
            raise SourceError(f"cannot write the table: {error.strerror}", where=str(self.path)) from error


def read_duration(text: str) -> float:
    """Return the seconds that a text such as 90, 60s, 15m, 24h or 7d means. Raises ValueError."""
    units = {"s": 1.0, "m": 60.0, "h": 3600.0, "d": 86_400.0}
    unit = units.get(text[-1:].lower(), 0.0)
    value = float(text[:-1] if unit else text) * (unit or 1.0)
    if not 0 < value < 400 * 86_400:
        raise ValueError(f"{text!r} is no length of time")
    return value
