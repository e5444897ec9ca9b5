"""Objects as JUnit XML: one test case for each, failed by its blockers, so that build servers show them."""

from typing import TYPE_CHECKING
from xml.etree import ElementTree

from hullsound.assess.model import Finding
from hullsound.knowledge.model import Severity
from hullsound.report.document import Document
from hullsound.visible import visible

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write(case: Reportable, planning: "Planning | None") -> Files:
    return {"assessment.xml": junit_xml(case.document).encode()}


def junit_xml(document: Document) -> str:
    """Return the objects of an assessment as JUnit XML: blockers that nobody accepted are failures, warnings their output."""
    findings: dict[str, list[Finding]] = {}
    for finding in document.findings:
        findings.setdefault(finding.object, []).append(finding)
    entries = [(entry.id, entry.type) for entry in document.objects]
    entries += [(name, "general") for name in ("server", "database") if name in findings]
    target = f"{document.target.engine}:{document.target.version}"
    suite = ElementTree.Element(
        "testsuite", name=visible(f"{document.source.name} to {target}"), tests=str(len(entries))
    )
    failed = 0
    for name, kind in entries:
        own = [finding for finding in findings.get(name, []) if finding.accepted is None]
        case = ElementTree.SubElement(suite, "testcase", classname=visible(kind), name=visible(name))
        blockers = [finding for finding in own if finding.severity is Severity.BLOCKER]
        if blockers:
            failed += 1
            failure = ElementTree.SubElement(
                case, "failure", message=visible(blockers[0].message), type=blockers[0].construct
            )
            failure.text = visible("\n".join(_line(each) for each in blockers))
        warnings = [finding for finding in own if finding.severity is Severity.WARNING]
        if warnings:
            ElementTree.SubElement(case, "system-out").text = visible("\n".join(_line(each) for each in warnings))
    suite.set("failures", str(failed))
    suite.set("errors", "0")
    ElementTree.indent(suite)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(suite, encoding="unicode") + "\n"


def _line(finding: Finding) -> str:
    place = f"{finding.file}:{finding.line}:{finding.column}: " if finding.line else ""
    return f"{place}{finding.construct}: {finding.message} {finding.remedy}"
