"""The steps of an assessment as functions; the command line is a thin shell over them."""

from .assess import Case, assess_catalog, assess_hull
from .common import Progress, no_progress
from .compare import compare_hull, find_hull_changes
from .live import open_source, survey_live, survey_record
from .prove import compare_behaviour, draft_case, try_case
from .scripts import survey_scripts, survey_texts
from .survey import Surveyed, save_hull, survey_into, survey_live_into, survey_source

__all__ = [
    "Case",
    "Progress",
    "Surveyed",
    "assess_catalog",
    "assess_hull",
    "compare_behaviour",
    "compare_hull",
    "draft_case",
    "find_hull_changes",
    "no_progress",
    "open_source",
    "save_hull",
    "survey_into",
    "survey_live",
    "survey_live_into",
    "survey_record",
    "survey_scripts",
    "survey_source",
    "survey_texts",
    "try_case",
]
