"""What a trial tells, and what all trials share."""

import re
from collections.abc import Callable
from typing import Final

import msgspec

from hullsound.catalog.model import ObjectType
from hullsound.draft.model import Draft, DraftSet
from hullsound.sql.edit import source_offset
from hullsound.sql.positions import Positions

Progress = Callable[[str, int, int], None]
_HOST_VARIABLE: Final = re.compile(r"'[^']*(?:''[^']*)*'|(?<!:):[A-Za-z0-9_]+|(?<![\w?])\?(?![\w?|&-])")
NOT_RUN: Final = frozenset((ObjectType.QUERY, ObjectType.CHANGE, ObjectType.BLOCK))
"""Types that the trial checks without running them: they would read or change rows."""


class TrialResult(msgspec.Struct, frozen=True):
    """What the engine said to one draft."""

    id: str
    promised: bool
    accepted: bool
    message: str
    """The engine's own words; '' where it accepted."""
    line: int
    """The source line that the message points at; 0 for none."""
    milliseconds: float
    not_tried: str = ""
    """Why the server could not try it, such as a language that it lacks; '' where it was tried."""


class Trial(msgspec.Struct, frozen=True):
    """What a real engine said to all drafts."""

    target: str
    engine: str
    """Name and version, as the server gives them."""
    results: list[TrialResult]

    def refused(self) -> list[TrialResult]:
        """Return the promised drafts that were not accepted."""
        return [each for each in self.results if each.promised and not each.accepted and not each.not_tried]

    def untried(self) -> list[TrialResult]:
        """Return the promised drafts that this server cannot try."""
        return [each for each in self.results if each.promised and each.not_tried]

    def accepted(self) -> set[str]:
        return {result.id for result in self.results if result.promised and result.accepted}


def not_finished(draft: Draft) -> TrialResult:
    """Return the result of a draft that has no text."""
    reason = draft.skipped[0][2] if draft.skipped else "no draft"
    return TrialResult(draft.object.id, draft.is_promised, False, reason, draft.object.line, 0.0)


def with_tables(drafts: DraftSet, results: list[TrialResult]) -> list[TrialResult]:
    """Give what stands in the text of its table the result of the table."""
    by_id = {result.id: result for result in results}
    settled = []
    for draft, result in zip(drafts.drafts, results, strict=True):
        table = by_id.get(draft.object.table) if draft.is_in_table else None
        if table is not None:
            message = "" if table.accepted else f"its table was refused: {table.message}"
            result = msgspec.structs.replace(result, accepted=table.accepted, message=message)
        settled.append(result)
    return settled


def null_for_variables(text: str) -> str:
    """Put NULL, padded so that offsets stay, for host variables; literals stay."""
    return _HOST_VARIABLE.sub(lambda m: m[0] if m[0].startswith("'") else "NULL".ljust(len(m[0])), text)


def line_at(draft: Draft, offset: int) -> int:
    """Return the line of the source file that a place in a draft comes from."""
    item = draft.object
    if offset < 0 or (not draft.edits and draft.text != item.text):
        return item.line
    return Positions(item.text, item.line).line(min(source_offset(draft.edits, offset), len(item.text)))
