"""How long the move of the data takes, offline and online, and whether it fits into the window."""

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any, Final, Literal

import msgspec
import numpy as np

from hullsound.ranges import SEED, Range, draw
from hullsound.settings import Assumption, Settings, WindowRules, assumptions

from .sizes import TableSize
from .streams import makespans, pieces_of, schedule

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Draws = NDArray[np.float64]

SCHEMA_NAME = "hullsound.window/1"
_DRAWS: Final = 2_000
_MB: Final = 1_000_000
_SECONDS: Final = 3_600
_NEVER_SHARE: Final = 0.5
"""Where changes outrun the target in more than this share of draws, the answer is: never."""
CHECK_READS: Final = {"none": 0.0, "quick": 0.3, "standard": 1.0, "full": 2.0}
"""What the levels of checks read on each side, as a share of the bytes of all tables. An assumption."""
CheckLevel = Literal["none", "quick", "standard", "full"]


class Span(msgspec.Struct, frozen=True):
    """A length of time in hours."""

    p50: float | None
    """None: longer than any, as where a copy never catches up."""
    p80: float | None


class Phase(msgspec.Struct, frozen=True):
    name: str
    hours: Span


class StreamTask(msgspec.Struct, frozen=True):
    """What one stream copies when, with rates in the middle of their ranges; hours from the start of the copy."""

    stream: int
    table: str
    part: int
    begin: float
    end: float


class Lever(msgspec.Struct, frozen=True):
    """Something that would shorten the time offline."""

    what: str
    hours: float
    """Hours that it saves at P50."""


class Online(msgspec.Struct, frozen=True):
    """The move while programs go on writing to the source."""

    change_mb_h: float
    copy_hours: Span
    catch_up: Span | None
    """None: the target never catches up, since changes come faster than it can apply them."""
    never_share: float
    """Share of the draws in which it never catches up, 0 to 1."""
    downtime: Span
    without_key: list[str]
    """Tables whose rows nothing tells apart: their changes cannot be followed."""


class Window(msgspec.Struct, frozen=True):
    """What the move of the data takes."""

    schema: str
    source: str
    target: str
    tables: int
    rows: float
    bytes: float
    index_bytes: float
    sizes_from: dict[str, int]
    """How many tables have a size that was measured by the survey, given by a table, or assumed from rows and types."""
    unknown: list[str]
    """Tables whose size nobody told: they count for nothing."""
    streams: int
    check: str
    window_hours: float
    total: Span
    """Offline, from the stop of the programs to their start."""
    fits: float
    """Share of the draws in which the total fits into the window, 0 to 1."""
    phases: list[Phase]
    limit: str
    """What bounds the copy: one large table, the network, or the streams."""
    tasks: list[StreamTask]
    levers: list[Lever]
    online: Online | None
    """None where nobody said how fast the data changes."""
    assumptions: list[Assumption]


class Measured(msgspec.Struct, frozen=True):
    """Rates that were measured on a real target, in place of assumptions; None where one was not."""

    write_mb_s: Range | None = None
    rows_s: Range | None = None
    index_mb_s: Range | None = None

    def values(self) -> dict[str, Range]:
        return {name: value for name, value in msgspec.structs.asdict(self).items() if value is not None}


def estimate_window(
    sizes: Sequence[TableSize],
    settings: Settings,
    *,
    source: str = "",
    target: str = "",
    check: CheckLevel = "quick",
    change_mb_h: float | None = None,
    measured: Measured | None = None,
) -> Window:
    """Estimate the time that the move of tables takes. The same input gives the same estimate."""
    rates = measured or Measured()
    rules = msgspec.structs.replace(settings.window, **rates.values())
    model = Model(sizes, rules, CHECK_READS[check])
    offline = model.offline()
    known = [size for size in sizes if size.origin != "unknown"]
    return Window(
        schema=SCHEMA_NAME,
        source=source,
        target=target,
        tables=len(sizes),
        rows=sum(size.rows for size in known),
        bytes=sum(size.bytes for size in known),
        index_bytes=sum(size.index_bytes for size in known),
        sizes_from=dict(sorted(Counter(size.origin for size in known).items())),
        unknown=[size.id for size in sizes if size.origin == "unknown"],
        streams=rules.streams,
        check=check,
        window_hours=rules.hours,
        total=_span(offline),
        fits=round(float(np.mean(offline <= rules.hours)), 4),
        phases=[Phase(name, _span(hours)) for name, hours in model.phases()],
        limit=model.limit(),
        tasks=model.tasks(),
        levers=list(_levers(sizes, rules, check, float(np.median(offline)))),
        online=_online(model, sizes, change_mb_h) if change_mb_h is not None else None,
        assumptions=assumptions(settings, "window", rates.values()),
    )


