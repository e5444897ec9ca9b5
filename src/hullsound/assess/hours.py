"""How long the whole takes: minutes by what they belong to, the hours that suffice, and how these come about."""

import math
from typing import TYPE_CHECKING, Final, NamedTuple

from hullsound.ranges import SEED, Range, mean, percentiles, variance
from hullsound.settings import EffortRules

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

Minutes = Range
"""Low, likely and high."""
DRAWS: Final = 4_000


class HoursPart(NamedTuple):
    """One step from the likely minutes to the hours of the whole."""

    what: str
    hours: float


class Total:
    """Minutes of the whole by what they belong to: one group for each construct, one for the review of each outcome.

    Hours are drawn from lognormal factors with mean 1, one for each group, with the spread of the group's triangular
    distribution: whoever misjudges a construct misjudges it everywhere, so its places are not independent draws. A factor for
    the team is common to all, because a team that is slow at one thing tends to be slow at others.
    """

    def __init__(self, rules: EffortRules | None = None) -> None:
        self.rules = rules or EffortRules()
        self.groups: dict[str, list[float]] = {}

    def add(self, key: str, minutes: Minutes, share: float) -> None:
        """Add low, likely and high minutes to a group."""
        group = self.groups.get(key)
        if group is None:
            group = self.groups[key] = [0.0, 0.0, 0.0]
        low, likely, high = minutes
        group[0] += low * share
        group[1] += likely * share
        group[2] += high * share

    def factors(self) -> "dict[str, NDArray[np.float64]]":
        """Return draws of how long each group takes against its mean minutes, the team's factor included."""
        import numpy as np

        rng = np.random.default_rng(SEED)
        team = mean(self.rules.team) * lognormal(rng, spread_of(self.rules.team))
        return {
            key: team * lognormal(rng, spread_of((low, likely, high)))
            for key, (low, likely, high) in sorted(self.groups.items())
        }

    def percentiles(self) -> tuple[float, float]:
        """Return the hours that suffice in 50 and in 80 of 100 cases."""
        groups = self.groups
        if not groups:
            return 0.0, 0.0
        total = sum(draws * (sum(groups[key]) / 3) for key, draws in self.factors().items())
        p50, p80 = percentiles(total)
        return round(p50 / 60, 1), round(p80 / 60, 1)

    def mean_minutes(self) -> float:
        """Return the mean of all minutes, without the team's factor."""
        return sum(sum(group) for group in self.groups.values()) / 3

    def parts(self, objects_likely: float) -> list[HoursPart]:
        """Return how the P50 hours come about; the hours of the parts add up to them.

        `objects_likely` are the likely minutes of all objects; the rest of the likely minutes are those of server and database.
        """
        likely = sum(group[1] for group in self.groups.values())
        average = self.mean_minutes()
        with_team = average * mean(self.rules.team)
        p50, _ = self.percentiles()
        return [
            HoursPart("likely minutes of all objects", objects_likely / 60),
            HoursPart("likely minutes of findings at the server and the database", (likely - objects_likely) / 60),
            HoursPart("high estimates reach further up than low ones reach down", (average - likely) / 60),
            HoursPart("a team is slowed down more often than it is quicker (effort.team)", (with_team - average) / 60),
            HoursPart("half of all cases stay below P50, which is not the mean", p50 - with_team / 60),
        ]


def spread_of(minutes: Minutes) -> float:
    """Return the standard deviation, on a log scale, of the lognormal distribution with a triangular one's mean and variance.

    sigma² = ln(1 + variance / mean²): moments of the lognormal distribution.
    """
    middle = mean(minutes)
    return math.sqrt(math.log1p(variance(minutes) / middle**2)) if middle else 0.0


def lognormal(rng: "np.random.Generator", spread: float, count: int = DRAWS) -> "NDArray[np.float64]":
    """Return draws of a lognormal factor with mean 1."""
    import numpy as np

    return np.exp(spread * rng.standard_normal(count) - spread**2 / 2)
