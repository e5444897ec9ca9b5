"""What an assessment consists of."""

from enum import StrEnum

import msgspec

from hullsound.catalog.model import Object
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.model import Severity, Way
from hullsound.project import Project

from .hours import Minutes, Total


class Outcome(StrEnum):
    """What becomes of an object, from best to worst."""

    AS_IS = "as-is"
    DRAFTED = "drafted"
    CONFIRM = "confirm"
    REWRITE = "rewrite"
    BLOCKED = "blocked"


PROMISED = frozenset((Outcome.AS_IS, Outcome.DRAFTED, Outcome.CONFIRM))
"""Outcomes for which a draft exists that the target accepts."""
READY = frozenset((Outcome.AS_IS, Outcome.DRAFTED))
"""Outcomes that need no person."""
WORST_FIRST = tuple(reversed(Outcome))


class Acceptance(msgspec.Struct, frozen=True):
    """Who decided that a finding may stay, and why."""

    reason: str
    owner: str
    until: str
    """Last day on which it holds, YYYY-MM-DD; empty for ever."""


class Finding(msgspec.Struct, frozen=True, omit_defaults=True):
    """A sighting judged by a target, or a remark of Hull Sound's own."""

    construct: str
    """Id of the construct."""
    severity: Severity
    """blocker: stops the move; warning: works only after or with a change; note: worth knowing."""
    way: Way
    """How the construct crosses: same, later, draft, confirm, rewrite or none."""
    object: str
    """Id of the object, or `server` or `database`."""
    file: str
    line: int
    """Counted from 1, as are columns; 0 where a finding has no place in the source."""
    column: int
    end_line: int
    end_column: int
    excerpt: str
    """The source text, on one line."""
    message: str
    """What it is and why it matters."""
    remedy: str
    """What to do on this target."""
    effort_minutes: Minutes
    """Low, likely and high estimate for this place alone."""
    accepted: Acceptance | None = None
    """Set where hullsound.toml accepts the finding: it stays visible, and out of the exit status."""

    def place(self) -> tuple[str, int, int, str]:
        """Return what findings of an object are sorted by."""
        return self.file, self.line, self.column, self.construct


class Judged(msgspec.Struct):
    """One object with all that was found in it."""

    object: Object
    outcome: Outcome
    findings: list[Finding]
    effort: Minutes = (0.0, 0.0, 0.0)
    dependents: int = 0
    rank: int = 0
    reason: str = ""


class CaseEvidence(msgspec.Struct, frozen=True):
    """What a comparison of source and draft found for one case."""

    name: str
    is_equal: bool
    difference: str
    """Where both differ; '' where they agree."""


class Evidence(msgspec.Struct):
    """What earlier runs of draft and trial found out for one target."""

    skipped: list[tuple[str, int, str]] = []
    """What could not be drafted after all: (object, line, reason)"""
    converted: list[tuple[str, int, str, str]] = []
    """What drafts changed beside what constructs ask for: (object, line, construct, detail)"""
    refused: list[tuple[str, int, str]] = []
    """(object, line, message of the engine)"""
    accepted: set[str] = set()
    engine: str = ""
    """Name and version of the engine of the trial; '' if there was none."""
    cases: dict[str, list[CaseEvidence]] = {}
    """By id of the object that they tell of; '' for queries of their own."""

    def case_counts(self, object_id: str) -> tuple[int, int]:
        """Return how many cases tell of an object, and in how many of them its draft behaves as the source."""
        told = self.cases.get(object_id, [])
        return len(told), sum(case.is_equal for case in told)


class Assessment(msgspec.Struct):
    """The judgement of a whole source against one target."""

    target: Target
    objects: list[Judged]
    """In the order to work in."""
    general: list[Finding]
    """Findings that belong to the server or the database."""
    effort: Total
    """Minutes of the whole, from which its hours are drawn."""
    evidence: Evidence = msgspec.field(default_factory=Evidence)
    project: Project = Project()

    def findings(self) -> list[Finding]:
        """Return all findings: those of server and database, then worst objects first, by file and line."""
        return [*self.general, *(f for each in self.objects for f in sorted(each.findings, key=Finding.place))]