class Model:
    """One set of draws of all rates, and the times that follow from them, in hours."""

    def __init__(
        self, sizes: Sequence[TableSize], rules: WindowRules, check_reads: float, *, late_indexes: bool = False,
        late_references: bool = False,
    ) -> None:  # fmt: skip
        self.rules = rules
        self.sizes = [size for size in sizes if size.origin != "unknown"]
        self.pieces = pieces_of(self.sizes, rules)
        self.check_reads = check_reads
        self.late_indexes, self.late_references = late_indexes, late_references
        self.mb = sum(size.bytes for size in self.sizes) / _MB
        rng = np.random.default_rng(SEED)
        names = [name for name, value in msgspec.structs.asdict(rules).items() if isinstance(value, tuple)]
        self.rates: dict[str, Draws] = {name: draw(getattr(rules, name), rng, _DRAWS) for name in names}

    def offline(self) -> "Draws":
        return np.asarray(sum(hours for _, hours in self.phases()))

    def phases(self) -> "list[tuple[str, Draws]]":
        return [
            ("stop the programs", self.rates["stop_minutes"] / 60),
            ("copy the rows", self.copy),
            ("build keys and indexes", self.indexes),
            ("validate references and checks", self.validation),
            ("compare both sides", self.checks),
            ("switch the programs", self.rates["switch_minutes"] / 60),
        ]

    @cached_property
    def copy(self) -> "Draws":
        """Return the time of the copy: that of the streams, or of all bytes through what they share, if that is longer."""
        return np.maximum(makespans(self._durations(), self.rules.streams), self._shared())

    def _durations(self) -> "Draws":
        rate = np.minimum(self.rates["read_mb_s"], self.rates["write_mb_s"])
        mb = np.array([piece.mb for piece in self.pieces]).reshape(-1, 1)
        rows = np.array([piece.rows for piece in self.pieces]).reshape(-1, 1)
        return np.asarray((mb / rate + rows / self.rates["rows_s"] + self.rates["table_seconds"]) / _SECONDS)

    def _network(self) -> "Draws":
        return self.rules.mbit / 8 * self.rates["network_share"]

    def _shared(self) -> "Draws":
        return np.asarray(self.mb / np.minimum(self._network(), self.rates["write_limit"]) / _SECONDS)

    @cached_property
    def indexes(self) -> "Draws":
        builds = [size for size in self.sizes for _ in range(1 if self.late_indexes and size.has_key else size.indexes)]
        mb = np.array([size.bytes / _MB for size in builds]).reshape(-1, 1)
        durations = (mb / self.rates["index_mb_s"] + self.rates["table_seconds"] / 4) / _SECONDS
        return makespans(durations.reshape(len(builds), _DRAWS), self.rules.streams)

    @cached_property
    def validation(self) -> "Draws":
        if self.late_references:
            return np.zeros(_DRAWS)
        rows = np.array([size.rows for size in self.sizes for _ in range(size.references)]).reshape(-1, 1)
        durations = (rows / self.rates["validate_rows_s"]) / _SECONDS
        return makespans(durations.reshape(len(rows), _DRAWS), self.rules.streams)

    @cached_property
    def checks(self) -> "Draws":
        return self.mb * self.check_reads / (self.rates["check_mb_s"] * self.rules.streams) / _SECONDS

    def limit(self) -> str:
        """Say what bounds the copy, with rates in the middle."""
        durations, shared = np.median(self._durations(), axis=1), float(np.median(self._shared()))
        if not len(durations):
            return "nothing: no table has a known size"
        if shared >= float(np.median(self.copy)) * 0.999:
            is_network = np.median(self._network()) <= np.median(self.rates["write_limit"])
            return "the network" if is_network else "what the target writes in all"
        longest = int(durations.argmax())
        if durations[longest] >= float(np.median(self.copy)) * 0.95:
            return f"the largest piece, {self.pieces[longest].table}"
        return "the streams"

    def tasks(self) -> list[StreamTask]:
        durations = np.median(self._durations(), axis=1).tolist() if self.pieces else []
        found = schedule(self.pieces, durations, self.rules.streams)
        return [
            StreamTask(task.stream, task.piece.table, task.piece.part, round(task.begin, 5), round(task.end, 5))
            for task in found
        ]


