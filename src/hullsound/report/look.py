"""One object looked at closely: source and draft in marked pieces, with its findings."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

import msgspec

from hullsound.assess.model import Assessment, Finding, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.errors import UsageError
from hullsound.sql.edit import Edit, fine_edits

from .drafted import Drafted


class Piece(msgspec.Struct, frozen=True):
    """A stretch of text; `construct` is what asked for the change."""

    text: str
    is_changed: bool
    construct: str = ""


class Look(msgspec.Struct, frozen=True):
    id: str
    target: str
    engine: str
    outcome: Outcome
    file: str
    line: int
    reason: str
    proof: str
    """What the trial found; empty without one."""
    source: list[Piece]
    draft: list[Piece]
    is_finished: bool
    """Whether the draft is whole rather than a stand-in."""
    findings: list[Finding]


def look_at_all(catalog: Catalog, assessment: Assessment, drafts: Iterable[Drafted]) -> Iterator[Look]:
    """Yield what is to be seen of every object."""
    by_id = {draft.object.id: draft for draft in drafts}
    for judged in assessment.objects:
        item, draft = judged.object, by_id[judged.object.id]
        findings = sorted(judged.findings, key=lambda f: (f.line, f.column, f.construct))
        yield Look(
            item.id, str(assessment.target), catalog.engine, judged.outcome, item.file, item.line, judged.reason,
            proof_of(assessment, item.id), *both_pieces(draft), draft.is_finished, findings,
        )  # fmt: skip


def find_object(types: Mapping[str, str], name: str) -> str:
    """Return the id that a name means, among ids with the types of their objects.

    That is the whole id, else one with these last parts, else one with this end; rights come last. Raises UsageError if
    there is none or more than one.
    """
    if name in types:
        return name
    wanted = name.lower()
    ends = [item for item in types if f".{item.lower()}".endswith(f".{wanted}")]
    ids = ends or [item for item in types if item.lower().endswith(wanted)]
    ids = [item for item in ids if types[item] != ObjectType.GRANT.value] or ids
    if len(ids) == 1:
        return ids[0]
    from difflib import get_close_matches

    close = ids[:5] or get_close_matches(name, types, n=5, cutoff=0.4)
    what = "more than one object is named" if ids else "no object is named"
    raise UsageError(f"{what} {name!r}", hint=f"Meant: {', '.join(close)}?" if close else "")


def proof_of(assessment: Assessment, object_id: str) -> str:
    """Say what the trial and the comparison of behaviour found for an object."""
    evidence = assessment.evidence
    said = [f"refused by {evidence.engine}: {text}" for item, _, text in evidence.refused if item == object_id][:1]
    if object_id in evidence.accepted:
        said.append(f"proven on {evidence.engine}")
    cases, alike = evidence.case_counts(object_id)
    if cases:
        said.append(f"{alike} of {cases} case{'' if cases == 1 else 's'} behave{'s' if cases == 1 else ''} alike")
    return "; ".join(said)


def both_pieces(draft: Drafted) -> tuple[list[Piece], list[Piece]]:
    """Cut the source text where the draft changes it, and the draft where it differs from the source."""
    text = draft.object.text
    edits = fine_edits(text, draft.edits)
    return _pieces(text, [(e.start, e.end, e.construct) for e in edits]), _pieces(draft.text, _new_places(edits))


def _new_places(edits: Sequence[Edit]) -> list[tuple[int, int, str]]:
    places = []
    shift = 0
    for edit in edits:
        start = edit.start + shift
        places.append((start, start + len(edit.new), edit.construct))
        shift += len(edit.new) - (edit.end - edit.start)
    return places


def _pieces(text: str, places: Sequence[tuple[int, int, str]]) -> list[Piece]:
    pieces: list[Piece] = []
    at = 0
    for start, end, construct in places:
        if start > at:
            pieces.append(Piece(text[at:start], False))
        if end > start:
            pieces.append(Piece(text[start:end], True, construct))
        at = max(at, end)
    if at < len(text):
        pieces.append(Piece(text[at:], False))
    return pieces
