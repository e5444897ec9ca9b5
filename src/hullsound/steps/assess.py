"""Assess: catalogues and hull files into cases judged against a target."""

import hashlib
from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Final

import msgspec

from hullsound import __version__
from hullsound.assess.basis import Basis
from hullsound.assess.judge import assess as judge
from hullsound.assess.model import Assessment, CaseEvidence, Evidence
from hullsound.assess.pair import Pair
from hullsound.assess.waiting import only_unresolved
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.judgements import (
    add_assessment,
    put_drafting,
    put_drafts,
    read_assessments,
    read_cases,
    read_draft_mark,
    read_drafts,
    read_evidence,
)
from hullsound.draft.model import DraftSet
from hullsound.draft.packed import pack_drafts, unpack_drafts
from hullsound.draft.rejections.find import take_back_rejected
from hullsound.draft.write import add_stand_ins, draft_all, draft_promised, with_outcomes
from hullsound.errors import SourceError
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.targets import parse_target
from hullsound.project import Project
from hullsound.report.document import Document, make_document
from hullsound.report.history import Milestone, history_of
from hullsound.settings import Settings
from hullsound.workers import Workers

from .common import DRAFTING, Progress, no_collection, no_progress, now, tool_fingerprint

_ALONE: Final = Workers()
_SKIPPED: Final = "draft.skipped"


@dataclass
class Case:
    """A surveyed source with its judgement against one target; `path` is its hull file, if it has one."""

    catalog: Catalog
    assessment: Assessment
    path: Path | None = None
    progress: Progress = no_progress
    """Told of drafting."""
    made: DraftSet | None = None
    """The drafts, where judging has made them already and nothing has changed since; without stand-ins."""
    workers: Workers = _ALONE
    """Write what drafts are still needed."""

    @cached_property
    def document(self) -> Document:
        return make_document(self.catalog, self.assessment, __version__)

    @cached_property
    def history(self) -> list[Milestone]:
        """What earlier assessments for the same target came to, up to this one."""
        kept = read_assessments(self.path, str(self.assessment.target)) if self.path is not None else ()
        return history_of(((time, text) for _, time, text in kept), self.document)

    @cached_property
    def drafts(self) -> DraftSet:
        """All drafts, made once."""
        with no_collection():
            made = self.made or self._kept()
            if made is None:
                return draft_all(self.catalog, self.assessment, self.progress, self.workers)
            if not made.has_stand_ins:
                add_stand_ins(made, self.catalog, self.assessment, self.workers)
                self._keep(made)
            return made

    def _kept(self) -> DraftSet | None:
        """Return the drafts that the hull file keeps, where they are those of this survey, tool and project."""
        if self.path is None or not self._is_drafted(self.path):
            return None
        made = unpack_drafts(read_drafts(self.path, str(self.assessment.target)), self.catalog)
        return None if made is None else with_outcomes(made, self.catalog, self.assessment)

    def _keep(self, made: DraftSet) -> None:
        if self.path is not None and self._is_drafted(self.path):
            with suppress(SourceError):  # a hull file that may only be read
                put_drafts(self.path, str(self.assessment.target), pack_drafts(made))

    def _is_drafted(self, path: Path) -> bool:
        mark = _drafting_mark(self.catalog, self.assessment.project)
        return read_draft_mark(path, str(self.assessment.target)) == mark


def judge_with_drafts(
    catalog: Catalog,
    target: Target,
    evidence: Evidence | None = None,
    project: Project | None = None,
    basis: Basis | None = None,
    drafted_already: bool = False,
    progress: Progress = no_progress,
    workers: Workers = _ALONE,
) -> tuple[Assessment, DraftSet | None]:
    """Judge a catalogue, and again with what drafting falls short of: nothing is promised that is not written.

    Returns the drafts as well where they were made and are those of the last judgement; they lack their stand-ins.

    `drafted_already` says that the evidence comes from drafting with the same tool and project.
    """
    if project is not None:
        target = msgspec.structs.replace(target, case=project.drafts.case)
    basis = basis or Basis(catalog)
    evidence = evidence or Evidence()
    if not drafted_already:
        evidence = msgspec.structs.replace(evidence, converted=[])
    assessment = judge(catalog, target, evidence, project, basis)
    pair = Pair(catalog.engine, target)
    if drafted_already or not pair.has_drafts:
        return assessment, None
    known = {entry[0] for entry in evidence.skipped}
    attempts = only_unresolved(assessment)
    made = draft_promised(catalog, assessment, progress, attempts, workers)
    take_back_rejected(made, catalog, target, workers, pair.is_kin)
    fresh = [entry for entry in made.skipped() if entry[0] not in known]
    converted = [entry for entry in made.converted() if entry[0] not in attempts]
    if not fresh and not converted:
        return assessment, with_outcomes(made, catalog, assessment)
    more = msgspec.structs.replace(evidence, skipped=[*evidence.skipped, *fresh], converted=converted)
    assessment = judge(catalog, target, more, project, basis)
    return assessment, with_outcomes(made, catalog, assessment)


