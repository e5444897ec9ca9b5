"""How long each object takes: minutes for its findings and to review it."""

from typing import Final

from .hours import Minutes, Total
from .model import Finding, Judged, Outcome

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
