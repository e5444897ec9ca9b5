"""The estate as one document: members, what they share, what ties them together, and the whole."""

from datetime import date

import msgspec

from hullsound.settings import Assumption

from .model import ServerFinding, TargetResult

SCHEMA_NAME = "hullsound.estate/1"


class MemberRow(msgspec.Struct, frozen=True):
    """One member that was judged."""

    name: str
    source: str
    """Without a password."""
    owner: str
    group: str
    end_of_support: date | None
    engine: str
    version: str
    objects: int
    lines: int
    unread_lines: int
    tables: int
    bytes: int
    result: TargetResult
    """What the first target says; `others` holds the rest."""
    others: dict[str, TargetResult]
    clone_of: str
    """The member that stands for its clones; '' where it is none, or stands for others."""
    wave: int


class Failure(msgspec.Struct, frozen=True):
    """One member that could not be judged."""

    name: str
    source: str
    owner: str
    reason: str


class SharedBlocker(msgspec.Struct, frozen=True):
    """A construct that blocks members: mended once, it is mended for all."""

    construct: str
    title: str
    places: int
    members: list[str]
    """Clones are counted by the member that stands for them."""


class EstateWave(msgspec.Struct, frozen=True):
    number: int
    """From 1; the first is the pilot."""
    members: list[str]
    hours: float
    """Their shares of the P50 hours of the estate."""
    blocked: list[str]
    """Members that something blocks."""


class Totals(msgspec.Struct, frozen=True):
    members: int
    judged: int
    failed: int
    clones: int
    """Members that are clones of another."""
    objects: int
    lines: int
    bytes: int
    blocked: int
    """Members that something blocks."""
    p50: float
    """Hours of the estate, clones at their share; a construct misjudged in one member is misjudged in all."""
    p80: float


class Estate(msgspec.Struct, frozen=True):
    """All databases in one view."""

    schema: str
    targets: list[str]
    totals: Totals
    members: list[MemberRow]
    """Those that nothing blocks first, then by readiness."""
    failures: list[Failure]
    blockers: list[SharedBlocker]
    """Those of most members first."""
    clones: list[list[str]]
    """Groups; the first of each stands for it."""
    clusters: list[list[str]]
    """Groups that names tie together, so that they must move together."""
    servers: dict[str, list[ServerFinding]]
    """Findings of servers, each once, by host."""
    waves: list[EstateWave]
    assumptions: list[Assumption]
