"""Fills the page's template; every value is escaped by the template engine."""

import re
import zlib
from base64 import b64encode
from collections import Counter
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Final

import msgspec

from hullsound.assess.model import Assessment, Finding, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.knowledge.load import load_engine
from hullsound.knowledge.model import Severity
from hullsound.knowledge.targets import load_target
from hullsound.plan.document import wave_name
from hullsound.report.document import Document, ObjectEntry, has_drafts, later_words
from hullsound.report.drafted import Drafted, DraftedSet
from hullsound.report.history import Milestone
from hullsound.report.look import both_pieces, proof_of
from hullsound.visible import visible
from hullsound.workers import Workers

from .facts import render_facts
from .template import load_asset, load_template

if TYPE_CHECKING:
    from hullsound.plan.planning import Planning

_OPEN_WORK: Final = (Outcome.BLOCKED, Outcome.REWRITE, Outcome.CONFIRM)
_SENTENCE_END: Final = re.compile(r"(?<!\.)\.\s")
_SHOWN_SOURCE_LINES: Final = 600
"""Longer sources are left to `hullsound show`, so that the page stays light."""
_ALONE: Final = Workers()
_WORTH: Final = 300_000
"""Characters of drafts below which starting processes for markup costs more than it saves."""
_TOGETHER: Final = 50
"""How many objects are compressed, and unpacked, together."""
_PRINTED_BLOCKERS: Final = 15
"""How many a printed summary names, so that it fits on two pages."""
_SEVERITIES: Final = (Severity.BLOCKER, Severity.WARNING, Severity.NOTE)
_COLUMNS: Final[tuple[tuple[str, str, str], ...]] = (
    ("rank", "rank", "n"), ("outcome", "outcome", ""), ("object", "id", ""), ("type", "type", ""), ("wave", "wave", "n"),
    ("lines", "lines", "n"), ("dependents", "dependents", "n"), ("hours", "hours", "n"), ("why here", "reason", "screen"),
)  # fmt: skip
"""Titles of the worklist, what each is sorted by, and its class; the wave is left out where nothing is planned."""
_WORDS: Final = (
    ("as-is", "crosses without a change; there is nothing to do"),
    ("drafted", "crosses by a draft that does what the source does; there is nothing to do"),
    ("confirm", "has a draft; a person looks at the findings and confirms that it does what is wanted"),
    ("rewrite", "a person writes what the findings name; the draft holds the rest"),
    ("blocked", "cannot cross until something is designed anew"),
    ("blocker", "finding: the target has nothing for it"),
    ("warning", "finding: someone must look, or write something"),
    ("note", "finding: good to know; the draft takes care of it, or it can wait until after the move"),
)
"""What outcomes and severities mean."""


def render_page(
    catalog: Catalog,
    assessment: Assessment,
    document: Document,
    made: DraftedSet,
    planning: "Planning | None" = None,
    history: Sequence[Milestone] = (),
    workers: Workers = _ALONE,
) -> str:
    """Return the whole page: summary, worklist, plan, findings by object with source and draft, coverage."""
    planned = None
    if planning is not None:
        from .planning import render_planning  # which draws pictures

        planned = render_planning(planning)
    waves = _waves(planning)
    facts, fact_links = render_facts(catalog, assessment, document)
    drafts = {draft.object.id: draft for draft in made.drafts}
    findings: dict[str, list[Finding]] = {}
    for finding in document.findings:
        findings.setdefault(finding.object, []).append(finding)
    return str(
        load_template("page.html.j2").render(
            document=document,
            summary=document.summary,
            style=load_asset("page.css"),
            script=load_asset("page.js"),
            outcomes=[outcome.value for outcome in Outcome],
            types=_types(document),
            columns=[column for column in _COLUMNS if waves or column[0] != "wave"],
            waves=[(number, wave_name(number)) for number in sorted(set(waves.values()))],
            owners=sorted({owner for found in findings.values() for owner in _owners(found)}),
            words=_WORDS,
            rows=packed(
                [
                    _row(entry, findings.get(entry.id, []), proof_of(assessment, entry.id), waves.get(entry.id))
                    for entry in document.objects
                ]
            ),
            chunks=_chunks(document, findings, drafts, assessment, workers),
            general=[*findings.get("server", []), *findings.get("database", [])],
            constructs=_constructs(document),
            printed=_PRINTED_BLOCKERS,
            blockers=[entry for entry in document.objects if entry.outcome is Outcome.BLOCKED],
            reasons={key: _blocking(found) for key, found in findings.items()},
            source_title=load_engine(catalog.engine).title,
            target_title=load_target(assessment.target.engine).title,
            open_work=sum(1 for entry in document.objects if entry.outcome in _OPEN_WORK),
            has_drafts=has_drafts(document),
            later=f"{words}." if (words := later_words(document)) else "",
            planned=planned,
            history=history,
            facts=facts,
            fact_links=fact_links,
            most_hours=max((each.effort_hours.p80 for each in history), default=1.0) or 1.0,
            has_window=planning is not None and planning.window is not None,
            has_size=planning is not None and planning.sizing is not None,
            has_checks=planning is not None and planning.checks is not None,
            unread=catalog.unread,
            files=catalog.files,
        )
    )


