"""Conditions of handlers: SQLSTATEs, numbers and names of the source as conditions of PL/pgSQL."""

from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.tree import ConditionHandler

NUMBERS: Final = {
    "1022": "unique_violation", "1048": "not_null_violation", "1062": "unique_violation", "1146": "undefined_table",
    "1169": "unique_violation", "1172": "too_many_rows", "1205": "lock_not_available", "1213": "deadlock_detected",
    "1216": "foreign_key_violation", "1217": "foreign_key_violation", "1264": "numeric_value_out_of_range",
    "1329": "no_data_found", "1364": "not_null_violation", "1365": "division_by_zero",
    "1406": "string_data_right_truncation", "1451": "foreign_key_violation", "1452": "foreign_key_violation",
    "1586": "unique_violation", "1644": "SQLSTATE '45000'", "3819": "check_violation", "4025": "check_violation",
}  # fmt: skip
"""Error numbers (MySQL 8.4 Error Reference; MariaDB error codes) and conditions of PostgreSQL that mean the same."""
_STATES: Final = {"02000": "no_data_found", "23000": "integrity_constraint_violation", "22012": "division_by_zero"}
NOT_FOUND: Final = "no_data_found"
OTHERS: Final = "OTHERS"
_ORDER: Final = {NOT_FOUND: 1, OTHERS: 2}


def condition_of(text: str, named: dict[str, str]) -> str:
    """Return the condition of PL/pgSQL for one of a handler; '' for warnings, which do not exist there.

    Raises CannotDraft for a number without a like.
    """
    word = text.upper()
    if word in ("NOT FOUND", "02000"):
        return NOT_FOUND
    if word == "SQLEXCEPTION":
        return OTHERS
    if word == "SQLWARNING" or (len(word) == 5 and word.startswith("01")):
        return ""
    if word.isdigit() and len(word) == 4:
        if word not in NUMBERS:
            raise CannotDraft(f"the error number {word}")
        return NUMBERS[word]
    if word in named:
        return condition_of(named[word], {})
    if len(word) == 5 and word.isalnum():
        return _STATES.get(word) or f"SQLSTATE {literal(word)}"
    raise CannotDraft(f"the condition {text.lower()}")


def conditions_of(handler: ConditionHandler, named: dict[str, str]) -> list[str]:
    found = [condition_of(each, named) for each in handler.conditions]
    return [each for each in dict.fromkeys(found) if each]


def by_precision(conditions: list[str]) -> int:
    """Return the place of a handler among others: the most precise goes first."""
    return max((_ORDER.get(each, 0) for each in conditions), default=0)
