"""The steps of an assessment as functions; the command line is a thin shell over them."""

from importlib import import_module
from typing import TYPE_CHECKING, Any, Final

if TYPE_CHECKING:
    from .assess import Case, assess_catalog, assess_hull
    from .checks import checks_of_hull, run_checks_of_hull
    from .common import Progress, no_progress
    from .compare import compare_hull, find_hull_changes
    from .decide import accept_finding, mark_done
    from .estate import run_estate
    from .kept import document_of, keep, look_of
    from .live import open_source, survey_live, survey_record
    from .plan import plan_hulls, plan_sources, planning_of, record_hours
    from .programs import add_programs, survey_programs
    from .prove import compare_behaviour, draft_case, try_case
    from .scripts import survey_scripts, survey_texts
    from .size import meter_source, size_for
    from .start import start_project
    from .survey import Surveyed, save_hull, survey_into, survey_live_into, survey_source
    from .window import measure_rates, window_of_hull

_HOMES: Final = {
    "assess": ("Case", "assess_catalog", "assess_hull"),
    "checks": ("checks_of_hull", "run_checks_of_hull"),
    "common": ("Progress", "no_progress"),
    "compare": ("compare_hull", "find_hull_changes"),
    "decide": ("accept_finding", "mark_done"),
    "estate": ("run_estate",),
    "kept": ("document_of", "keep", "look_of"),
    "live": ("open_source", "survey_live", "survey_record"),
    "plan": ("plan_hulls", "plan_sources", "planning_of", "record_hours"),
    "programs": ("add_programs", "survey_programs"),
    "prove": ("compare_behaviour", "draft_case", "try_case"),
    "scripts": ("survey_scripts", "survey_texts"),
    "window": ("measure_rates", "window_of_hull"),
    "size": ("meter_source", "size_for"),
    "start": ("start_project",),
    "survey": ("Surveyed", "save_hull", "survey_into", "survey_live_into", "survey_source"),
}
"""Module of each step: a command that only shows what is kept loads none that reads, judges or drafts."""


def __getattr__(name: str) -> Any:
    for module, names in _HOMES.items():
        if name in names:
            return getattr(import_module(f".{module}", __name__), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")


__all__ = [
    "Case",
    "Progress",
    "Surveyed",
    "accept_finding",
    "add_programs",
    "assess_catalog",
    "assess_hull",
    "checks_of_hull",
    "compare_behaviour",
    "compare_hull",
    "document_of",
    "draft_case",
    "find_hull_changes",
    "keep",
    "look_of",
    "mark_done",
    "measure_rates",
    "meter_source",
    "no_progress",
    "open_source",
    "plan_hulls",
    "plan_sources",
    "planning_of",
    "record_hours",
    "run_checks_of_hull",
    "run_estate",
    "save_hull",
    "size_for",
    "start_project",
    "survey_into",
    "survey_live",
    "survey_live_into",
    "survey_programs",
    "survey_record",
    "survey_scripts",
    "survey_source",
    "survey_texts",
    "try_case",
    "window_of_hull",
]
