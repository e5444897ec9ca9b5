"""Draft and trial: what a case would become, and whether a real engine accepts it."""

from pathlib import Path

from hullsound.catalog.judgements import put_cases, put_trial
from hullsound.draft.model import DraftSet
from hullsound.timing import step
from hullsound.trial.run import CaseResult, Trial, run_cases, run_trial

from .assess import Case
from .common import Progress, no_collection, no_progress


def draft_case(case: Case) -> DraftSet:
    """Draft every object of a case."""
    with no_collection():
        return case.drafts


@step("run cases")
def compare_behaviour(
    case: Case, drafts: DraftSet, path: Path | None = None, source_url: str = "", url: str = ""
) -> list[CaseResult]:
    """Run the cases of a file, or made-up ones, on the source's engine and on the drafts; results go into the hull file.

    Raises UsageError for the file and TargetError for the servers.
    """
    target = str(case.assessment.target)
    results = run_cases(case.catalog, drafts, target, path, source_url, url)
    if case.path is not None:
        put_cases(case.path, target, [(r.name, r.object, r.is_equal, r.difference) for r in results])
    return results


@step("try drafts")
def try_case(case: Case, drafts: DraftSet, url: str = "", progress: Progress = no_progress) -> Trial:
    """Run the drafts of a case on a real engine; results go into its hull file. Raises TargetError."""
    target = str(case.assessment.target)
    trial = run_trial(case.catalog, drafts, target, url, progress)
    if case.path is not None:
        rows = [
            (r.id, r.accepted, r.message, r.line, r.milliseconds)
            for r in trial.results
            if r.promised and not r.not_tried
        ]
        put_trial(case.path, target, trial.engine, rows)
    return trial