def _blocking(findings: list[Finding]) -> list[str]:
    """Return the titles of what blocks an object, each once."""
    return list(dict.fromkeys(_title(f) for f in findings if f.severity is Severity.BLOCKER))


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
         "title": _title(first), "remedy": first.remedy}
        for construct, first in firsts.items()
    ]  # fmt: skip
    return sorted(rows, key=lambda row: (order[str(row["severity"])], -counts[str(row["id"])], str(row["id"])))


def packed(value: object) -> str:
    """Return a value as JSON, compressed and in letters: what the page's script unpacks when it is looked at."""
    return b64encode(zlib.compress(msgspec.json.encode(value), 6)).decode("ascii")


def _waves(planning: "Planning | None") -> dict[str, int]:
    """Return the wave in which each object moves, without those that are done; empty where nothing is planned."""
    waves = [] if planning is None else planning.plan.waves
    return {planned.id: wave.number for wave in waves for planned in wave.objects}


def _owners(findings: list[Finding]) -> list[str]:
    """Return who accepted findings, each once."""
    return list(dict.fromkeys(finding.accepted.owner for finding in findings if finding.accepted is not None))


def _row(entry: ObjectEntry, findings: list[Finding], proof: str, wave: int | None) -> list[object]:
    """Return what the worklist shows of an object and what it is filtered by, in the order that the script knows."""
    worst = min((_SEVERITIES.index(finding.severity) for finding in findings), default=len(_SEVERITIES))
    constructs = " ".join(dict.fromkeys(finding.construct for finding in findings))
    fails = (not entry.proven and not entry.cases) or entry.alike < entry.cases
    return [
        visible(entry.id), entry.type, entry.outcome.value, worst, entry.rank, entry.lines, entry.dependents, round(entry.hours, 1),
        visible(entry.reason), visible(f"{entry.file}:{entry.line}"), len(findings), constructs, proof, fails,
        wave, _owners(findings),
    ]  # fmt: skip


def _chunks(
    document: Document, findings: dict[str, list[Finding]], drafts: dict[str, Drafted], assessment: Assessment,
    workers: Workers,
) -> Iterator[str]:  # fmt: skip
    """Yield what is inside of so many objects at a time, each as markup."""
    inside = load_template("parts.html.j2").module.inside
    objects = document.objects
    together = [objects[first : first + _TOGETHER] for first in range(0, len(objects), _TOGETHER)]

    def chunk(place: int) -> str:
        entries = together[place]
        sections = (_section(each, findings.get(each.id, []), drafts[each.id], assessment) for each in entries)
        return packed([str(inside(section)) for section in sections])

    sizes = [sum(len(drafts[each.id].text) for each in entries) for entries in together]
    yield from workers.map(chunk, sizes, _WORTH, names=lambda place: together[place][0].id)


def _section(entry: ObjectEntry, findings: list[Finding], draft: Drafted, assessment: Assessment) -> dict[str, object]:
    show = draft.object.lines <= _SHOWN_SOURCE_LINES and (bool(findings) or bool(draft.edits))
    source, written = both_pieces(draft) if show else ([], [])
    return {
        "entry": entry,
        "findings": findings,
        "source": source,
        "draft": written if draft.text else [],
        "finished": draft.is_finished,
        "lines": range(draft.object.line, draft.object.line + (draft.object.lines if source else 0)),
    }


def _title(finding: Finding) -> str:
    """Return the first sentence of a finding's message; an ellipsis ends none."""
    return _SENTENCE_END.split(finding.message)[0]
