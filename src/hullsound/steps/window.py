"""Window: how long the move of the data of a hull file takes."""

from pathlib import Path

from hullsound.catalog.hullfile import read_hull
from hullsound.knowledge.targets import parse_target
from hullsound.plan.loading import Rates, measure_loading
from hullsound.plan.sizes import table_sizes
from hullsound.plan.window import CheckLevel, Measured, Window, estimate_window
from hullsound.project import Project
from hullsound.settings import Settings

from .common import Progress, no_progress


def measure_rates(
    path: Path, target: str, url: str, project: Project, progress: Progress = no_progress, sizes: Path | None = None
) -> Rates:
    """Measure how fast a real target loads made-up rows of the tables of a hull file. Raises TargetError."""
    catalog = read_hull(path)
    listed = table_sizes(catalog, project.settings.window, sizes)
    return measure_loading(catalog, listed, parse_target(target), project, url, progress)


def window_of_hull(
    path: Path,
    target: str,
    settings: Settings,
    *,
    sizes: Path | None = None,
    check: CheckLevel = "quick",
    change_mb_h: float | None = None,
    measured: Measured | None = None,
) -> Window:
    """Estimate the window for a hull file. Raises SourceError for the file or the table of sizes."""
    catalog = read_hull(path)
    return estimate_window(
        table_sizes(catalog, settings.window, sizes),
        settings,
        source=catalog.name or path.stem,
        target=target,
        check=check,
        change_mb_h=change_mb_h,
        measured=measured,
    )
