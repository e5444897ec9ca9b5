"""A source engine and a target together: how much of the text may stay, and what is drafted."""

from typing import Final

from hullsound.catalog.model import ObjectType
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.targets import load_target

_EVERYWHERE: Final = frozenset((
    ObjectType.TABLE, ObjectType.CONSTRAINT, ObjectType.INDEX, ObjectType.VIEW, ObjectType.SEQUENCE, ObjectType.SYNONYM,
    ObjectType.PROCEDURE, ObjectType.FUNCTION, ObjectType.TRIGGER, ObjectType.GRANT, ObjectType.QUERY, ObjectType.CHANGE,
    ObjectType.DATA, ObjectType.BLOCK, ObjectType.SCHEMA,
))  # fmt: skip
"""Types of objects that every target has in some form."""


class Pair:
    """What follows from the pair alone, whatever an object holds."""

    def __init__(self, engine: str, target: Target) -> None:
        row = load_target(target.engine)
        self.is_kin = engine == target.engine or engine in row.kin
        """Whether code runs as it is unless a finding says otherwise: its draft is its own text with a few edits."""
        self.has_drafts = self.is_kin or engine in row.draft_sources
        self.expected = (
            frozenset(row.drafts) if engine in row.draft_sources else frozenset(t.value for t in _EVERYWHERE)
        )
        """Types of objects that need no word of their own."""
