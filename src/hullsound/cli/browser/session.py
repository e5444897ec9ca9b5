"""What one sitting of `browse` works on: the kept assessment of a hull file, what of it is shown, and what is decided."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path
from typing import Final

from hullsound import steps
from hullsound.assess.model import Finding
from hullsound.catalog.judgements import read_actuals
from hullsound.errors import UsageError
from hullsound.project import FILE_NAME, AcceptEntry, Project, read_project
from hullsound.report.document import Document, ObjectEntry
from hullsound.report.look import Look

OUTCOMES: Final = ("", "blocked", "rewrite", "confirm", "drafted", "as-is")
"""What the worklist can be narrowed to, in the order in which a key goes through them; '' for all."""


@dataclass
class Session:
    """A hull file, a target and the folder whose project file decides."""

    hull: Path
    target: str
    folder: Path
    project: Project = field(default_factory=Project)
    document: Document | None = None
    done: dict[str, float] = field(default_factory=dict)
    """Hours of the objects whose work is done."""
    wanted: str = ""
    """Text that the id, type, file or reason of an object must hold."""
    outcome: str = ""

    def load(self, progress: Callable[[str, int, int], None] = steps.no_progress) -> None:
        """Read the project file again and judge anew what it changes."""
        self.project = read_project(self.folder / FILE_NAME)
        self.document = steps.document_of(self.hull, self.target, self.project, progress)
        self.done = {each.object: each.hours for each in read_actuals(self.hull) if each.done}

    def objects(self) -> list[ObjectEntry]:
        """Return the objects that are wanted, in the order to work in."""
        if self.document is None:
            return []
        wanted = self.wanted.lower().split()
        return [each for each in self.document.objects if self._fits(each, wanted)]

    def _fits(self, entry: ObjectEntry, wanted: list[str]) -> bool:
        if self.outcome and entry.outcome.value != self.outcome:
            return False
        text = f"{entry.id} {entry.type} {entry.file} {entry.reason}".lower()
        return all(word in text for word in wanted)

    def next_outcome(self) -> None:
        self.outcome = OUTCOMES[(OUTCOMES.index(self.outcome) + 1) % len(OUTCOMES)]

    def look(self, object_id: str) -> Look:
        return steps.look_of(self.hull, self.target, self.project, object_id)

    def summary(self) -> str:
        """Say how many objects are shown, and by what they are narrowed."""
        shown, count = len(self.objects()), len(self.document.objects) if self.document is not None else 0
        narrowed = [f"outcome {self.outcome}"] if self.outcome else []
        narrowed += [f"text {self.wanted!r}"] if self.wanted.strip() else []
        tail = f", {' and '.join(narrowed)}" if narrowed else ""
        return f"{shown} of {count} objects{tail}; {len(self.done)} done"

    def accept(self, finding: Finding, reason: str, owner: str, until: str, *, everywhere: bool) -> Path:
        """Write that a finding may stay, of its object or of all, and judge anew. Raises UsageError for what is not clear."""
        try:
            day = date.fromisoformat(until.strip()) if until.strip() else None
        except ValueError as error:
            raise UsageError(
                f"no day: {until.strip()[:20]!r}", hint="Write it as 2027-03-31, or leave it empty."
            ) from error
        pattern = "*" if everywhere else finding.object
        path = steps.accept_finding(
            self.folder, AcceptEntry(finding.construct, reason.strip(), owner.strip(), pattern, day)
        )
        self.load()
        return path

    def mark_done(self, object_id: str, hours: str) -> float:
        """Record that an object is done. Raises UsageError for hours that are no number."""
        try:
            spent = float(hours.strip().replace(",", "."))
        except ValueError as error:
            raise UsageError(
                f"no number of hours: {hours.strip()[:20]!r}", hint="Write 1.5 for an hour and a half."
            ) from error
        steps.mark_done(self.hull, object_id, spent)
        self.done[object_id] = spent
        return spent
