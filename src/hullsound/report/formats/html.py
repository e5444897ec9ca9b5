"""The assessment and the plan as one page that opens from disk."""

from typing import TYPE_CHECKING

from hullsound.report.html.page import render_page

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write(case: Reportable, planning: "Planning | None") -> Files:
    page = render_page(case.catalog, case.assessment, case.document, case.drafts, planning, case.history, case.workers)
    return {"index.html": page.encode()}
