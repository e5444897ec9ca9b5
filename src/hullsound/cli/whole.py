"""The whole way in one go, as scan and demo take it."""

import re
from pathlib import Path
from typing import TYPE_CHECKING, Any

from . import options
from .output import progress, say, say_survey

if TYPE_CHECKING:
    from collections.abc import Callable

    from hullsound.plan.planning import Planning, PlanningInput
    from hullsound.steps import Case, Progress

PROFILE_SECONDS = 120.0
"""What the aggregates over values may take where nothing else is said."""


def run_whole(
    source: Path | str,
    engine: str,
    target: str,
    folder: Path,
    *,
    name: str = "",
    encoding: str = "",
    on: str = "",
    no_trial: bool = False,
    profile_seconds: float = 0,
    quiet: bool = False,
    given: "PlanningInput | None" = None,
    hours: Path | None = None,
    programs: Path | None = None,
) -> "tuple[Case, int]":
    """Survey, assess, draft, try, plan and report into `folder`; say on the way what is done.

    `given` holds tables for the plan, and `hours` a table of what work took; `programs` are applications whose SQL counts too.

    Returns the final case and how many promised drafts the trial refused.

    A source given as text is the address of a running one.
    """

    from hullsound import steps
    from hullsound.draft.files import write_drafts
    from hullsound.knowledge.targets import parse_target
    from hullsound.report.files import write_reports
    from hullsound.storage import make_folder
    from hullsound.survey.live.model import parse_address

    def tell(text: str) -> None:
        if not quiet:
            say(text)

    parse_target(target)
    project = options.project()
    kind, version = options.split_engine(engine)
    make_folder(folder)
    own = parse_address(source).name if isinstance(source, str) else source.resolve().stem
    stem = re.sub(r"[^A-Za-z0-9_-]+", "-", name or own).strip("-") or "source"
    hull = folder / f"{stem}.hull"
    jobs = options.job_count()
    with progress(quiet) as report:
        tell(f"Reading {parse_address(source).text if isinstance(source, str) else source} ...")
        shared: dict[str, Any] = {"name": name, "jobs": jobs, "programs": programs, "progress": report}
        if isinstance(source, str):
            done = steps.survey_live_into(hull, source, profile_seconds=profile_seconds, **shared)
        else:
            done = steps.survey_into(hull, source, kind, version, encoding=encoding, **shared)
        if not quiet:
            say_survey(done, hull)
        case = steps.assess_hull(hull, target, project, jobs=jobs, progress=report)
        drafts = case.drafts
        write_drafts(drafts, case.catalog, case.assessment, folder / "draft")
        tell(f"  {folder / 'draft'}: {sum(d.is_finished for d in drafts.drafts)} objects drafted")
        refused = 0 if no_trial else _try_drafts(case, folder, on, report, tell)
        case = steps.assess_hull(hull, target, project, keep=True, jobs=jobs, progress=report)
        steps.keep(case)
        write_reports(case, folder, ["json"])
        planning = _plan(case, folder, given, hours, tell)
        paths = write_reports(case, folder / "report", ["html", "markdown", "csv", "json"], report, planning)
    tell(f"Open {paths[0]} in a browser.")
    return case, refused


def _plan(
    case: "Case", folder: Path, given: "PlanningInput | None", hours: Path | None, tell: "Callable[[str], None]"
) -> "Planning":
    """Record what work took, and write plan and checks as far as the data allows."""
    from hullsound import steps
    from hullsound.plan.planning import PlanningInput
    from hullsound.report.planning.checks_report import write_checks
    from hullsound.report.planning.files import write_plan

    project = case.assessment.project
    if hours is not None and case.path is not None:
        steps.record_hours(case.path, hours, str(case.assessment.target), project.settings, project)
    planning = steps.planning_of(case, project, given or PlanningInput())
    write_plan(planning.plan, folder / "plan", planning.window)
    if planning.checks is not None:
        write_checks(planning.checks, folder / "checks")
    tell(f"  {folder / 'plan'}: {len(planning.plan.waves)} waves, finished by {planning.plan.ends_p80} (P80)")
    return planning


def _try_drafts(case: "Case", folder: Path, on: str, report: "Progress", tell: "Callable[[str], None]") -> int:
    """Try the drafts of a case, if there is an engine to try them on; return how many promised ones were refused."""
    import msgspec

    from hullsound import steps
    from hullsound.errors import TargetError
    from hullsound.storage import write_text

    tell("Trying the drafts on a real engine ...")
    try:
        trial = steps.try_case(case, case.drafts, on, report)
    except TargetError as error:
        if on:
            raise
        say(f"hullsound: not tried: {error}")
        return 0
    write_text(folder / "trial.json", msgspec.json.format(msgspec.json.encode(trial), indent=1).decode() + "\n")
    refused = len(trial.refused())
    tell(f"  {trial.engine}: {len(trial.accepted())} accepted, {refused} refused")
    return refused
