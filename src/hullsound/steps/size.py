"""Size and meter: sample a running source, and choose a size for its load."""

from pathlib import Path

from hullsound.plan.document import Hours
from hullsound.plan.load import read_load
from hullsound.plan.meter import Metered, meter
from hullsound.plan.prices import read_prices
from hullsound.plan.sizing import SizeReport, choose_size
from hullsound.project import Project
from hullsound.settings import Settings
from hullsound.survey.live.model import parse_address

from .common import Progress, no_progress
from .kept import document_of
from .live import open_source


def size_for(
    load: Path,
    prices: Path,
    settings: Settings,
    *,
    cores: float | None = None,
    owned_cores: float = 0.0,
    stay_month: float | None = None,
    hull: Path | None = None,
    target: str = "",
    hour_cost: float = 0.0,
    project: Project | None = None,
) -> SizeReport:
    """Choose a size for samples of load from a price list; with a hull file, the effort of the move counts for the break-even.

    Raises SourceError for the tables and the hull file, UsageError for what does not fit together.
    """
    sampled, listed = read_load(load, cores), read_prices(prices)
    effort = None
    if hull is not None:
        hours = document_of(hull, target, project).summary.effort_hours
        effort = Hours(hours.p50, hours.p80)
    return choose_size(
        sampled, listed, settings, owned_cores=owned_cores, stay_month=stay_month, effort=effort, hour_cost=hour_cost
    )


def meter_source(url: str, path: Path, every: float, seconds: float, progress: Progress = no_progress) -> Metered:
    """Sample the load of a running source into a table. Raises as `meter` does."""
    return meter(parse_address(url), open_source, path, every, seconds, told=progress)
