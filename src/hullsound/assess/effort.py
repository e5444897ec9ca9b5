"""How long it takes: minutes per object, and hours for the whole with a range."""

from typing import Final

from .model import Finding, Judged, Minutes, Outcome

REVIEW_PER_LINE: Final[dict[Outcome, Minutes]] = {
    Outcome.AS_IS: (0.0, 0.0, 0.01),
    Outcome.DRAFTED: (0.01, 0.03, 0.08),
    Outcome.CONFIRM: (0.03, 0.08, 0.2),
    Outcome.REWRITE: (0.05, 0.12, 0.3),
    Outcome.BLOCKED: (0.05, 0.15, 0.4),
}
"""Minutes to read and test one line of an object, beside its findings. An assumption: set your own rates by experience."""
REPEAT_FACTOR: Final = 0.5
"""Each further place of the same construct in one object costs this share of the one before, down to LEAST_SHARE."""
LEAST_SHARE: Final = 0.1
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


def estimate_objects(objects: list[Judged], general: list[Finding]) -> Total:
    """Set the effort of each object: review by line, plus its findings with a discount for repeats. Return the total."""
    total = Total()
    for each in objects:
        rates, lines = REVIEW_PER_LINE[each.outcome], each.object.lines
        total.add(f"review {each.outcome}", rates, lines)
        low, likely, high = _add_findings(total, each.findings)
        each.effort = (
            round(low + rates[0] * lines, 1), round(likely + rates[1] * lines, 1), round(high + rates[2] * lines, 1)
        )  # fmt: skip
    _add_findings(total, general)
    return total


def _add_findings(total: Total, findings: list[Finding]) -> Minutes:
    """Add findings to the total, each repeat of a construct at a discount; return their sum."""
    shares: dict[str, float] = {}
    low = likely = high = 0.0
    groups = total.groups
    for finding in findings:
        key = finding.construct
        one, two, three = finding.effort_minutes
        share = shares.get(key, 1.0)
        shares[key] = share * REPEAT_FACTOR if share > LEAST_SHARE / REPEAT_FACTOR else LEAST_SHARE
        one, two, three = one * share, two * share, three * share
        low += one
        likely += two
        high += three
        group = groups.get(key)
        if group is None:
            groups[key] = [one, two, three]
        else:
            group[0] += one
            group[1] += two
            group[2] += three
    return low, likely, high
