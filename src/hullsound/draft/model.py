"""What drafting makes: the target text of each object, and of a whole catalogue."""

from dataclasses import dataclass, field
from typing import Final

from hullsound.assess.model import PROMISED, Outcome
from hullsound.catalog.model import Object, ObjectType
from hullsound.sql.edit import Edit

_UNCHANGED: Final = frozenset(("draft.heading", "draft.name"))
"""What is written anew in every draft: how the object is headed, and how names are spelled."""


@dataclass(slots=True)
class Draft:
    """The target text of one object."""

    object: Object
    outcome: Outcome
    stage: str
    text: str
    """'' where not even a stand-in can be written."""
    is_finished: bool
    """False for a stand-in that only lets others be created."""
    edits: list[Edit] = field(default_factory=list)
    skipped: list[tuple[str, int, str]] = field(default_factory=list)
    """(construct, source line, reason)"""
    written: list[tuple[str, int]] = field(default_factory=list)
    """Every construct in whose name something was written, with the line of its first place."""
    open_types: str = ""
    """What decides the text and was not surveyed: types of columns."""
    is_own: bool = False
    """Whether a person wrote the text."""

    @property
    def is_in_table(self) -> bool:
        """Whether its text stands in that of its table, as between kin."""
        return self.is_finished and bool(self.object.table) and not self.text

    @property
    def is_promised(self) -> bool:
        return self.outcome in PROMISED

    def conversions(self) -> list[tuple[str, int, str]]:
        """Return (construct, line, detail) of conversions, or that the text is spelled otherwise where it was to cross as it is."""
        found = [(construct, line, "") for construct, line in self.written if construct.startswith("convert.")]
        if self.open_types:
            found.append(("draft.needs-table", self.object.line, self.open_types))
        if found or self.outcome is not Outcome.AS_IS:
            return found
        changed = [line for construct, line in self.written if construct not in _UNCHANGED]
        return [("draft.respelled", min(changed), "")] if changed else []


@dataclass(slots=True)
class DraftSet:
    """All drafts of a catalogue for one target, in creation order."""

    drafts: list[Draft]
    schemas: list[str]
    ignores_case: bool = False
    """Whether columns use a collation without case, which comes before them."""
    database_options: str = ""
    """What CREATE DATABASE says of character set and collation, where a schema is a database."""
    has_stand_ins: bool = False
    """Whether what a person must write has its stand-ins already, which judging does not need."""

    @property
    def has_bare_tables(self) -> bool:
        """Whether some tables have no schema, so that names without one are theirs first."""
        return any(each.object.type is ObjectType.TABLE and not each.object.schema for each in self.drafts)

    @property
    def default_schema(self) -> str:
        """The one schema in which names without one are looked up; '' where there are several, or tables without one."""
        return self.schemas[0] if len(self.schemas) == 1 and not self.has_bare_tables else ""

    def skipped(self) -> list[tuple[str, int, str]]:
        """Return what was promised but could not be drafted: (object, line, reason)."""
        return [(d.object.id, line, reason) for d in self.drafts if d.is_promised for _, line, reason in d.skipped]

    def converted(self) -> list[tuple[str, int, str, str]]:
        """Return what finished drafts changed beside what constructs ask for: (object, line, construct, detail)."""
        finished = [d for d in self.drafts if d.is_promised and d.is_finished]
        return [(d.object.id, line, construct, detail) for d in finished for construct, line, detail in d.conversions()]
