"""Families of types: what a value is, whatever its precision or length, as far as conversions and operators tell it apart."""

from enum import Enum
from typing import Final


class Family(Enum):
    """A family of types; UNKNOWN alone counts as false."""

    UNKNOWN = ""
    TEXT = "text"
    INTEGER = "integer"
    NUMBER = "number"
    """A number that need not be whole, exact or not."""
    DATE = "date"
    TIME = "time"
    TIMESTAMP = "timestamp"
    """A date with a time of day, whatever the engine calls it."""
    BOOLEAN = "boolean"
    BITS = "bits"
    BYTES = "bytes"
    JSON = "json"
    UUID = "uuid"

    def __bool__(self) -> bool:
        return self is not Family.UNKNOWN

    def __str__(self) -> str:
        return self.value


NUMBERS: Final = frozenset((Family.INTEGER, Family.NUMBER))
CUTTING: Final = frozenset(("sqlserver", "ase", "postgresql", "db2", "sqlite", "teradata"))
"""Engines in which a quotient of whole numbers is a whole number, and in which what is rounded keeps its type."""
POWERS_OF_FIRST_TYPE: Final = frozenset(("sqlserver", "ase"))
"""Engines in which POWER is of the type of its first argument."""
MOMENTS: Final = frozenset((Family.DATE, Family.TIMESTAMP))
"""Families with a calendar day."""

_LOGICAL: Final = {
    Family.TEXT: "text fixed-text large-text enum set",
    Family.INTEGER: "integer unsigned serial year",
    Family.NUMBER: "decimal decimal-free decimal-whole float money small-money decimal-float",
    Family.DATE: "date date-zero",
    Family.TIME: "time time-span time-zone",
    Family.TIMESTAMP: """date-time date-time-thirds date-time-minutes timestamp timestamp-zone timestamp-local""",
    Family.BOOLEAN: "boolean bit",
    Family.BITS: "bit-string",
    Family.BYTES: "binary fixed-binary large-binary",
    Family.JSON: "json",
    Family.UUID: "uuid",
}
_OF_LOGICAL: Final = {kind: family for family, kinds in _LOGICAL.items() for kind in kinds.split()}


def family_of_logical(kind: str) -> Family:
    """Return the family of a logical type's kind; UNKNOWN for kinds of which nothing is said, such as arrays."""
    return _OF_LOGICAL.get(kind, Family.UNKNOWN)
