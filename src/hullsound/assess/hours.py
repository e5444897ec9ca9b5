"""How long the whole takes: minutes by what they belong to, and the hours that suffice."""

from typing import Final

Minutes = tuple[float, float, float]
"""Low, likely and high."""
TEAM_FACTOR: Final = (0.7, 1.0, 1.7)
"""Low, likely and high of how fast the team works against the minutes of the knowledge. An assumption."""
DRAWS: Final = 4_000
SEED: Final = 20_240_131


class Total:
    """Minutes of the whole by what they belong to: one group for each construct, one for the review of each outcome."""

    def __init__(self) -> None:
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

    def percentiles(self) -> tuple[float, float]:
        """Return the hours that suffice in 50 and in 80 of 100 cases.

        Monte Carlo over triangular distributions, one for each group: whoever misjudges a construct misjudges it
        everywhere, so its places are not independent draws. A factor for the team is common to all, because a team that
        is slow at one thing tends to be slow at others.
        """
        import numpy as np

        groups = self.groups
        spread = np.array([group for _, group in sorted(groups.items()) if group[2] > group[0]]).reshape(-1, 3)
        fixed = sum(group[0] for group in groups.values() if group[2] <= group[0])
        if not len(spread):
            return round(fixed / 60, 1), round(fixed / 60, 1)
        rng = np.random.default_rng(SEED)
        totals = rng.triangular(spread[:, 0], spread[:, 1], spread[:, 2], size=(DRAWS, len(spread))).sum(axis=1) + fixed
        totals *= rng.triangular(*TEAM_FACTOR, size=DRAWS)
        p50, p80 = np.percentile(totals, [50, 80]) / 60
        return round(float(p50), 1), round(float(p80), 1)
