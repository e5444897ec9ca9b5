"""The assessment document: what every report and every other system reads."""

import re
from bisect import bisect_right
from collections import Counter
from collections.abc import Iterable, Sequence

import msgspec

from hullsound.assess.effort import later_minutes
from hullsound.assess.hours import Minutes
from hullsound.assess.model import READY, Assessment, Evidence, Finding, Judged, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import shown
from hullsound.knowledge.engine_model import version_text
from hullsound.knowledge.model import Severity, Way
from hullsound.ranges import mean
from hullsound.timing import step

from .drafted import Drafted
from .types import TypeUse, map_types

SCHEMA_NAME = "hullsound.assessment/1"


class Tool(msgspec.Struct, frozen=True):
    version: str
    """Version of Hull Sound."""


class Source(msgspec.Struct, frozen=True):
    engine: str
    version: str
    """As given; empty if not."""
    name: str
    surveyed_at: str
    """Time of the survey, in UTC; empty for a probe."""


class TargetFacts(msgspec.Struct, frozen=True, omit_defaults=True):
    engine: str
    version: str
    hosting: str
    name: str = ""
    """Name of a target of the user's own; empty for a shipped one."""


class Coverage(msgspec.Struct, frozen=True):
    """How much of the source was read in full."""

    files: int
    statements: int
    unread_statements: int
    """Statements of which any part could not be read."""
    lines: int
    unread_lines: int


class Readiness(msgspec.Struct, frozen=True):
    """Shares, from 0 to 1, with outcome as-is or drafted."""

    objects: float
    lines: float


class Effort(msgspec.Struct, frozen=True):
    p50: float
    """Hours that suffice in 50 of 100 cases."""
    p80: float
    """Hours that suffice in 80 of 100 cases."""


class HoursPart(msgspec.Struct, frozen=True):
    what: str
    """Why these hours are added, or taken off where they are below 0."""
    hours: float


class TypeCount(msgspec.Struct, frozen=True):
    objects: int
    lines: int
    ready: int
    """Objects with outcome as-is or drafted."""


class Later(msgspec.Struct, frozen=True):
    """What works on the target and is better changed after the move."""

    places: int = 0
    hours: float = 0.0
    """Likely hours, which are no part of the move's."""


class Summary(msgspec.Struct, frozen=True):
    objects: int
    by_outcome: dict[str, int]
    by_severity: dict[str, int]
    by_type: dict[str, TypeCount]
    readiness: Readiness
    effort_hours: Effort
    effort_parts: list[HoursPart]
    """How the P50 hours come about: they are the sum of these."""
    general_hours: float
    """Share of server and database in the P50 hours."""
    later: Later = Later()


class Proof(msgspec.Struct, frozen=True):
    """What a trial on the real engine found."""

    engine: str
    """Name and version of the engine; empty without a trial."""
    accepted: int
    refused: int
    cases: int
    """Cases that were run on the source's engine and on the drafts."""
    alike: int
    """Cases in which both did the same."""


class ObjectEntry(msgspec.Struct, frozen=True):
    id: str
    type: str
    schema: str
    name: str
    outcome: Outcome
    lines: int
    file: str
    line: int
    dependents: int
    """Objects that use this one, directly or through others."""
    effort_minutes: Minutes
    """Low, likely and high, for a team that needs what the knowledge says."""
    hours: float
    """Its share of the P50 hours of the whole: with the share of server and database, the shares of all objects add up to them."""
    rank: int
    """Place in the order to work in, from 1."""
    reason: str
    """Why it has this rank."""
    proven: bool
    """Whether a trial on the real engine accepted its draft."""
    cases: int
    """Cases run on both engines that tell of this object."""
    alike: int
    """Cases in which its draft behaved as the source."""


class TextEdit(msgspec.Struct, frozen=True):
    """A place of the source that a draft writes in another way."""

    object: str
    file: str
    line: int
    """Counted from 1, as are columns."""
    column: int
    """On its first line, an object begins in column 1."""
    end_line: int
    end_column: int
    """The place behind the last character."""
    new: str
    """The text in its stead."""
    construct: str
    """Id of the construct that asks for it; empty where only the form of the statement does."""


class Document(msgspec.Struct, frozen=True):
    """An assessment of one source against one target."""

    schema: str
    """Always hullsound.assessment/1."""
    tool: Tool
    source: Source
    target: TargetFacts
    coverage: Coverage
    summary: Summary
    trial: Proof
    objects: list[ObjectEntry]
    """In the order to work in."""
    findings: list[Finding]
    """Worst objects first, then by file and line."""
    types: list[TypeUse] = []
    """What each type of a column becomes, and who chose it; the most used first. Only reports hold it, as they do edits: the
    documents that hull files keep do not."""
    edits: list[TextEdit] = []
    """What promised drafts change in the source's own text, in the order of the objects. Tables and what belongs to them are
    written from the catalogue and have none."""


