"""Fills the page's template; every value is escaped by the template engine."""

from collections import Counter
from importlib.resources import files
from typing import Any, Final

from hullsound.assess.model import Assessment, Finding, Outcome
from hullsound.catalog.model import Catalog
from hullsound.draft.write import Draft, draft_all
from hullsound.knowledge.load import load_engine
from hullsound.knowledge.targets import load_target
from hullsound.knowledge.model import Severity
from hullsound.report.document import Document, ObjectEntry, is_judged
from hullsound.report.look import draft_pieces, proof_of, source_pieces

_OPEN_WORK: Final = (Outcome.BLOCKED, Outcome.REWRITE, Outcome.CONFIRM)
_SHOWN_SOURCE_LINES: Final = 600
"""Longer sources are left to `hullsound show`, so that the page stays light."""


def render_page(catalog: Catalog, assessment: Assessment, document: Document) -> str:
    """Return the whole page: summary, worklist, findings by object with source and draft, coverage."""
    import jinja2

    environment = jinja2.Environment(
        autoescape=True, trim_blocks=True, lstrip_blocks=True, undefined=jinja2.StrictUndefined
    )
    folder = files(__package__)
    template = environment.from_string(folder.joinpath("page.html.j2").read_text(encoding="utf-8"))
    drafts = {draft.object.id: draft for draft in draft_all(catalog, assessment).drafts}
    findings: dict[str, list[Finding]] = {}
    for finding in document.findings:
        findings.setdefault(finding.object, []).append(finding)
    return template.render(
        document=document,
        summary=document.summary,
        style=_asset("page.css"),
        script=_asset("page.js"),
        outcomes=[outcome.value for outcome in Outcome],
        types=_types(document),
        sections=[
            _section(entry, findings.get(entry.id, []), drafts[entry.id], assessment) for entry in document.objects
        ],
        general=[*findings.get("server", []), *findings.get("database", [])],
        constructs=_constructs(document),
        blockers=[entry for entry in document.objects if entry.outcome is Outcome.BLOCKED],
        reasons={key: _blocking(found) for key, found in findings.items()},
        source_title=load_engine(catalog.engine).title,
        target_title=load_target(assessment.target.engine).title,
        open_work=sum(1 for entry in document.objects if entry.outcome in _OPEN_WORK),
        is_judged=is_judged(document),
        unread=catalog.unread,
        files=catalog.files,
    )


def _blocking(findings: list[Finding]) -> list[str]:
    """Return the titles of what blocks an object, each once."""
    return list(dict.fromkeys(f.message.split(". ")[0] for f in findings if f.severity is Severity.BLOCKER))


def _asset(name: str) -> Any:
    """Return a file of ours as markup that needs no escaping."""
    from markupsafe import Markup

    return Markup(files(__package__).joinpath(name).read_text(encoding="utf-8"))  # noqa: S704 - shipped with the package


def _types(document: Document) -> list[dict[str, object]]:
    """Return for each type of object how many have which outcome."""
    rows = []
    for kind, count in document.summary.by_type.items():
        outcomes = Counter(entry.outcome.value for entry in document.objects if entry.type == kind)
        rows.append(
            {"type": kind, "objects": count.objects, "lines": count.lines, "ready": count.ready, "outcomes": outcomes}
        )
    return rows


def _constructs(document: Document) -> list[dict[str, object]]:
    """Return each construct with how often it was found, the worst and most frequent first."""
    counts = Counter(finding.construct for finding in document.findings)
    firsts: dict[str, Finding] = {}
    for finding in document.findings:
        firsts.setdefault(finding.construct, finding)
    order = {"blocker": 0, "warning": 1, "note": 2}
    rows: list[dict[str, object]] = [
        {"id": construct, "count": counts[construct], "severity": first.severity.value,
         "title": first.message.split(". ")[0], "remedy": first.remedy}
        for construct, first in firsts.items()
    ]  # fmt: skip
    return sorted(rows, key=lambda row: (order[str(row["severity"])], -counts[str(row["id"])], str(row["id"])))


def _section(entry: ObjectEntry, findings: list[Finding], draft: Draft, assessment: Assessment) -> dict[str, object]:
    show = draft.object.lines <= _SHOWN_SOURCE_LINES and (bool(findings) or bool(draft.edits))
    return {
        "entry": entry,
        "findings": findings,
        "proof": proof_of(assessment, entry.id),
        "source": source_pieces(draft) if show else [],
        "draft": draft_pieces(draft) if show and draft.text else [],
        "finished": draft.is_finished,
        "first_line": draft.object.line,
    }
