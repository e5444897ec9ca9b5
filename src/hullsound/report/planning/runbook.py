"""The runbook of a plan in Markdown: who does what when, from the freeze to the switch, and the way back."""

from hullsound.plan.document import Plan


def render_runbook(plan: Plan) -> str:
    return ""
