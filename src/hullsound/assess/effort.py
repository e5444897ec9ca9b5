"""How long each object takes: minutes for its findings and to review it."""

from collections.abc import Iterable
from typing import Final

from hullsound.knowledge.model import Way
from hullsound.settings import EffortRules

from .hours import Minutes, Total
from .model import Finding, Judged, Outcome

REVIEW_PER_LINE: Final[dict[Outcome, Minutes]] = {
    Outcome.AS_IS: (0.0, 0.0, 0.01),
    Outcome.DRAFTED: (0.01, 0.03, 0.08),
    Outcome.CONFIRM: (0.03, 0.08, 0.2),
    Outcome.REWRITE: (0.05, 0.12, 0.3),
    Outcome.BLOCKED: (0.05, 0.15, 0.4),
}
"""Minutes to read and test one line of an object, beside its findings. An assumption; [effort.review] sets others."""
LEAST_SHARE: Final = 0.1
"""What each further place of a construct in one object costs at least, as a share of the first."""


def estimate_objects(objects: list[Judged], general: list[Finding], rules: EffortRules) -> Total:
    """Set the effort of each object: review by line, plus its findings with a discount for repeats. Return the total."""
    total = Total(rules)
    for each in objects:
        each.effort = _add_object(total, each)
    _add_findings(total, general)
    return total


def estimate_object(each: Judged, rules: EffortRules) -> Total:
    """Return the minutes of one object by what they belong to."""
    total = Total(rules)
    _add_object(total, each)
    return total


def estimate_general(general: list[Finding], rules: EffortRules) -> Total:
    """Return the minutes of findings at the server and the database by what they belong to."""
    total = Total(rules)
    _add_findings(total, general)
    return total


def later_minutes(findings: Iterable[Finding]) -> float:
    """Return the likely minutes of what is better changed after the move, which are no part of it."""
    return sum(finding.effort_minutes[1] for finding in findings if finding.way is Way.LATER)


def _add_object(total: Total, each: Judged) -> Minutes:
    outcome, lines = each.outcome, each.object.lines
    rates = total.rules.review.get(outcome.value) or REVIEW_PER_LINE[outcome]
    total.add(f"review {outcome}", rates, lines)
    low, likely, high = _add_findings(total, each.findings)
    return round(low + rates[0] * lines, 1), round(likely + rates[1] * lines, 1), round(high + rates[2] * lines, 1)


def _add_findings(total: Total, findings: list[Finding]) -> Minutes:
    """Add findings to the total, each repeat of a construct at a discount; return their sum."""
    shares: dict[str, float] = {}
    low = likely = high = 0.0
    groups = total.groups
    own, repeat = total.rules.minutes, total.rules.repeat
    for finding in findings:
        if finding.way is Way.LATER:
            continue
        key = finding.construct
        one, two, three = own.get(key) or finding.effort_minutes
        share = shares.get(key, 1.0)
        shares[key] = max(share * repeat, min(LEAST_SHARE, repeat))
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
