"""What is different between two assessments: findings that went, came or moved, and objects whose outcome changed."""

from collections import defaultdict
from collections.abc import Iterable

import msgspec

from hullsound.assess.model import Finding, Outcome

from .document import Document

_ORDER = {outcome: place for place, outcome in enumerate(Outcome)}
_Key = tuple[str, str, str]


class Moved(msgspec.Struct, frozen=True):
    """A finding at another place, or of another severity, than before."""

    before: Finding
    after: Finding


class OutcomeChange(msgspec.Struct, frozen=True):
    """An object whose outcome changed; '' where the object was or is not there."""

    object: str
    before: str
    after: str
    is_better: bool


class Changes(msgspec.Struct, frozen=True):
    before: str
    """Time and target of the earlier assessment."""
    after: str
    came: list[Finding]
    went: list[Finding]
    moved: list[Moved]
    outcomes: list[OutcomeChange]
    effort_before: tuple[float, float]
    """P50 and P80 in hours."""
    effort_after: tuple[float, float]


def find_changes(before: Document, after: Document, before_at: str = "", after_at: str = "") -> Changes:
    """Compare two assessment documents; `before_at` and `after_at` are the times when they were made.

    Findings are paired by construct, object and source text, in the order of their places; what is left over went or
    came, and a pair that differs in place or severity has moved.
    """
    came: list[Finding] = []
    went: list[Finding] = []
    moved: list[Moved] = []
    old, new = _group(before.findings), _group(after.findings)
    for key in sorted({**old, **new}):
        here, there = old.get(key, []), new.get(key, [])
        for earlier, later in zip(here, there, strict=False):
            if (earlier.file, earlier.line, earlier.severity) != (later.file, later.line, later.severity):
                moved.append(Moved(earlier, later))
        went += here[len(there) :]
        came += there[len(here) :]
    return Changes(
        _label(before, before_at), _label(after, after_at), came, went, moved, _outcomes(before, after),
        (before.summary.effort_hours.p50, before.summary.effort_hours.p80),
        (after.summary.effort_hours.p50, after.summary.effort_hours.p80),
    )  # fmt: skip


def _group(findings: Iterable[Finding]) -> dict[_Key, list[Finding]]:
    groups: dict[_Key, list[Finding]] = defaultdict(list)
    for finding in findings:
        groups[finding.construct, finding.object, " ".join(finding.excerpt.split())].append(finding)
    for group in groups.values():
        group.sort(key=lambda f: (f.file, f.line, f.column))
    return groups


def _label(document: Document, made_at: str) -> str:
    target = document.target
    hosting = "" if target.hosting == "own" else f"@{target.hosting}"
    made = f", judged {made_at}" if made_at else ""
    chosen = target.name or f"{target.engine}:{target.version}{hosting}"
    return f"{document.source.name}, surveyed {document.source.surveyed_at}, to {chosen}{made}"


def _outcomes(before: Document, after: Document) -> list[OutcomeChange]:
    old = {entry.id: entry.outcome for entry in before.objects}
    new = {entry.id: entry.outcome for entry in after.objects}
    changes = []
    for key in sorted({**old, **new}):
        was, now = old.get(key), new.get(key)
        if was is not now:
            is_better = was is not None and (now is None or _ORDER[now] < _ORDER[was])
            changes.append(OutcomeChange(key, was.value if was else "", now.value if now else "", is_better))
    return changes
