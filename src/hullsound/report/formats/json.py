"""The assessment document, and the documents of its plan."""

from typing import TYPE_CHECKING

import msgspec

from hullsound.report.document import with_choices

from .model import Files, Reportable

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def write(case: Reportable, planning: "Planning | None") -> Files:
    document = with_choices(case.document, case.catalog, case.assessment, case.drafts.drafts)
    files = {"assessment.json": _encoded(document)}
    if planning is not None:
        size = planning.sizing.report if planning.sizing else None
        told = {"plan": planning.plan, "window": planning.window, "size": size, "checks": planning.checks}
        files["planning.json"] = _encoded(told)
    return files


def _encoded(value: object) -> bytes:
    return msgspec.json.format(msgspec.json.encode(value), indent=1) + b"\n"
