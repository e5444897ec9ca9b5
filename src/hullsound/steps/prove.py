"""Draft and trial: what a case would become, and whether a real engine accepts it."""

from hullsound.catalog.hullfile import put_skipped, put_trial
from hullsound.draft.write import DraftSet, draft_all
from hullsound.trial.run import Trial, run_trial

from .assess import Case
from .common import Progress, no_progress


def draft_case(case: Case) -> DraftSet:
    """Draft every object of a case; what was promised and could not be drafted goes into its hull file."""
    drafts = draft_all(case.catalog, case.assessment)
    if case.path is not None:
        known = {entry[0] for entry in case.assessment.evidence.skipped}
        kept = [entry for entry in case.assessment.evidence.skipped if entry[0] in case.catalog.objects]
        fresh = [entry for entry in drafts.skipped() if entry[0] not in known]
        put_skipped(case.path, str(case.assessment.target), [*kept, *fresh])
    return drafts


def try_case(case: Case, drafts: DraftSet, url: str = "", progress: Progress = no_progress) -> Trial:
    """Run the drafts of a case on a real engine; results go into its hull file. Raises TargetError."""
    target = str(case.assessment.target)
    trial = run_trial(case.catalog, drafts, target, url, progress)
    if case.path is not None:
        before = {entry[0]: entry for entry in case.assessment.evidence.refused}
        rows = [(r.id, r.accepted, r.message, r.line, r.milliseconds) for r in trial.results if r.promised]
        again = [
            (i, False, message, line, 0.0) for i, line, message in before.values() if i not in {r[0] for r in rows}
        ]
        put_trial(case.path, target, trial.engine, [*rows, *again])
    return trial
