"""The assessment as Markdown: for wikis, tickets and mails."""

from .document import Document, ObjectEntry, has_drafts


def render_markdown(document: Document) -> str:
    """Return the summary, the worklist and the findings by construct."""
    summary, cover, target = document.summary, document.coverage, document.target
    lines = [
        f"# {_cell(document.source.name)}: {document.source.engine} to {target.engine} {target.version}",
        "",
        f"- Hosting: {target.hosting}; surveyed {document.source.surveyed_at or 'just now'}; Hull Sound {document.tool.version}",
        f"- Read: {cover.statements} statements, {cover.lines} lines, {cover.files} files; "
        f"{cover.unread_statements} statements not in full",
        f"- Ready without a person: {summary.readiness.objects:.0%} of objects, {summary.readiness.lines:.0%} of lines",
        f"- Effort: {summary.effort_hours.p50:g} h (P50), {summary.effort_hours.p80:g} h (P80)",
    ]
    if not has_drafts(document):
        lines.append("- No drafts are written for this pair of engines yet: what is mechanical counts as rewrite")
    if document.trial.engine:
        lines.append(
            f"- Tried on {document.trial.engine}: {document.trial.accepted} accepted, {document.trial.refused} refused"
        )
    if document.trial.cases:
        lines.append(f"- Behaviour: {document.trial.alike} of {document.trial.cases} cases alike on both engines")
    outcomes = list(summary.by_outcome)
    lines += ["", "## Outcomes", "", _row(["type", *outcomes, "all"]), _row(["---", *["---:"] * (len(outcomes) + 1)])]
    for kind in summary.by_type:
        counts = [
            sum(1 for o in document.objects if o.type == kind and o.outcome.value == outcome) for outcome in outcomes
        ]
        lines.append(_row([kind, *counts, sum(counts)]))
    lines.append(_row(["**all**", *summary.by_outcome.values(), summary.objects]))
    work = [o for o in document.objects if o.outcome.value in ("blocked", "rewrite", "confirm")]
    lines += [
        "",
        "## Worklist",
        "",
        "In the order to work in: what blocks first, then what most depends on, then what is cheap.",
        "",
    ]
    lines += [
        _row(["rank", "outcome", "object", "lines", "dependents", "hours"]),
        _row(["---:", "---", "---", "---:", "---:", "---:"]),
    ]
    lines += [_work_row(each) for each in work]
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
            _cell(first.message),
            "",
            f"*{_cell(first.remedy)}*",
            "",
        ]
        for place in places[:10]:
            each = document.findings[place]
            lines.append(f"- `{_code(each.file)}:{each.line}` {_cell(each.object)}")
        if len(places) > 10:
            lines.append(f"- ... and {len(places) - 10} more")
        lines.append("")
    return "\n".join(lines).rstrip() + "\n"


def _work_row(each: ObjectEntry) -> str:
    hours = f"{each.hours:.1f}"
    return _row([each.rank, each.outcome.value, _cell(each.id), each.lines, each.dependents, hours])


def _row(cells: list[object]) -> str:
    return "| " + " | ".join(str(cell) for cell in cells) + " |"


def _cell(text: str) -> str:
    """Make text safe for Markdown: one line, nothing that draws, links or runs."""
    for char in "\\`*_[]<>|#":
        text = text.replace(char, f"&#{ord(char)};" if char in "<>|" else f"\\{char}")
    return " ".join(text.split())


def _code(text: str) -> str:
    return " ".join(text.replace("`", "'").split())
