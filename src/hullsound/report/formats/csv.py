"""Objects, findings and the plan as CSV (RFC 4180)."""

from typing import TYPE_CHECKING

from hullsound.report.table import FINDING_COLUMNS, OBJECT_COLUMNS, csv_text, finding_rows, object_rows

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write(case: Reportable, planning: "Planning | None") -> Files:
    document = case.document
    texts = {
        "objects.csv": csv_text(OBJECT_COLUMNS, object_rows(document)),
        "findings.csv": csv_text(FINDING_COLUMNS, finding_rows(document.findings)),
    }
    if planning is not None:
        from hullsound.report.planning.tables import plan_csv

        texts |= plan_csv(planning.plan)
    return {name: text.encode() for name, text in texts.items()}
