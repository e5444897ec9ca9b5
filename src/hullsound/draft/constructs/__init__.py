"""Fixers: what a construct becomes, by the name that stances give; each returns new text or raises CannotDraft."""

from collections.abc import Callable
from functools import cache
from importlib import import_module
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call

Fixer = Callable[[Found, Rewriter], str]
_MODULES: Final = (
    "queries",
    "functions",
    "code",
    "dates",
    "date_masks",
    "clocks",
    "oracle_dates",
    "weeks",
    "texts",
    "styles",
    "parts",
    "conditions",
    "kin",
    "ase",
    "numbers",
    "portable",
    "day_sums",
    "moments",
    "masked",
    "joined_rows",
    "joined_documents",
    "text_places",
    "text_lengths",
    "calendar",
    "listed",
    "digests",
    "json_texts",
    "json_tests",
    "array_tests",
    "values_elsewhere",
    "for_sqlserver",
    "for_oracle",
    "spans",
    "named_units",
    "sqlite_moments",
    "casts",
    "for_mysql",
    "full_text",
    "formats",
    "mysql",
    "oracle",
    "sqlite",
    "db2",
    "teradata",
    "teradata_formats",
    "teradata_functions",
    "teradata_names",
    "tsql",
    "json_paths",
    "inserts",
    "restricted",
    "row_numbers",
    "sequences",
)
FIXERS: Final[dict[str, Fixer]] = {}


def fixer(name: str) -> Callable[[Fixer], Fixer]:
    """Register a fixer under the name that stances give."""

    def register(function: Fixer) -> Fixer:
        assert name not in FIXERS, f"fixer {name} is registered twice"
        FIXERS[name] = function
        return function

    return register


def call_of(place: Found) -> Call:
    """Return the call at a place. Raises CannotDraft for a name without brackets."""
    if not isinstance(place.node, Call):
        raise CannotDraft("not written as a call")
    return place.node


@cache
def load_fixers() -> dict[str, Fixer]:
    for module in _MODULES:
        import_module(f".{module}", __package__)
    return FIXERS
