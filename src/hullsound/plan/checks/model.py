"""What checks consist of: paired queries, what their results must say, and what is expected to differ."""

from enum import StrEnum

import msgspec

SCHEMA_NAME = "hullsound.checks/1"


class Level(StrEnum):
    """How closely both sides are compared; each level asks what the levels before it ask as well."""

    QUICK = "quick"
    """Rows, the highest key, and whether sequences are beyond it."""
    STANDARD = "standard"
    """Each column: values that are not NULL, least, greatest, sum, length of all texts."""
    FULL = "full"
    """A sum of digests of all rows, in any order."""


class Rule(StrEnum):
    """What must hold of one field on both sides."""

    EQUAL = "equal"
    BEYOND = "beyond"
    """The target's own two fields: the next number of a sequence, and the highest that is used."""


class Field(msgspec.Struct, frozen=True):
    """One field of a result."""

    measure: str
    """rows, highest key, next number, not null, least, greatest, sum, length, or digest."""
    column: str = ""


class Check(msgspec.Struct, frozen=True):
    """Two queries whose single rows must say the same, field by field."""

    id: str
    level: Level
    table: str
    """Id of the table."""
    source: str
    """Query on the source; '' where only the target is asked."""
    target: str
    fields: list[Field]
    rule: Rule = Rule.EQUAL


class Sample(msgspec.Struct, frozen=True):
    """Two queries that return a key and a digest for each row of a sample; the rows must be the same."""

    id: str
    table: str
    source: str
    target: str
    key: list[str]
    """Columns of the key; empty where the digest of the row is its own key."""
    reason: str
    """Why these rows: a share of all, or what a profile of the values found."""


class Expected(msgspec.Struct, frozen=True):
    """A difference that the chosen types bring with them: it is stated, and not compared."""

    table: str
    column: str
    difference: str


class CheckSet(msgspec.Struct, frozen=True):
    """All checks of a move."""

    schema: str
    source: str
    source_engine: str
    target: str
    checks: list[Check]
    samples: list[Sample]
    expected: list[Expected]
    left_out: list[Expected]
    """Tables and columns that cannot be compared, and why."""
    source_setup: str
    """Statement before the queries on the source; '' for none."""
    target_setup: str
    minutes: dict[str, float]
    """How long each level takes, in the middle, where sizes are known."""
