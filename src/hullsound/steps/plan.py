"""Plan: judged hull files into waves and dates, with what work on them really took."""

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from hullsound.catalog.hullfile import object_types
from hullsound.catalog.judgements import Actual, put_actuals, read_actuals
from hullsound.errors import UsageError
from hullsound.plan.actuals import ActualsReport, read_hours, report_actuals
from hullsound.plan.document import Plan
from hullsound.plan.make import make_plan
from hullsound.plan.planning import Planning, PlanningInput, make_planning
from hullsound.plan.work import GENERAL, PlanSource, prefix_of
from hullsound.project import Project
from hullsound.settings import Settings

from .assess import Case, assess_hull
from .common import Progress, no_progress


def plan_sources(
    hulls: Sequence[Path],
    target: str,
    project: Project | None = None,
    progress: Progress = no_progress,
    *,
    jobs: int = 1,
) -> list[PlanSource]:
    """Judge hull files for a plan. Raises UsageError for two of one name, else as `assess_hull` does."""
    sources: list[PlanSource] = []
    for path in hulls:
        case = assess_hull(path, target, project, jobs=jobs, progress=progress)
        name = case.catalog.name or path.stem
        if any(name == each.name for each in sources):
            raise UsageError(
                f"two hull files are called {name}", where=str(path), hint="Survey one of them with another --name."
            )
        sources.append(PlanSource(name, case.catalog, case.assessment))
    return sources


def plan_hulls(
    hulls: Sequence[Path],
    target: str,
    settings: Settings,
    project: Project | None = None,
    progress: Progress = no_progress,
    today: date | None = None,
    jobs: int = 1,
) -> Plan:
    """Plan the move of one or several hull files, with the hours that were recorded in them."""
    sources = plan_sources(hulls, target, project, progress, jobs=jobs)
    return make_plan(sources, settings, recorded_hours(hulls, sources), today)


def planning_of(case: Case, project: Project, given: PlanningInput | None = None) -> Planning:
    """Plan all that the data of a case allows. Raises SourceError for a table of the user's that is wrong."""
    name = case.catalog.name or (case.path.stem if case.path else "source")
    recorded = read_actuals(case.path) if case.path is not None else []
    return make_planning(PlanSource(name, case.catalog, case.assessment), project, given or PlanningInput(), recorded)


def recorded_hours(hulls: Sequence[Path], sources: Sequence[PlanSource]) -> list[Actual]:
    """Return the recorded hours of all hull files, named as a plan of them names objects."""
    rows: list[Actual] = []
    for path, source in zip(hulls, sources, strict=True):
        prefix = prefix_of(source, sources)
        rows += [row._replace(object=prefix + row.object) for row in read_actuals(path)]
    return rows


def record_hours(
    hull: Path, table: Path, target: str, settings: Settings, project: Project | None = None,
    progress: Progress = no_progress,
) -> ActualsReport:  # fmt: skip
    """Record what work took from a table of hours, and report what it teaches. Nothing is recorded where a line is wrong."""
    rows = read_hours(table, object_types(hull) | {GENERAL: "findings"})
    put_actuals(hull, rows)
    sources = plan_sources([hull], target, project, progress)
    return report_actuals(sources, read_actuals(hull), settings)
