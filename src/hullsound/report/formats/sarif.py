"""Findings as SARIF 2.1.0 (OASIS), which code hosts and editors show at their lines.

Rules are constructs, with their help; results keep their fingerprints when lines move, so that a finding is the same one in
the next run. What hullsound.toml accepts is suppressed with its reason.
"""

import json
from typing import TYPE_CHECKING, Any, Final
from urllib.parse import quote

from hullsound.assess.model import Finding
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import Severity
from hullsound.report.document import Document
from hullsound.report.fingerprints import FINGERPRINT, fingerprints
from hullsound.visible import visible

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning

_SCHEMA: Final = "https://json.schemastore.org/sarif-2.1.0.json"
_LEVELS: Final = {Severity.BLOCKER: "error", Severity.WARNING: "warning", Severity.NOTE: "note"}


def write(case: Reportable, planning: "Planning | None") -> Files:
    log = sarif_log(case.document)
    return {"findings.sarif": (json.dumps(log, indent=1, ensure_ascii=False) + "\n").encode()}


def sarif_log(document: Document) -> dict[str, Any]:
    """Return the findings of an assessment as a SARIF log."""
    constructs = sorted({finding.construct for finding in document.findings})
    place = {construct: number for number, construct in enumerate(constructs)}
    firsts = {finding.construct: finding for finding in reversed(document.findings)}
    target = document.target
    results = [
        _result(finding, place[finding.construct], mark)
        for finding, mark in zip(document.findings, fingerprints(document.findings), strict=True)
    ]
    driver = {
        "name": "Hull Sound",
        "version": document.tool.version,
        "semanticVersion": document.tool.version,
        "rules": [_rule(construct, firsts[construct], document.source.engine) for construct in constructs],
    }
    automation = {"id": f"{visible(document.source.name)}/{target.engine}:{target.version}@{target.hosting}/"}
    return {
        "$schema": _SCHEMA,
        "version": "2.1.0",
        "runs": [{
            "tool": {"driver": driver},
            "automationDetails": automation,
            "columnKind": "unicodeCodePoints",
            "results": results,
        }],
    }  # fmt: skip


def _rule(construct: str, first: Finding, engine: str) -> dict[str, Any]:
    known = load_constructs(engine).get(construct) or load_general().get(construct)
    title = known.title if known is not None else construct
    meaning = known.meaning if known is not None and known.meaning else title
    return {
        "id": construct,
        "name": "".join(part.capitalize() for part in construct.replace(".", "-").split("-")),
        "shortDescription": {"text": title},
        "fullDescription": {"text": meaning},
        "help": {"text": f"{meaning} {first.remedy}".strip()},
        "defaultConfiguration": {"level": _LEVELS[first.severity]},
    }


def _result(finding: Finding, rule: int, mark: str) -> dict[str, Any]:
    result: dict[str, Any] = {
        "ruleId": finding.construct,
        "ruleIndex": rule,
        "level": _LEVELS[finding.severity],
        "message": {
            "text": visible(" ".join(part for part in (finding.message, finding.remedy) if part)) or finding.construct
        },
        "locations": [_location(finding)],
        "partialFingerprints": {FINGERPRINT: mark},
        "properties": {"way": finding.way.value, "minutes": list(finding.effort_minutes)},
    }
    if finding.accepted is not None:
        reason = f"{finding.accepted.reason} ({finding.accepted.owner})"
        result["suppressions"] = [{"kind": "external", "justification": visible(reason)}]
    return result


def _location(finding: Finding) -> dict[str, Any]:
    logical = {"fullyQualifiedName": visible(finding.object), "kind": "object"}
    location: dict[str, Any] = {"logicalLocations": [logical]}
    if finding.line > 0 and finding.file:
        region: dict[str, Any] = {"startLine": finding.line, "startColumn": max(finding.column, 1)}
        if finding.end_line >= finding.line:
            region |= {"endLine": finding.end_line, "endColumn": max(finding.end_column, 1)}
            if finding.end_line == finding.line:
                region["endColumn"] = max(finding.end_column, region["startColumn"])
        if finding.excerpt:
            region["snippet"] = {"text": visible(finding.excerpt)}
        uri = quote(finding.file.replace("\\", "/"), safe="/-._~")
        location["physicalLocation"] = {"artifactLocation": {"uri": uri}, "region": region}
    return location
