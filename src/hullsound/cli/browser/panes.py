"""What `browse` shows of one object: its findings, its source beside the draft, and what a construct means."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from rich.console import Group, RenderableType
from rich.text import Text

from hullsound.assess.model import Finding
from hullsound.cli.output import STYLES
from hullsound.cli.sides import sides_table
from hullsound.report.look import Look
from hullsound.visible import visible

if TYPE_CHECKING:
    from hullsound.report.explain import ConstructPage


def head_of(look: Look, hours: float | None) -> Text:
    """Return the heading of an object: id, outcome, place, reason, and what is recorded of it."""
    outcome = look.outcome.value
    text = Text.assemble((visible(look.id), "bold"), "  ", (outcome, STYLES.get(outcome, "")))
    text.append(f"\n{visible(look.file)}:{look.line}  {visible(look.reason)}", "dim")
    if look.proof:
        text.append(f"\n{visible(look.proof)}", "dim")
    if hours is not None:
        text.append(f"\ndone in {hours:g} h", "green")
    return text


def finding_of(finding: Finding) -> RenderableType:
    """Return one finding with what it is and what to do."""
    severity = finding.severity.value
    head = Text.assemble((severity, STYLES.get(severity, "")), f"  {visible(finding.construct)}  line {finding.line}")
    lines = [head, Text(visible(finding.message)), Text.assemble(("To do: ", "bold"), visible(finding.remedy))]
    if finding.accepted is not None:
        lines.append(
            Text.assemble(
                ("Accepted: ", "bold"), visible(finding.accepted.reason), f" ({visible(finding.accepted.owner)})"
            )
        )
    return Group(*lines)


def sides_of_look(look: Look) -> RenderableType:
    return sides_table(look)


def explanation_of(page: "ConstructPage") -> RenderableType:
    """Return what a construct is, an example, and what the target says to it."""
    parts: list[RenderableType] = [Text(f"{page.id}: {page.title}", "bold"), Text(page.meaning)]
    if page.example:
        parts += [Text("\nExample", "bold"), Text(page.example)]
    for stance in page.stances:
        effort = f"{stance.minutes[0]:g}-{stance.minutes[2]:g} min"
        parts += [Text(f"\nOn {stance.target}: {stance.way}, {effort}", "bold"), Text(stance.remedy)]
        parts += [Text(stance.becomes)] if stance.becomes else []
    return Group(*parts)


def rows_of(findings: Sequence[Finding]) -> list[tuple[Text, ...]]:
    """Return the cells of a list of findings: severity, line, construct, and the title of what it is."""
    return [
        (
            Text(each.severity.value, STYLES.get(each.severity.value, "")),
            Text(str(each.line), justify="right"),
            Text(visible(each.construct)),
            Text("accepted" if each.accepted is not None else visible(each.message.partition(". ")[0])),
        )
        for each in findings
    ]
