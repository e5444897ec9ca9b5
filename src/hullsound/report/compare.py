"""Targets side by side for one source: outcomes, readiness, effort, and what only one of them blocks."""

from collections import Counter
from collections.abc import Sequence

import msgspec

from hullsound.assess.model import READY, Assessment, Finding, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import Severity

_ORDER = {severity: place for place, severity in enumerate(Severity)}


class Side(msgspec.Struct, frozen=True):
    """One target's result."""

    target: str
    by_outcome: dict[str, int]
    by_severity: dict[str, int]
    ready_objects: float
    """Share of objects with outcome as-is or drafted, 0 to 1."""
    ready_lines: float
    p50_hours: float
    p80_hours: float
    only_blockers: list[str]
    """Constructs that block on this target and on no other."""


class ConstructRow(msgspec.Struct, frozen=True):
    """One construct on every target."""

    construct: str
    title: str
    places: int
    ways: list[str]
    """The way on each target, in the order of the sides; '' where nothing is said."""


class Comparison(msgspec.Struct, frozen=True):
    source: str
    objects: int
    sides: list[Side]
    constructs: list[ConstructRow]
    """Those that at least one target says more than a note to, the worst first."""


def compare(catalog: Catalog, assessments: Sequence[Assessment]) -> Comparison:
    """Put the assessments of one catalogue beside each other."""
    findings = [_findings(each) for each in assessments]
    worst = [_worst(found) for found in findings]
    blocking = [{key for key, finding in each.items() if finding.severity is Severity.BLOCKER} for each in worst]
    sides = [
        _side(each, found, sorted(blocked.difference(*(b for b in blocking if b is not blocked))))
        for each, found, blocked in zip(assessments, findings, blocking, strict=True)
    ]
    return Comparison(catalog.name, len(catalog.objects), sides, _rows(catalog, findings, worst))


def _findings(assessment: Assessment) -> list[Finding]:
    return [*assessment.general, *(f for each in assessment.objects for f in each.findings)]


def _worst(findings: list[Finding]) -> dict[str, Finding]:
    """Return the worst finding of each construct."""
    worst: dict[str, Finding] = {}
    for finding in findings:
        known = worst.get(finding.construct)
        if known is None or _ORDER[finding.severity] < _ORDER[known.severity]:
            worst[finding.construct] = finding
    return worst


def _side(assessment: Assessment, findings: list[Finding], only: list[str]) -> Side:
    outcomes = Counter(each.outcome for each in assessment.objects)
    severities = Counter(finding.severity for finding in findings)
    ready = [each.object.lines for each in assessment.objects if each.outcome in READY]
    lines = sum(each.object.lines for each in assessment.objects)
    return Side(
        str(assessment.target),
        {outcome.value: outcomes[outcome] for outcome in Outcome},
        {severity.value: severities[severity] for severity in Severity},
        round(len(ready) / max(len(assessment.objects), 1), 4),
        round(sum(ready) / max(lines, 1), 4),
        *assessment.effort.percentiles(),
        only,
    )


def _rows(
    catalog: Catalog, findings: Sequence[list[Finding]], worst: Sequence[dict[str, Finding]]
) -> list[ConstructRow]:
    titles = {key: row.title for key, row in load_general().items()}
    titles |= {key: construct.title for key, construct in load_constructs(catalog.engine).items()}
    counts = [Counter(finding.construct for finding in found) for found in findings]
    loud = {key for each in worst for key, finding in each.items() if finding.severity is not Severity.NOTE}
    rows = [
        ConstructRow(
            key,
            titles.get(key, key),
            max(count[key] for count in counts),
            [each[key].way.value if key in each else "" for each in worst],
        )
        for key in loud
    ]

    def place(row: ConstructRow) -> tuple[int, int, str]:
        severity = min(_ORDER[each[row.construct].severity] for each in worst if row.construct in each)
        return severity, -row.places, row.construct

    return sorted(rows, key=place)
