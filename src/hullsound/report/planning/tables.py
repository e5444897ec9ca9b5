"""A plan as rows for spreadsheets."""

from typing import Final

from hullsound.plan.document import Plan
from hullsound.report.table import csv_text

PLAN_COLUMNS: Final = ("wave", "begins", "object", "type", "outcome", "hours", "wave ends P50", "wave ends P80")
BRIDGE_COLUMNS: Final = ("from wave", "to wave", "object", "kind", "used by", "what to do")
DECISION_COLUMNS: Final = ("due", "wave", "construct", "what", "objects", "what to do")


def plan_csv(plan: Plan) -> dict[str, str]:
    """Return the objects of a plan in their order, its bridges and its decisions, as CSV by file name."""
    objects = [
        (wave.number, each.begins, each.id, each.type, each.outcome, f"{each.hours:.2f}", wave.ends_p50, wave.ends_p80)
        for wave in plan.waves
        for each in wave.objects
    ]
    bridges = [
        (wave.number, each.until_wave, each.used, each.kind, " ".join(each.users), each.what_to_do)
        for wave in plan.waves
        for each in wave.bridges
    ]
    decisions = [
        (each.due, each.wave, each.construct, each.title, " ".join(each.objects), each.remedy)
        for each in plan.decisions
    ]
    return {
        "plan.csv": csv_text(PLAN_COLUMNS, objects),
        "bridges.csv": csv_text(BRIDGE_COLUMNS, bridges),
        "decisions.csv": csv_text(DECISION_COLUMNS, decisions),
    }
