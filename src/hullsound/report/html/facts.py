"""The page's tables of facts: types, values, programs, what estimates assume, and what the project has accepted."""

from collections import Counter
from typing import TYPE_CHECKING, Final, NamedTuple

from hullsound.assess.model import Assessment, Finding, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Measure
from hullsound.report.document import Document
from hullsound.report.types import map_types
from hullsound.report.values import list_values
from hullsound.settings import assumptions

from .template import load_template

if TYPE_CHECKING:
    from markupsafe import Markup


_MOST_VALUES: Final = 1000
"""Answers of values that the page lists; `hullsound values` lists all."""


class ProgramRow(NamedTuple):
    """One program: its statements, and how many of them have which outcome."""

    name: str
    statements: int
    outcomes: Counter[str]
    warnings: int
    """Blockers and warnings."""


class AcceptedRow(NamedTuple):
    """Findings of one construct that one decision accepts."""

    finding: Finding
    places: int


def render_facts(
    catalog: Catalog, assessment: Assessment, document: Document
) -> tuple["Markup", list[tuple[str, str]]]:
    """Return the sections as markup, and anchor and title of those that there is data for."""
    facts = {
        "types": map_types(catalog, str(assessment.target), assessment.project),
        "values": list_values(catalog, only_yes=True)[:_MOST_VALUES],
        "programs": _programs(catalog, document),
        "assumptions": assumptions(assessment.project.settings, "effort"),
        "accepted": _accepted(document),
    }
    html = load_template("facts.html.j2").render(
        measured=_measured(catalog.measures), most=_MOST_VALUES, outcome_names=[each.value for each in Outcome], **facts
    )
    from markupsafe import Markup

    return Markup(html), [  # noqa: S704 - a template that escapes has written it
        (key, key.capitalize()) for key, rows in facts.items() if rows
    ]


def _programs(catalog: Catalog, document: Document) -> list[ProgramRow]:
    """Return the programs of a catalogue, those with most findings first."""
    names = {item.id: item.details["program"] for item in catalog.objects.values() if "program" in item.details}
    outcomes: dict[str, Counter[str]] = {}
    for entry in document.objects:
        if entry.id in names:
            outcomes.setdefault(names[entry.id], Counter())[entry.outcome.value] += 1
    found = Counter(names[f.object] for f in document.findings if f.object in names and f.severity.value != "note")
    rows = [ProgramRow(name, counts.total(), counts, found[name]) for name, counts in outcomes.items()]
    return sorted(rows, key=lambda row: (-row.warnings, row.name))


def _accepted(document: Document) -> list[AcceptedRow]:
    groups: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in document.findings:
        if finding.accepted is not None:
            key = (finding.construct, finding.accepted.owner, finding.accepted.reason)
            groups.setdefault(key, []).append(finding)
    return [AcceptedRow(group[0], len(group)) for group in groups.values()]


def _measured(measures: list[Measure]) -> int:
    """Return of how many columns the values were looked at."""
    return len({(each.object, each.column) for each in measures})