def assess_catalog(
    catalog: Catalog, target: str, evidence: Evidence | None = None, project: Project | None = None, *, jobs: int = 1
) -> Case:
    """Judge a catalogue against a target such as postgresql:18. Raises UsageError for an unknown target.

    The result does not depend on `jobs`, the processes that draft at the same time.
    """
    workers = Workers(jobs)
    with no_collection():
        assessment, made = judge_with_drafts(catalog, parse_target(target), evidence, project, workers=workers)
        return Case(catalog, assessment, made=made, workers=workers)


def assess_hull(
    path: Path, target: str, project: Project | None = None, *, keep: bool = False, untried: bool = False,
    jobs: int = 1, progress: Progress = no_progress,
) -> Case:  # fmt: skip
    """Judge a hull file, with what earlier drafts and trials found; `keep` stores the document in the file.

    The result does not depend on `jobs`, the processes that draft at the same time.
    With `untried`, what trials and cases found is left aside, so that they may be run again on all that was promised.

    Raises SourceError if the file cannot be used, UsageError for an unknown target.
    """
    chosen = parse_target(target)
    with no_collection():
        catalog = read_hull(path)
        workers = Workers(jobs)
        assessment, made = judge_hull(
            path, catalog, chosen, project, untried=untried, workers=workers, progress=progress
        )
        case = Case(catalog, assessment, path, progress, made, workers)
    if keep:
        add_assessment(path, str(chosen), now(), msgspec.json.encode(case.document))
    return case


def judge_hull(
    path: Path, catalog: Catalog, target: Target, project: Project | None = None, basis: Basis | None = None,
    *, untried: bool = False, workers: Workers = _ALONE, progress: Progress = no_progress,
) -> tuple[Assessment, DraftSet | None]:  # fmt: skip
    """Judge the catalogue of a hull file with its evidence, drafting once for each state of tool and project."""
    name = str(target)
    mark = _drafting_mark(catalog, project)
    before = read_draft_mark(path, name)
    is_current = before == mark
    # What other drafts went through tells nothing of those of another survey or version of the tool.
    is_other = before.split(" ")[0] != mark.split(" ")[0]
    evidence = Evidence() if is_other else evidence_of(path, name)
    if not is_current:
        evidence.skipped, evidence.converted = [], []
    if untried:
        evidence = Evidence(skipped=evidence.skipped, converted=evidence.converted)
    assessment, made = judge_with_drafts(
        catalog, target, evidence, project, basis, drafted_already=is_current, progress=progress, workers=workers
    )
    if not is_current:
        with suppress(SourceError):  # a hull file that may only be read is drafted anew each time
            drafts = pack_drafts(made) if made is not None else ()
            put_drafting(path, name, _drafting_rows(assessment.evidence), mark, drafts, forget_trials=is_other)
    return assessment, made


def _drafting_mark(catalog: Catalog, project: Project | None) -> str:
    """Return what tells whether earlier drafting still holds: survey and tool, and behind a blank the project's decisions."""
    decisions = msgspec.json.encode(msgspec.structs.replace(project or Project(), settings=Settings(), target=""))
    survey = catalog.fingerprint or catalog.surveyed_at  # the same files read again are the same survey
    made_of = b"".join((survey.encode(), tool_fingerprint(DRAFTING).encode()))
    return f"{hashlib.sha256(made_of).hexdigest()} {hashlib.sha256(decisions).hexdigest()}"


def _drafting_rows(evidence: Evidence) -> list[tuple[str, int, str, str]]:
    return [
        *((item, line, _SKIPPED, reason) for item, line, reason in evidence.skipped),
        *((item, line, construct, detail) for item, line, construct, detail in evidence.converted),
    ]


def evidence_of(path: Path, target: str) -> Evidence:
    """Return what earlier drafts and trials of a hull file found for a target."""
    drafting, tried = read_evidence(path, target)
    cases: dict[str, list[CaseEvidence]] = {}
    for case, object_id, is_equal, difference in read_cases(path, target):
        cases.setdefault(object_id, []).append(CaseEvidence(case, is_equal, difference))
    return Evidence(
        skipped=[(item, line, reason) for item, line, construct, reason in drafting if construct == _SKIPPED],
        converted=[entry for entry in drafting if entry[2] != _SKIPPED],
        refused=[(item, line, message) for _, item, accepted, message, line in tried if not accepted],
        accepted={item for _, item, accepted, _, _ in tried if accepted},
        engine=tried[0][0] if tried else "",
        cases=cases,
    )
