"""The assessment as a workbook: summary, worklist, findings, types and plan; texts are never taken for formulas."""

from typing import TYPE_CHECKING

from hullsound.plan.document import wave_name
from hullsound.report.document import Document
from hullsound.report.table import FINDING_COLUMNS, OBJECT_COLUMNS, finding_rows, object_rows
from hullsound.report.types import map_types
from hullsound.report.workbook import Sheet, workbook

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning

_TYPE_COLUMNS = ("source type", "target type", "columns", "loses", "chosen by", "example")
_PLAN_COLUMNS = ("wave", "begins", "object", "type", "outcome", "hours", "wave ends P50", "wave ends P80")


def write(case: Reportable, planning: "Planning | None") -> Files:
    document = case.document
    types = map_types(case.catalog, str(case.assessment.target), case.assessment.project)
    sheets: list[Sheet] = [
        ("Summary", ("what", "value"), _summary(document)),
        ("Worklist", OBJECT_COLUMNS, object_rows(document)),
        ("Findings", FINDING_COLUMNS, finding_rows(document.findings)),
        ("Types", _TYPE_COLUMNS, [(t.source, t.target, t.columns, t.loses, t.chosen_by, t.example) for t in types]),
    ]
    if planning is not None:
        planned = [
            (wave_name(wave.number), each.begins, each.id, each.type, each.outcome, round(each.hours, 2),
             wave.ends_p50, wave.ends_p80)
            for wave in planning.plan.waves
            for each in wave.objects
        ]  # fmt: skip
        sheets.append(("Plan", _PLAN_COLUMNS, planned))
    return {"assessment.xlsx": workbook(sheets)}


def _summary(document: Document) -> list[tuple[object, object]]:
    summary, target = document.summary, document.target
    rows: list[tuple[object, object]] = [
        ("source", f"{document.source.name}: {document.source.engine} {document.source.version}".strip()),
        ("target", f"{target.engine} {target.version} ({target.hosting})"),
        ("surveyed", document.source.surveyed_at),
        ("objects", summary.objects),
        ("share of objects that need no person", summary.readiness.objects),
        ("share of lines that need no person", summary.readiness.lines),
        ("statements", document.coverage.statements),
        ("statements not read in full", document.coverage.unread_statements),
        ("hours, P50", summary.effort_hours.p50),
        ("hours, P80", summary.effort_hours.p80),
        ("places to change after the move", summary.later.places),
        ("hours after the move", summary.later.hours),
    ]
    rows += [(f"objects {outcome}", count) for outcome, count in summary.by_outcome.items()]
    rows += [(f"findings: {severity}", count) for severity, count in summary.by_severity.items()]
    if document.trial.engine:
        rows += [(f"accepted by {document.trial.engine}", document.trial.accepted), ("refused", document.trial.refused)]
    rows += [(f"hours: {part.what}", part.hours) for part in summary.effort_parts]
    return rows
