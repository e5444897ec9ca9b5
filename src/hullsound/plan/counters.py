"""What engines count: cumulative counters into rates between two samples, gauges as they are."""

from collections.abc import Mapping
from typing import Final, NamedTuple

_MB: Final = 1_000_000
_GB: Final = 1_000_000_000
COUNTED: Final[dict[str, tuple[str, float]]] = {
    "read ios": ("read iops", 1.0),
    "write ios": ("write iops", 1.0),
    "read bytes": ("read mb/s", 1 / _MB),
    "write bytes": ("write mb/s", 1 / _MB),
    "log bytes": ("log mb/s", 1 / _MB),
    "cpu seconds": ("cpu cores", 1.0),
}
"""Counters that only grow: the rate that they give, and its factor."""
GAUGES: Final[dict[str, tuple[str, float]]] = {
    "busy sessions": ("cpu cores", 1.0),
    "memory bytes": ("memory gb", 1 / 2**30),
    "connections": ("connections", 1.0),
    "storage bytes": ("storage gb", 1 / _GB),
}
"""What is told as it is at one time. Sessions that run without waiting stand for cores, where the engine tells no CPU time."""


class Sample(NamedTuple):
    """What an engine said at one time, in seconds, by the names of its meter query."""

    at: float
    values: Mapping[str, float]


def rates_between(before: Sample, after: Sample) -> dict[str, float]:
    """Return the dimensions of load between two samples.

    A counter that went backwards began anew, as after a restart: it has no rate. Raises ValueError where time does not pass.
    """
    seconds = after.at - before.at
    if seconds <= 0:
        raise ValueError("the clock went backwards")
    rates: dict[str, float] = {}
    for name, (dimension, factor) in GAUGES.items():
        if name in after.values:
            rates[dimension] = after.values[name] * factor
    for name, (dimension, factor) in COUNTED.items():
        grown = after.values.get(name, -1.0) - before.values.get(name, 0.0)
        if name in before.values and name in after.values and grown >= 0:
            rates[dimension] = grown / seconds * factor
    return rates
