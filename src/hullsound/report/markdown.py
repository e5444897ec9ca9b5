"""The assessment as Markdown: for wikis, tickets and mails."""

from typing import TYPE_CHECKING

from hullsound.plan.document import wave_name

from .document import Document, ObjectEntry, has_drafts, later_words
from .markdown_text import cell, code, row

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning


def render_markdown(document: Document, planning: "Planning | None" = None) -> str:
    """Return the summary, the worklist, what is planned, and the findings by construct."""
    summary, cover, target = document.summary, document.coverage, document.target
    lines = [
        f"# {cell(document.source.name)}: {document.source.engine} to {target.engine} {target.version}",
        "",
        f"- Hosting: {target.hosting}; surveyed {document.source.surveyed_at or 'just now'}; Hull Sound {document.tool.version}",
        f"- Read: {cover.statements} statements, {cover.lines} lines, {cover.files} files; "
        f"{cover.unread_statements} statements not in full",
        f"- Ready without a person: {summary.readiness.objects:.0%} of objects, {summary.readiness.lines:.0%} of lines",
        f"- Effort: {summary.effort_hours.p50:g} h (P50), {summary.effort_hours.p80:g} h (P80)",
    ]
    if later := later_words(document):
        lines.append(f"- {later}")
    if not has_drafts(document):
        lines.append("- No drafts are written for this pair of engines yet: what is mechanical counts as rewrite")
    if document.trial.engine:
        lines.append(
            f"- Tried on {document.trial.engine}: {document.trial.accepted} accepted, {document.trial.refused} refused"
        )
    if document.trial.cases:
        lines.append(f"- Behaviour: {document.trial.alike} of {document.trial.cases} cases alike on both engines")
    outcomes = list(summary.by_outcome)
    lines += ["", "## Outcomes", "", row(["type", *outcomes, "all"]), row(["---", *["---:"] * (len(outcomes) + 1)])]
    for kind in summary.by_type:
        counts = [
            sum(1 for o in document.objects if o.type == kind and o.outcome.value == outcome) for outcome in outcomes
        ]
        lines.append(row([kind, *counts, sum(counts)]))
    lines.append(row(["**all**", *summary.by_outcome.values(), summary.objects]))
    work = [o for o in document.objects if o.outcome.value in ("blocked", "rewrite", "confirm")]
    lines += [
        "",
        "## Worklist",
        "",
        "In the order to work in: what blocks first, then what most depends on, then what is cheap.",
        "",
    ]
    lines += [
        row(["rank", "outcome", "object", "lines", "dependents", "hours"]),
        row(["---:", "---", "---", "---:", "---:", "---:"]),
    ]
    lines += [_work_row(each) for each in work]
    if planning is not None:
        lines += ["", *_planning_lines(planning)]
    lines += ["", "## Findings", ""]
    by_construct: dict[str, list[int]] = {}
    for place, finding in enumerate(document.findings):
        by_construct.setdefault(finding.construct, []).append(place)
    order = {"blocker": 0, "warning": 1, "note": 2}
    for construct, places in sorted(
        by_construct.items(),
        key=lambda pair: (order[document.findings[pair[1][0]].severity.value], -len(pair[1]), pair[0]),
    ):
        first = document.findings[places[0]]
        lines += [
            f"### {construct} ({first.severity.value}, {len(places)})",
            "",
            cell(first.message),
            "",
            f"*{cell(first.remedy)}*",
            "",
        ]
        for place in places[:10]:
            each = document.findings[place]
            lines.append(f"- `{code(each.file)}:{each.line}` {cell(each.object)}")
        if len(places) > 10:
            lines.append(f"- ... and {len(places) - 10} more")
        lines.append("")
    return "\n".join(lines).rstrip() + "\n"


def _planning_lines(planning: "Planning") -> list[str]:
    """Return the plan, the window, the size and the checks, each where its data is there."""
    from hullsound.plan.window import duration

    plan, window, sizing, checks = planning.plan, planning.window, planning.sizing, planning.checks
    lines = [
        "## Plan",
        "",
        f"Finished by {plan.ends_p50} (P50), {plan.ends_p80} (P80): {plan.hours.p50:.0f} to {plan.hours.p80:.0f} h for "
        f"{plan.team} people with {plan.hours_week:g} h a week each, from {plan.begins}.",
        "",
        row(["wave", "objects", "h P50", "h P80", "begins", "ends P50", "ends P80"]),
        row(["---", "---:", "---:", "---:", "---", "---", "---"]),
    ]
    lines += [
        row([wave_name(w.number), len(w.objects), f"{w.hours.p50:.0f}", f"{w.hours.p80:.0f}", w.begins, w.ends_p50, w.ends_p80])
        for w in plan.waves
    ]  # fmt: skip
    lines += ["", *(f"- By {d.due}: decide on {cell(d.title)} ({cell(', '.join(d.objects))})" for d in plan.decisions)]
    if window is not None:
        total = f"{duration(window.total.p50)} (P50), {duration(window.total.p80)} (P80)"
        fits = f"fits into {window.window_hours:g} h in {window.fits:.0%} of all cases"
        lines += ["", "## Window", "", f"Offline {total}; {fits}; bound by {cell(window.limit)}."]
    if sizing is not None:
        size = sizing.report
        cost = f"{size.choices[0].cost.total:,.0f} {cell(size.currency)} a month" if size.chosen else ""
        said = (
            f"{cell(size.chosen)}: {cost}; {size.binding} decides"
            if size.chosen
            else "No size of the list carries the load"
        )
        lines += ["", "## Size", "", f"{said}. Confidence {size.confidence}."]
    if checks is not None:
        count = f"{len(checks.checks)} paired queries, {len(checks.samples)} samples"
        lines += [
            "",
            "## Checks",
            "",
            f"{count}; {len(checks.expected)} expected differences are stated and not counted.",
        ]
    return lines


def _work_row(each: ObjectEntry) -> str:
    hours = f"{each.hours:.1f}"
    return row([each.rank, each.outcome.value, cell(each.id), each.lines, each.dependents, hours])
