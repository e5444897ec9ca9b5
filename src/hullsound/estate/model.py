"""Members of an estate, and what each of them came to."""

from datetime import date

import msgspec


class Member(msgspec.Struct, frozen=True):
    """One database of an estate, as it is listed."""

    name: str
    source: str
    """Path of scripts, a hull file, a kit or a dictionary, or the address of a running server."""
    engine: str = ""
    """Empty where the source tells it."""
    version: str = ""
    owner: str = ""
    group: str = ""
    end_of_support: date | None = None


class TargetResult(msgspec.Struct, frozen=True):
    """What one target says to one member."""

    objects_ready: float
    """Share of objects with outcome as-is or drafted, 0 to 1."""
    lines_ready: float
    by_outcome: dict[str, int]
    blockers: dict[str, int]
    """Places by construct that blocks and that nobody has accepted."""
    warnings: int
    p50: float
    """Hours that suffice in 50 of 100 cases."""
    p80: float
    minutes: dict[str, tuple[float, float, float]]
    """Low, likely and high minutes by what they belong to: what sums over the estate are drawn from."""
    hosting: str
    """The hosting that takes most work off one's hands and blocks nothing; '' where each blocks something."""
    blockers_by_hosting: dict[str, int]


class ServerFinding(msgspec.Struct, frozen=True):
    """A finding at the level of a server, which all its databases share."""

    construct: str
    severity: str
    message: str
    remedy: str


class MemberResult(msgspec.Struct, frozen=True):
    """What one member came to: judged, or failed with its reason."""

    name: str
    mark: str
    """What tells whether it holds still: source, tool, decisions and targets; '' for a member that failed."""
    reason: str = ""
    """Why it failed; '' for one that was judged."""
    engine: str = ""
    version: str = ""
    surveyed_at: str = ""
    objects: int = 0
    lines: int = 0
    unread_lines: int = 0
    tables: int = 0
    bytes: int = 0
    """Of its tables with their indexes, where the survey tells."""
    server: str = ""
    """Host of a running server; '' for other sources."""
    targets: dict[str, TargetResult] = {}
    code_marks: tuple[int, ...] = ()
    """Sorted 63-bit marks of its objects' texts, free of schema names, case and layout: clones share them."""
    offers: tuple[str, ...] = ()
    """Names by which others may mean it, in lower case: its own and its schemas'."""
    links: tuple[str, ...] = ()
    """Qualifiers of names that lead out of it, in lower case."""
    server_findings: tuple[ServerFinding, ...] = ()
    seconds: float = 0.0

    @property
    def is_judged(self) -> bool:
        return not self.reason
