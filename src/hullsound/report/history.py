"""How the assessments of one source for one target went on: what each came to, as far as it differs from the one before."""

from collections.abc import Iterable
from typing import Final

import msgspec

from .document import Document, Effort, Readiness

_MOST: Final = 12
"""Assessments that are shown; the earliest of more are left out."""


class Milestone(msgspec.Struct, frozen=True):
    """What one assessment came to."""

    made_at: str
    """Day and time in ISO form; '' for the one at hand, which is not kept yet."""
    objects: int
    by_outcome: dict[str, int]
    readiness: Readiness
    effort_hours: Effort

    @property
    def day(self) -> str:
        return self.made_at[:10] or "now"


class _Summary(msgspec.Struct):
    objects: int
    by_outcome: dict[str, int]
    readiness: Readiness
    effort_hours: Effort


class _Past(msgspec.Struct):
    """What is read of an assessment that was kept: its summary alone."""

    summary: _Summary


def history_of(kept: Iterable[tuple[str, bytes]], document: Document) -> list[Milestone]:
    """Return the milestones up to the document at hand, the earliest first; [] where nothing has changed yet.

    `kept` are the times and texts (JSON) of the assessments for the same target; one that an earlier form of the document
    holds, and that cannot be read any more, is passed over.
    """
    found: list[Milestone] = []
    for time, text in kept:
        try:
            found.append(_milestone(time, msgspec.json.decode(text, type=_Past).summary))
        except (msgspec.ValidationError, msgspec.DecodeError):
            continue
    summary = document.summary
    now = _Summary(summary.objects, summary.by_outcome, summary.readiness, summary.effort_hours)
    found.append(_milestone("", now))
    changed = [each for place, each in enumerate(found) if not place or _facts(each) != _facts(found[place - 1])]
    return changed[-_MOST:] if len(changed) > 1 else []


def _milestone(made_at: str, summary: _Summary) -> Milestone:
    return Milestone(made_at, summary.objects, summary.by_outcome, summary.readiness, summary.effort_hours)


def _facts(milestone: Milestone) -> tuple[object, ...]:
    return milestone.objects, milestone.by_outcome, milestone.effort_hours