@step("make the document")
def make_document(catalog: Catalog, assessment: Assessment, tool_version: str) -> Document:
    """Put a judged catalogue into the form that is written out."""
    evidence = assessment.evidence
    p50, p80 = assessment.effort.percentiles()
    share = p50 / (assessment.effort.mean_minutes() or 1.0)
    objects = [_entry(each, evidence, share) for each in assessment.objects]
    cases = [case for told in evidence.cases.values() for case in told]
    findings = assessment.findings()
    target = assessment.target
    return Document(
        schema=SCHEMA_NAME,
        tool=Tool(tool_version),
        source=Source(catalog.engine, catalog.version, catalog.name, catalog.surveyed_at),
        target=TargetFacts(target.engine, version_text(target.version), target.hosting, target.name),
        coverage=_coverage(catalog),
        summary=_summary(assessment, findings, Effort(p50, p80)),
        trial=Proof(
            evidence.engine,
            len(evidence.accepted),
            len(evidence.refused),
            len(cases),
            sum(case.is_equal for case in cases),
        ),
        objects=objects,
        findings=findings,
    )


def with_choices(document: Document, catalog: Catalog, assessment: Assessment, drafts: Iterable[Drafted]) -> Document:
    """Return a document that also says which types were chosen, and what the drafts change in the source's own text."""
    by_object = {draft.object.id: draft for draft in drafts if draft.is_promised and draft.is_finished}
    edits = [edit for entry in document.objects if entry.id in by_object for edit in _text_edits(by_object[entry.id])]
    types = map_types(catalog, str(assessment.target), assessment.project)
    return msgspec.structs.replace(document, types=types, edits=edits)


def _text_edits(draft: Drafted) -> list[TextEdit]:
    item = draft.object
    starts = [0, *(match.end() for match in re.finditer("\n", item.text))]

    def place(offset: int) -> tuple[int, int]:
        line = bisect_right(starts, offset)
        return item.line + line - 1, offset - starts[line - 1] + 1

    return [
        TextEdit(item.id, item.file, *place(edit.start), *place(edit.end), edit.new, edit.construct)
        for edit in draft.edits
    ]


def _entry(each: Judged, evidence: Evidence, share: float) -> ObjectEntry:
    item = each.object
    return ObjectEntry(
        item.id, item.type.value, shown(item.schema), shown(item.name), each.outcome, item.lines, item.file, item.line,
        each.dependents, each.effort, round(mean(each.effort) * share, 4), each.rank, each.reason, item.id in evidence.accepted,
        *evidence.case_counts(item.id),
    )  # fmt: skip


def _coverage(catalog: Catalog) -> Coverage:
    unread_lines = {(span.file, line) for span in catalog.unread for line in range(span.line, span.end_line + 1)}
    unread_statements = {(span.object, span.file, span.line if span.whole else 0) for span in catalog.unread}
    return Coverage(
        files=len(catalog.files),
        statements=sum(f.statements for f in catalog.files),
        unread_statements=len(unread_statements),
        lines=sum(f.lines for f in catalog.files),
        unread_lines=len(unread_lines),
    )


def _summary(assessment: Assessment, findings: Sequence[Finding], effort: Effort) -> Summary:
    objects = assessment.objects
    own = sum(mean(each.effort) for each in objects)
    average = assessment.effort.mean_minutes()
    parts = assessment.effort.parts(sum(each.effort[1] for each in objects))
    outcomes = Counter(each.outcome for each in objects)
    severities = Counter(finding.severity for finding in findings)
    types: dict[str, list[int]] = {}
    for each in objects:
        row = types.setdefault(each.object.type.value, [0, 0, 0])
        row[0] += 1
        row[1] += each.object.lines
        row[2] += each.outcome in READY
    lines = sum(row[1] for row in types.values())
    ready = [each for each in objects if each.outcome in READY]
    ready_lines = sum(each.object.lines for each in ready)
    return Summary(
        objects=len(objects),
        by_outcome={outcome.value: outcomes[outcome] for outcome in Outcome},
        by_severity={severity.value: severities[severity] for severity in Severity},
        by_type={name: TypeCount(*row) for name, row in sorted(types.items())},
        readiness=Readiness(_share(len(ready), len(objects)), _share(ready_lines, lines)),
        effort_hours=effort,
        effort_parts=[HoursPart(part.what, round(part.hours, 2)) for part in parts],
        general_hours=round(max(average - own, 0.0) / (average or 1.0) * effort.p50, 2),
        later=Later(sum(f.way is Way.LATER for f in findings), round(later_minutes(findings) / 60, 2)),
    )


def _share(part: int, whole: int) -> float:
    return round(part / whole, 4) if whole else 1.0


def later_words(document: Document) -> str:
    """Say what is better changed after the move; '' where nothing is."""
    later = document.summary.later
    if not later.places:
        return ""
    places = "1 place works" if later.places == 1 else f"{later.places} places work"
    return (
        f"After the move: {places} there and should change later, about {later.hours:.1f} h that are not counted here"
    )


def has_drafts(document: Document) -> bool:
    """Whether target text is written for this pair of engines, so that mechanical changes need no person."""
    return not any(finding.construct == "draft.none-for-pair" for finding in document.findings)
