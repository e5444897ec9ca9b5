"""The steps of an assessment as functions; the command line is a thin shell over them."""

from .assess import Case, assess_catalog, assess_hull
from .common import Progress, no_progress
from .prove import draft_case, try_case
from .survey import Surveyed, save_hull, survey_into, survey_scripts, survey_source, survey_texts

__all__ = [
    "Case",
    "Progress",
    "Surveyed",
    "assess_catalog",
    "assess_hull",
    "draft_case",
    "no_progress",
    "save_hull",
    "survey_into",
    "survey_scripts",
    "survey_source",
    "survey_texts",
    "try_case",
]
