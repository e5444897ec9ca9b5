"""What reports need of a draft: they draw what was drafted, and never draft."""

from collections.abc import Sequence
from typing import Protocol

from hullsound.assess.model import Outcome
from hullsound.catalog.model import Object
from hullsound.sql.edit import Edit


class Drafted(Protocol):
    """One object with its draft."""

    @property
    def object(self) -> Object: ...

    @property
    def outcome(self) -> Outcome: ...

    @property
    def text(self) -> str: ...

    @property
    def edits(self) -> Sequence[Edit]: ...

    @property
    def is_finished(self) -> bool: ...

    @property
    def is_promised(self) -> bool: ...


class DraftedSet(Protocol):
    """The drafts of a catalogue, in creation order."""

    @property
    def drafts(self) -> Sequence[Drafted]: ...
