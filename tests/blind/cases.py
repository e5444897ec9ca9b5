"""Labelled cases: statements with what must be found in them, written without a look at the rules."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from hullsound import steps
from hullsound.assess.model import Finding
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

_HEADER = re.compile(r"^### (\w+)(?::([\w.]+))? > (\S+) : (.*)$", re.MULTILINE)
_ACCEPTED = {"any": ("note", "warning", "blocker"), "loud": ("warning", "blocker")}
_OWN_REMARKS = ("survey.unresolved", "survey.not-created")
"""Remarks that only say that a case stands alone, without the schema it belongs to."""


@dataclass(frozen=True)
class Case:
    """One labelled statement; `labels` are (severity, line), none where nothing worse than a note may be said.

    A severity is one of the document, `loud` for warning or blocker, or `any`.
    """

    file: str
    line: int
    source: str
    version: str
    """Version of the source; '' where none is told."""
    target: str
    labels: tuple[tuple[str, int], ...]
    text: str


def read_cases() -> Iterator[Case]:
    """Yield the cases of every file beside this one."""
    for path in sorted(Path(__file__).parent.glob("*.txt")):
        text = path.read_text(encoding="utf-8")
        headers = list(_HEADER.finditer(text))
        for here, following in zip(headers, [*headers[1:], None], strict=True):
            end = following.start() if following else len(text)
            labels = tuple(
                (severity, int(line))
                for severity, _, line in (label.strip().partition("@") for label in here[4].split(","))
                if severity != "quiet"
            )
            body = text[here.end() + 1 : end].rstrip("\n")
            line = text.count("\n", 0, here.start()) + 1
            yield Case(path.name, line, here[1], here[2] or "", here[3], labels, body)


def is_met(label: tuple[str, int], findings: list[Finding]) -> bool:
    """Whether what a label asks for is found at its line."""
    severity, line = label
    accepted = _ACCEPTED.get(severity, (severity,))
    return any(finding.line == line and finding.severity in accepted for finding in findings)


def find(case: Case) -> list[Finding]:
    """Return the findings of a case, but for remarks on names that its missing schema would explain."""
    text = end_statement(case.text, case.source)
    shift = 1 if text.startswith(("DELIMITER $$", "--#SET")) else 0
    catalog = steps.survey_texts([ScriptFile("case.sql", text, "")], case.source, case.version)
    assessment = steps.assess_catalog(catalog, case.target).assessment
    findings = [f for each in assessment.objects for f in each.findings] + assessment.general
    return [
        Finding(*(getattr(f, name) if name != "line" else f.line - shift for name in f.__struct_fields__))
        for f in findings
        if f.construct not in _OWN_REMARKS
    ]
