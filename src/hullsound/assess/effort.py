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
DRAWS: Final = 10_000
SEED: Final = 20_240_131


def estimate_objects(objects: list[Judged]) -> None:
    """Set the effort of each object: review by line, plus its findings with a discount for repeats."""
    for each in objects:
        total = [rate * each.object.lines for rate in REVIEW_PER_LINE[each.outcome]]
        for finding, share in _with_shares(each.findings):
            for i, minutes in enumerate(finding.effort_minutes):
                total[i] += minutes * share
        each.effort = (round(total[0], 1), round(total[1], 1), round(total[2], 1))


def _with_shares(findings: list[Finding]) -> list[tuple[Finding, float]]:
    seen: dict[str, float] = {}
    shares: list[tuple[Finding, float]] = []
    for finding in findings:
        share = seen.get(finding.construct, 1.0)
        seen[finding.construct] = max(share * REPEAT_FACTOR, LEAST_SHARE)
        shares.append((finding, share))
    return shares


def estimate_total(objects: list[Judged], general: list[Finding]) -> tuple[float, float]:
    """Return the hours that suffice in 50 and in 80 of 100 cases.

    Monte Carlo over triangular distributions, one for each construct over the whole source and one for the review of
    each outcome: whoever misjudges a construct misjudges it everywhere, so its places are not independent draws. A
    factor for the team is common to all, because a team that is slow at one thing tends to be slow at others.
    """
    import numpy as np

    groups: dict[str, list[float]] = {}
    for each in objects:
        for finding, share in _with_shares(each.findings):
            _add(groups, finding.construct, finding.effort_minutes, share)
        _add(groups, f"review {each.outcome}", REVIEW_PER_LINE[each.outcome], each.object.lines)
    for finding, share in _with_shares(general):
        _add(groups, finding.construct, finding.effort_minutes, share)
    spread = np.array([group for _, group in sorted(groups.items()) if group[2] > group[0]]).reshape(-1, 3)
    fixed = sum(group[0] for group in groups.values() if group[2] <= group[0])
    if not len(spread):
        return round(fixed / 60, 1), round(fixed / 60, 1)
    rng = np.random.default_rng(SEED)
    totals = rng.triangular(spread[:, 0], spread[:, 1], spread[:, 2], size=(DRAWS, len(spread))).sum(axis=1) + fixed
    totals *= rng.triangular(*TEAM_FACTOR, size=DRAWS)
    p50, p80 = np.percentile(totals, [50, 80]) / 60
    return round(float(p50), 1), round(float(p80), 1)


def _add(groups: dict[str, list[float]], key: str, minutes: Minutes, share: float) -> None:
    group = groups.setdefault(key, [0.0, 0.0, 0.0])
    for i, each in enumerate(minutes):
        group[i] += each * share
