"""All that is planned for one judged source: waves, window, size and checks, as far as the data is there."""

from collections.abc import Iterable
from pathlib import Path
from typing import NamedTuple

from hullsound.catalog.judgements import Actual
from hullsound.errors import UsageError
from hullsound.project import Project
from hullsound.timing import step

from .actuals import ActualsReport, report_actuals
from .checks.model import CheckSet
from .checks.queries import make_checks
from .document import Plan
from .load import Load, read_load
from .make import make_plan
from .prices import PriceList, read_prices
from .sizes import table_sizes
from .sizing import SizeReport, choose_size
from .window import Window, estimate_window
from .work import PlanSource


class PlanningInput(NamedTuple):
    """Tables and figures that only the user can give."""

    sizes: Path | None = None
    """Rows and bytes by table."""
    load: Path | None = None
    prices: Path | None = None
    """Load and prices go together."""
    cores: float | None = None
    """Of the source, where the load has CPU in per cent."""
    stay_month: float | None = None
    hour_cost: float = 0.0
    change_mb_h: float | None = None
    window_hours: float | None = None
    """Length of the window, in place of that of the settings."""
    wave_weeks: float | None = None


class Sizing(NamedTuple):
    """A choice of size, with what it was made from."""

    report: SizeReport
    load: Load
    prices: PriceList


class Planning(NamedTuple):
    """What is planned. None where the data is not there, or the engines are not known to that step."""

    plan: Plan
    actuals: ActualsReport | None
    window: Window | None
    sizing: Sizing | None
    checks: CheckSet | None


@step("plan")
def make_planning(
    source: PlanSource, project: Project, given: PlanningInput, recorded: Iterable[Actual] = ()
) -> Planning:
    """Plan a judged source. Raises SourceError for a table that is wrong, UsageError for load without prices."""
    if (given.load is None) != (given.prices is None):
        raise UsageError("load and prices go together", where="--load, --prices", hint="Give both or neither.")
    settings = project.settings.with_given("window", hours=given.window_hours)
    settings = settings.with_given("plan", wave_weeks=given.wave_weeks)
    hours = list(recorded)
    plan = make_plan([source], settings, hours)
    listed = table_sizes(source.catalog, settings.window, given.sizes)
    target = str(source.assessment.target)
    window = None
    if any(size.origin != "unknown" for size in listed):
        window = estimate_window(listed, settings, source=source.name, target=target, change_mb_h=given.change_mb_h)
    sizing = None
    if given.load is not None and given.prices is not None:
        load, prices = read_load(given.load, given.cores), read_prices(given.prices)
        has_costs = given.stay_month is not None and given.hour_cost > 0
        report = choose_size(
            load, prices, settings, stay_month=given.stay_month if has_costs else None,
            effort=plan.hours if has_costs else None, hour_cost=given.hour_cost,
        )  # fmt: skip
        sizing = Sizing(report, load, prices)
    try:
        checks = make_checks(source.catalog, source.assessment.target, project, listed)
    except UsageError:  # engines for which no checks are written
        checks = None
    actuals = report_actuals([source], hours, settings) if hours else None
    return Planning(plan, actuals, window, sizing, checks)
