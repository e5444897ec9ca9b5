"""The assessment as Markdown, and the runbook of its plan."""

from typing import TYPE_CHECKING

from hullsound.report.markdown import render_markdown

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write(case: Reportable, planning: "Planning | None") -> Files:
    files = {"report.md": render_markdown(case.document, planning).encode()}
    if planning is not None:
        from hullsound.report.planning.runbook import render_runbook

        files["runbook.md"] = render_runbook(planning.plan, planning.window).encode()
    return files