def _levers(sizes: Sequence[TableSize], rules: WindowRules, check: str, base: float) -> Iterable[Lever]:
    """Return what would shorten the time offline, the most useful first."""
    reads = CHECK_READS[check]
    twice = msgspec.structs.replace
    largest = max((size for size in sizes), key=lambda size: size.bytes, default=None)
    variants: list[tuple[str, Model]] = [
        (f"{rules.streams * 2} streams in place of {rules.streams}",
         Model(sizes, twice(rules, streams=rules.streams * 2), reads)),
        (f"a network of {rules.mbit * 2:g} Mbit/s in place of {rules.mbit:g}",
         Model(sizes, twice(rules, mbit=rules.mbit * 2), reads)),
        ("build the indexes that are not keys after the programs have started", Model(sizes, rules, reads, late_indexes=True)),
        ("validate references after the programs have started", Model(sizes, rules, reads, late_references=True)),
        ("split tables into parts of half the size", Model(sizes, twice(rules, part_mb=rules.part_mb / 2), reads)),
    ]  # fmt: skip
    if reads > CHECK_READS["quick"]:
        variants.append(("only the quick checks in the window", Model(sizes, rules, CHECK_READS["quick"])))
    if largest is not None and largest.bytes:
        halved = [
            msgspec.structs.replace(size, bytes=size.bytes * 0.2, rows=size.rows * 0.2) if size is largest else size
            for size in sizes
        ]
        variants.append(
            (f"copy the 80 % of {largest.id} that change no more before the window", Model(halved, rules, reads))
        )
    found = [Lever(what, round(base - float(np.median(model.offline())), 2)) for what, model in variants]
    return sorted((lever for lever in found if lever.hours >= 0.01), key=lambda lever: -lever.hours)


def _online(model: Model, sizes: Sequence[TableSize], change_mb_h: float) -> Online:
    copy = model.copy + model.indexes + model.validation
    apply = model.rates["apply_mb_h"]
    can = apply > change_mb_h
    with np.errstate(divide="ignore", invalid="ignore"):
        catch_up = np.where(can, change_mb_h * copy / np.maximum(apply - change_mb_h, 1e-9), np.inf)
    never = 1 - float(np.mean(can))
    quick = model.checks / model.check_reads * CHECK_READS["quick"] if model.check_reads else model.checks
    downtime = (model.rates["stop_minutes"] + model.rates["lag_minutes"] + model.rates["switch_minutes"]) / 60 + quick
    without_key = [size.id for size in sizes if not size.has_key]
    return Online(
        change_mb_h,
        _span(copy),
        None if never > _NEVER_SHARE else _span(catch_up),
        round(never, 4),
        _span(downtime),
        without_key,
    )


def duration(hours: float | None) -> str:
    """Write a length of time for people."""
    if hours is None:
        return "never"
    seconds = hours * _SECONDS
    if hours >= 48:
        return f"{hours / 24:.1f} days"
    if hours >= 1:
        return f"{hours:.1f} h"
    return f"{seconds / 60:.0f} min" if seconds >= 60 else f"{seconds:.0f} s"


def _span(hours: Any) -> Span:
    p50, p80 = np.percentile(hours, [50, 80], method="lower")
    return Span(*(round(float(value), 3) if math.isfinite(value) else None for value in (p50, p80)))
